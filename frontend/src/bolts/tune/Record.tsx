import { Box, Flex, Input, NativeSelect, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { problemText } from '../../api/hooks'
import { type Comparison, type HistoryItem, setFromFile, type SourceIn, useComparison, useControllerKinds, useFirmware, useLink, useLinkCall, useSettingsHistory } from '../../api/link'
import { at } from '../../lib/path'
import { show } from '../../lib/units'
import { Act, Trouble } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { FilePick } from '../../ui/FilePick'
import { NamePick } from '../../ui/NamePick'
import { Rows } from '../../ui/Rows'
import { Tick } from '../../ui/Tick'
import { Differences, Verdict, WriteFrom } from './Sets'
import { NumberField, useNumber } from '../../ui/NumberField'
import { minute } from '../../lib/when'

/** What was read and written, when, why, and the runs made in between; a file beside the build; firmware. */
export function Record() {
  const { bench, prefs } = useWorkshop()
  const items = useSettingsHistory(bench.id)
  const call = useLinkCall()
  const [file, setFile] = useState<Comparison | null>(null)
  const [problem, setProblem] = useState('')
  const [firmware, setFirmware] = useState(false)
  const [given, setGiven] = useState<SourceIn | null>(null)
  const [into, setInto] = useState(false)
  const kinds = useControllerKinds().data ?? []
  const [kind, setKind] = useState('')
  const [picked, setPicked] = useState<File | null>(null)
  const look = (f: File, of: string) => {
    setProblem('')
    setInto(false)
    setPicked(f)
    setKind(of)
    Promise.all([setFromFile(bench.id, f, of), f.text()])
      .then(([found, text]) => {
        setFile(found)
        setGiven({ kind: 'file', name: f.name, text })
      })
      .catch((e: Error) => {
        setFile(null)
        setProblem(problemText(e))
      })
  }
  const [back, setBack] = useState('')
  return (
    <Flex direction="column" gap="3" py="3">
      <Flex gap="2" wrap="wrap" align="center">
        <FilePick label="Compare a file" name="Parameter set to compare" reads="parameters" pick={(f) => look(f, '')} />
        {picked && kinds.length > 1 && (
          <Flex gap="2" align="center">
            {picked.name} is of{' '}
            <NamePick label="Controller that the file is of" none="what the file says" rows={kinds.map((k) => ({ id: k.key, name: k.name }))} value={kind} pick={(of) => look(picked, of)} w="field" />
          </Flex>
        )}
        <Act aria-pressed={firmware} onClick={() => setFirmware(!firmware)}>
          Before a new firmware
        </Act>
      </Flex>
      {problem && <Trouble text={problem} />}
      {file && (
        <Box>
          <Flex gap="2" align="center">
            <Text fontWeight="600" flex="1">
              {file.second} beside this build&apos;s set
            </Text>
            <Act aria-pressed={into} onClick={() => setInto(!into)}>
              Write it into the controller …
            </Act>
            <Act onClick={() => (setFile(null), setPicked(null))}>Close</Act>
          </Flex>
          {file.belongs && <Trouble text={file.belongs} />}
          {file.kept.length > 0 && <Text>{file.kept.length} objects in it are of another controller; they are kept in the file, and not written.</Text>}
          <Verdict judged={file.seconds} whose={file.second} />
          <Differences found={file} prefs={prefs} heads={['in this build’s set', 'in the file']} />
          {into && given && <WriteFrom source={given} words={given.name} label="Write a file" call={call} close={() => setInto(false)} />}
        </Box>
      )}
      <Two ids={items.data?.filter((i) => i.kind === 'read') ?? []} />
      {firmware && <Firmware />}
      {back && (
        <WriteFrom
          key={back}
          source={{ kind: 'reading', name: back, text: '' }}
          words="an earlier reading"
          label="Write an earlier reading back"
          call={call}
          close={() => setBack('')}
        />
      )}
      {call.error && <Trouble text={problemText(call.error)} />}
      {call.data && <Text role="status">{call.data.words}</Text>}
      {items.data?.length === 0 && <Text>Nothing was read or written yet. The first read keeps what the controller came with.</Text>}
      {items.data && items.data.length > 0 && (
        <Rows
          label="Read and written"
          heads={['when', 'what', 'serial', 'values', 'what changed', 'runs after it', '']}
          left={[0, 1, 4, 5, 6]}
          rows={items.data.map((i) => [
            minute(i.at),
            `${i.kind === 'read' ? 'read' : i.state}: ${i.why}`,
            String(i.serial),
            String(i.count),
            <Text key="w" as="span" fontSize="small" display="block" maxW="column">
              {i.sentences.slice(0, 4).join('; ')}
              {i.sentences.length > 4 ? ` and ${i.sentences.length - 4} more` : ''}
            </Text>,
            i.runs.length ? `${i.runs.length}${i.best_s ? `, best ${show(i.best_s, 's', prefs).text}` : ''}` : '–',
            i.kind === 'read' ? (
              <Act key="b" onClick={() => setBack(i.id)} aria-pressed={back === i.id}>
                Write back …
              </Act>
            ) : (
              ''
            ),
          ])}
        />
      )}
    </Flex>
  )
}

/** Any two sets against each other: this build's, a profile's, the controller's, an earlier reading. */
function Two({ ids }: { ids: HistoryItem[] }) {
  const { bench, prefs } = useWorkshop()
  const connected = useLink().data?.connected
  const profiles = (at(bench.doc, 'tune.profiles') as { name: string }[] | undefined) ?? []
  const sources: [string, string, SourceIn][] = [
    ['own', "this build's set", { kind: 'set', name: '', text: '' }],
    ...profiles.map((p): [string, string, SourceIn] => [`p:${p.name}`, p.name, { kind: 'set', name: p.name, text: '' }]),
    ...(connected ? [['now', 'the controller now', { kind: 'controller', name: '', text: '' }] as [string, string, SourceIn]] : []),
    ...ids.map((i): [string, string, SourceIn] => [i.id, `read ${minute(i.at)}`, { kind: 'reading', name: i.id, text: '' }]),
  ]
  const [first, setFirst] = useState('')
  const [second, setSecond] = useState('own')
  const of = (key: string) => sources.find((s) => s[0] === key)?.[2] ?? null
  const found = useComparison(bench.id, `${bench.version}:${first}:${second}`, of(first), of(second) ?? sources[0]![2])
  const pick = (label: string, value: string, set: (v: string) => void) => (
    <Text as="label">
      {label}{' '}
      <NativeSelect.Root w="field" display="inline-block">
        <NativeSelect.Field aria-label={label} value={value} onChange={(e) => set(e.target.value)}>
          <option value="">choose</option>
          {sources.map(([key, words]) => (
            <option key={key} value={key}>
              {words}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    </Text>
  )
  return (
    <Box>
      <Flex gap="3" wrap="wrap" align="center">
        {pick('Compare', first, setFirst)}
        {pick('with', second, setSecond)}
      </Flex>
      {found.error && <Trouble text={problemText(found.error)} />}
      {first && found.data && (
        <>
          <Verdict judged={found.data.firsts} whose={found.data.first} />
          <Verdict judged={found.data.seconds} whose={found.data.second} />
          <Differences found={found.data} prefs={prefs} heads={[found.data.first, found.data.second]} />
        </>
      )}
    </Box>
  )
}

const WORDS = { done: 'in place', open: 'open', stop: 'not so' }

/** What must be in place before a firmware is changed. */
function Firmware() {
  const { bench } = useWorkshop()
  const [wanted, setWanted] = useState('')
  const [hardware, setHardware] = useState('')
  const supplied = useNumber('v', 'V')
  const [said, setSaid] = useState({ media_checked: false, way_back: false, wheel_free: false, charger_off: false })
  const supply = supplied.si ?? undefined
  const told = Object.fromEntries(Object.entries(said).filter(([, v]) => v)) as Partial<typeof said>
  const list = useFirmware(bench.id, { wanted, image_hardware: hardware, ...told, ...(supply === undefined ? {} : { supply_v: supply }) })
  const tick = (key: keyof typeof said, label: string) => (
    <Tick checked={said[key]} set={(on) => setSaid({ ...said, [key]: on })}>
      {label}
    </Tick>
  )
  return (
    <Box borderWidth="hair" borderColor="rule" p="3">
      <Flex gap="3" wrap="wrap" align="end">
        <Text as="label">
          New version
          <Input display="block" w="figure" value={wanted} onChange={(e) => setWanted(e.target.value)} />
        </Text>
        <Text as="label">
          Image for hardware
          <Input display="block" w="figure" value={hardware} onChange={(e) => setHardware(e.target.value)} />
        </Text>
        <NumberField label="Supply, V" field={supplied} />
        {tick('media_checked', 'file read back')}
        {tick('way_back', 'old image at hand')}
        {tick('charger_off', 'charger off')}
        {tick('wheel_free', 'wheel free')}
      </Flex>
      {list.data && (
        <>
          <Text fontWeight="700" my="2" role="status" color={list.data.allowed ? 'ink' : 'stop'}>
            {list.data.allowed ? 'It may begin.' : 'Not yet.'}
          </Text>
          <Rows label="Before a new firmware" heads={['what', '', 'why']} left={[0, 1, 2]} rows={list.data.items.map((i) => [i.what, WORDS[i.state as keyof typeof WORDS], i.why])} />
        </>
      )}
    </Box>
  )
}
