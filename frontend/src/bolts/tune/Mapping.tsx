import { Box, Field, Flex, Input, NativeSelect, Text, Textarea } from '@chakra-ui/react'
import { useQueryClient } from '@tanstack/react-query'
import { memo, useCallback, useState } from 'react'
import { problemText } from '../../api/hooks'
import { keepKind, type Meaning, type ObjectOut, objectsOf, useMeanings } from '../../api/link'
import { plainNumber } from '../../lib/units'
import { Act, Trouble } from '../../ui/atoms'
import { FilePick } from '../../ui/FilePick'
import { Rows } from '../../ui/Rows'

interface Meant {
  meaning: string
  scale: string
  offset: string
}
const NONE: Meaning[] = []
const NEW: Meant = { meaning: '', scale: '1', offset: '0' }

const SETTING = 'a setting'
const RUNNING = 'shown while it runs'

type Put = (at: string, part: Partial<Meant>) => void

/** What an object means. Kept as it is while another one is changed: there are dozens, each with all meanings. */
const Means = memo(function Means(props: { at: string; name: string; value: string; meanings: Meaning[]; put: Put }) {
  return (
    <NativeSelect.Root w="pick">
      <NativeSelect.Field aria-label={`Meaning of ${props.name}, ${props.at}`} value={props.value} onChange={(e) => props.put(props.at, { meaning: e.target.value })}>
        <option value="">–</option>
        {[SETTING, RUNNING].map((runs) => (
          <optgroup key={runs} label={runs}>
            {props.meanings
              .filter((m) => m.name.startsWith('live.') === (runs === RUNNING))
              .map((m) => (
                <option key={m.name} value={m.name}>
                  {m.label}
                </option>
              ))}
          </optgroup>
        ))}
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  )
})

const Factor = memo(function Factor(props: { at: string; name: string; which: 'scale' | 'offset'; value: string; off: boolean; put: Put }) {
  return (
    <Input
      w="digits"
      inputMode="decimal"
      aria-label={`${props.which === 'scale' ? 'Scale' : 'Offset'} of ${props.name}, ${props.at}`}
      value={props.value}
      disabled={props.off}
      onChange={(e) => props.put(props.at, { [props.which]: e.target.value })}
    />
  )
})

/** Another controller's dictionary file: which of its objects means what, and by what scale. */
export function Mapping() {
  const client = useQueryClient()
  const meanings = useMeanings().data ?? NONE
  const [file, setFile] = useState<File | null>(null)
  const [objects, setObjects] = useState<ObjectOut[]>([])
  const [chosen, setChosen] = useState<Record<string, Meant>>({})
  const [codes, setCodes] = useState('')
  const [done, setDone] = useState('')
  const [problem, setProblem] = useState('')
  const put: Put = useCallback((at, part) => setChosen((all) => ({ ...all, [at]: { ...(all[at] ?? NEW), ...part } })), [])
  const take = (f: File) => {
    setProblem('')
    setDone('')
    objectsOf(f)
      .then((rows) => {
        setFile(f)
        setObjects(rows)
        setChosen(Object.fromEntries(rows.filter((o) => o.guess).map((o) => [o.at, { meaning: o.guess, scale: '', offset: '0' }])))
      })
      .catch((e: Error) => setProblem(problemText(e)))
  }
  const keep = () => {
    const places: Record<string, number[]> = {}
    const guessed = new Map(objects.map((o) => [o.at, o.guess]))
    let left = 0
    for (const [at, c] of Object.entries(chosen)) {
      const [index, sub] = at.replace('0x', '').split(':')
      const scale = plainNumber(c.scale)
      const offset = plainNumber(c.offset)
      if (!c.meaning) continue
      if (!c.scale && c.meaning === guessed.get(at)) {
        left += 1
        continue
      }
      // A scale that was guessed here would be written as amps.
      if (scale === null || scale === 0 || offset === null) return setProblem(`${at}: scale and offset are numbers, the scale not 0; got ${c.scale || 'nothing'}, ${c.offset || 'nothing'}. Nothing was kept.`)
      if (places[c.meaning]) return setProblem(`${at}: another object means ${meanings.find((m) => m.name === c.meaning)?.label ?? c.meaning} already; one of them does. Nothing was kept.`)
      places[c.meaning] = [parseInt(index!, 16), parseInt(sub!, 16), scale, offset]
    }
    setProblem('')
    keepKind(file!, file!.name.replace(/\.\w+$/, ''), places, codes)
      .then(() => {
        setFile(null)
        setDone(`Kept as ${file!.name.replace(/\.\w+$/, '')}, ${Object.keys(places).length} meanings.${left ? ` ${left} that were only guessed have no scale and were left out.` : ''}`)
        void client.invalidateQueries({ queryKey: ['link', 'profiles'] })
      })
      .catch((e: Error) => setProblem(problemText(e)))
  }
  return (
    <Box flex={file ? '1 1 100%' : undefined}>
      <FilePick label="Its dictionary file" name="Controller profile" reads="dictionary" pick={take} />
      {done && <Text role="status">{done}</Text>}
      {problem && <Trouble text={problem} />}
      {file && (
        <Box mt="2">
          <Text>
            {objects.length} objects. What has no meaning here stays readable; what has no readable limit is not written. Scale: what one step of the stored number is, such as 0.1 for tenths of an ampere. Offset: what is added after that, such as −40 for a temperature that is stored 40 higher. A meaning that was guessed by its name is kept once its scale is given.
          </Text>
          <Box maxH="panel" overflow="auto" mt="1">
            <Rows
              label="Objects of the controller"
              heads={['object', 'name', 'type, limits', 'means', 'scale', 'offset']}
              left={[0, 1, 2, 3, 4, 5]}
              rows={objects.map((o) => [
                o.at,
                o.name,
                `${o.type} ${o.access}, ${o.unread || (o.low === null && o.high === null ? 'limits of its type' : `${o.low ?? ''} … ${o.high ?? ''}`)}`,
                <Means key="m" at={o.at} name={o.name} value={chosen[o.at]?.meaning ?? ''} meanings={meanings} put={put} />,
                ...(['scale', 'offset'] as const).map((key) => <Factor key={key} at={o.at} name={o.name} which={key} value={chosen[o.at]?.[key] ?? ''} off={!chosen[o.at]?.meaning} put={put} />),
              ])}
            />
          </Box>
          <Text mt="2">Without a motor speed among them nobody here sees whether the wheel turns while it is written; without a fault code or a state, what it does is not shown.</Text>
          <Field.Root mt="1">
            <Field.Label>Its fault codes, from its papers</Field.Label>
            <Textarea rows={4} value={codes} onChange={(e) => setCodes(e.target.value)} placeholder="12; volts too low; 1; 2; the pack is empty | a plug of high resistance" />
            <Field.HelperText>A line each: number; what it says; long flashes; short flashes; causes in order with | between them. Left empty, its numbers are shown as they are.</Field.HelperText>
          </Field.Root>
          <Flex gap="2" mt="2">
            <Act tone="choice" onClick={keep}>
              Keep this kind of controller
            </Act>
            <Act onClick={() => setFile(null)}>Close</Act>
          </Flex>
        </Box>
      )}
    </Box>
  )
}
