import { Box, Flex, Input, NativeSelect, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { problemText, useLogs, useRegisters } from '../../api/hooks'
import { judgeFile, type SessionView, useSessionCall, useSessions, useTaps, type Verdict } from '../../api/prove'
import { stringAt } from '../../lib/path'
import { plainNumber } from '../../lib/units'
import { Act, Severity, Trouble } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { FilePick } from '../../ui/FilePick'
import { NamePick } from '../../ui/NamePick'
import { Rows } from '../../ui/Rows'

/** Setups against each other: planned, ridden, judged; the book over all sessions. */
export function Sessions() {
  const { bench } = useWorkshop()
  const book = useSessions(bench.id)
  const [open, setOpen] = useState('')
  const [verdict, setVerdict] = useState<Verdict | null>(null)
  const [problem, setProblem] = useState('')
  const here = book.data?.find((s) => s.id === open) ?? book.data?.[0]
  return (
    <Flex direction="column" gap="3" py="3">
      <Plan />
      <Flex gap="2" wrap="wrap" align="center">
        {book.data?.map((s) => (
          <Act key={s.id} aria-pressed={s.id === here?.id} bg={s.id === here?.id ? 'choice-wash' : 'sheet'} onClick={() => setOpen(s.id)}>
            {s.name} <Text as="span" color="ink-soft">{s.at.slice(0, 10)}</Text>
          </Act>
        ))}
        <FilePick
          label="Judge a file of trials"
          name="Trials file"
          reads="trials"
          pick={(f) => {
            setProblem('')
            judgeFile(bench.id, f)
              .then(setVerdict)
              .catch((e: Error) => setProblem(problemText(e)))
          }}
        />
      </Flex>
      {problem && <Trouble text={problem} />}
      {verdict && <Shown v={verdict} />}
      {here && <One key={here.id} s={here} />}
    </Flex>
  )
}

function Plan() {
  const { bench } = useWorkshop()
  const call = useSessionCall(bench.id)
  const [name, setName] = useState('')
  const protocols = useRegisters().data?.protocols ?? []
  const [own, setProtocol] = useState('')
  const protocol = own || (protocols[0] ?? '')
  const [setups, setSetups] = useState('')
  const [trials, setTrials] = useState('5')
  const [spread, setSpread] = useState('0.1')
  const [gap, setGap] = useState('0.2')
  const names = setups.split(';').map((s) => s.trim()).filter(Boolean)
  const go = () => call.mutate({ do: 'plan', name, protocol, setups: names, trials: plainNumber(trials) ?? 0, spread: plainNumber(spread) ?? 0, gap: plainNumber(gap) ?? 0 })
  const field = (label: string, value: string, set: (v: string) => void, w: string) => (
    <Text as="label">
      {label}
      <Input display="block" w={w} value={value} onChange={(e) => set(e.target.value)} />
    </Text>
  )
  return (
    <Box>
      <Flex gap="2" wrap="wrap" align="end">
        {field('Setups, ; between them', setups, setSetups, '210px')}
        <Text as="label">
          Protocol
          <NativeSelect.Root w="220px">
            <NativeSelect.Field value={protocol} onChange={(e) => setProtocol(e.target.value)}>
              {protocols.map((p) => (
                <option key={p}>{p}</option>
              ))}
            </NativeSelect.Field>
            <NativeSelect.Indicator />
          </NativeSelect.Root>
        </Text>
        {field('Trials of each', trials, setTrials, '90px')}
        {field('Usual spread', spread, setSpread, '100px')}
        {field('Gap to be seen', gap, setGap, '100px')}
        {field('Called', name, setName, '130px')}
        <Act tone="choice" disabled={names.length < 2 || call.isPending} onClick={go}>
          Plan it
        </Act>
      </Flex>
      {call.error && <Trouble text={problemText(call.error)} />}
    </Box>
  )
}

/** A session at the strip: whose turn it is, a big field for the value, and what it shows so far. */
function One({ s }: { s: SessionView }) {
  const { bench } = useWorkshop()
  const call = useSessionCall(bench.id)
  const taps = useTaps(bench.id)
  const [value, setValue] = useState('')
  const [soc, setSoc] = useState('')
  const [mass, setMass] = useState('')
  const [wind, setWind] = useState('')
  const [note, setNote] = useState('')
  const [log, setLog] = useState('')
  const logs = useLogs(bench.id, stringAt(bench.doc, 'prove.log_id')).data ?? []
  const turn = s.plan?.order[s.trials.filter((t) => !t.discarded).length] ?? s.setups[0]!
  const [own, setOwn] = useState('')
  const setup = own || turn
  const take = () => {
    const pct = plainNumber(soc)
    taps.take({ session: s.id, setup, value: plainNumber(value)!, soc: pct === null ? null : pct / 100, mass_kg: plainNumber(mass), wind_m_s: plainNumber(wind), note, log_id: log })
    setValue('')
    setLog('')
    setNote('')
    setOwn('')
  }
  return (
    <Box>
      {s.plan && (
        <>
          <Text fontWeight="600">{s.plan.sentence}</Text>
          <Text color="ink-soft">Order: {s.plan.order.join(', ')}</Text>
          <Box as="ul" pl="5" listStyleType="disc" fontSize="14px">
            {[...s.plan.rules, ...s.plan.ballast].map((r) => (
              <Text as="li" key={r}>
                {r}
              </Text>
            ))}
          </Box>
        </>
      )}
      <Box bg="sheet" borderWidth="1px" borderColor="choice" p="3" mt="3">
        <Flex gap="2" wrap="wrap" role="group" aria-label="Setup of this run">
          {s.setups.map((n) => (
            <Act key={n} aria-pressed={n === setup} tone={n === setup ? 'choice' : 'plain'} minH="56px" fontSize="18px" onClick={() => setOwn(n)}>
              {n}
              {n === turn ? ' (its turn)' : ''}
            </Act>
          ))}
        </Flex>
        <Flex gap="2" mt="2" wrap="wrap" align="end">
          <Text as="label">
            Value
            <Input aria-label="Value of the run" display="block" w="150px" h="56px" fontSize="26px" inputMode="decimal" value={value} onChange={(e) => setValue(e.target.value)} />
          </Text>
          {(
            [
              ['Charge, %', soc, setSoc],
              ['Mass, kg', mass, setMass],
              ['Head wind, m/s', wind, setWind],
            ] as const
          ).map(([label, v, set]) => (
            <Text as="label" key={label}>
              {label}
              <Input display="block" w="100px" inputMode="decimal" value={v} onChange={(e) => set(e.target.value)} />
            </Text>
          ))}
          <Text as="label" flex="1 1 140px">
            Note
            <Input display="block" w="100%" value={note} onChange={(e) => setNote(e.target.value)} />
          </Text>
          {logs.length > 0 && (
            <Text as="label">
              Its log
              <NamePick label="Its log" rows={logs} value={log} none="none" w="190px" pick={setLog} />
            </Text>
          )}
          <Act tone="choice" minH="56px" disabled={!plainNumber(value) || call.isPending} onClick={take}>
            Take the run
          </Act>
        </Flex>
        {call.error && <Trouble text={problemText(call.error)} />}
        {taps.waiting > 0 && (
          <Text role="status" mt="2" fontWeight="600" color="choice">
            {taps.waiting} {taps.waiting === 1 ? 'run is' : 'runs are'} kept here, not sent yet. Sent when the connection is back.
          </Text>
        )}
        {taps.refused && (
          <Trouble text={taps.refused}>
            <Act onClick={taps.clear}>Close</Act>
          </Trouble>
        )}
      </Box>
      <Flex gap="3" mt="2" align="center" wrap="wrap">
        <Act as="a" {...{ href: `/api/builds/${bench.id}/sessions/${s.id}/report`, download: '' }}>
          Report (PDF)
        </Act>
        <Act as="a" {...{ href: `/api/builds/${bench.id}/sessions/${s.id}/report.html`, download: '' }}>
          Report (page)
        </Act>
        <Text fontSize="14px" color="ink-soft">
          To hand over: setup, runs, statistics, traces, quality of the data; the raw files are inside.
        </Text>
      </Flex>
      {s.problem && <Text mt="2">{s.problem}</Text>}
      {s.verdict && <Shown v={s.verdict} />}
      {s.percents.map((p) => (
        <Text key={p.sentence}>{p.sentence}</Text>
      ))}
      {s.verdict && (
        <Flex gap="2" mt="2" align="center" wrap="wrap">
          <Text>Which felt better?</Text>
          {s.setups.map((n) => (
            <Act key={n} aria-pressed={n === s.felt} bg={n === s.felt ? 'choice-wash' : 'sheet'} onClick={() => call.mutate({ do: 'felt', session: s.id, setup: n })}>
              {n}
            </Act>
          ))}
          {s.felt_words && <Text fontWeight="600">{s.felt_words}</Text>}
        </Flex>
      )}
      {s.trials.length > 0 && (
        <Rows
          label="Runs"
          heads={['setup', 'value', 'charge', 'mass', 'note', '']}
          left={[0, 4, 5]}
          rows={s.trials.map((t, i) => [
            t.setup,
            t.discarded ? <s key="v">{t.value}</s> : String(t.value),
            t.soc == null ? '–' : `${(100 * t.soc).toFixed(0)} %`,
            t.mass_kg == null ? '–' : `${t.mass_kg} kg`,
            t.discarded ? `discarded: ${t.discarded}` : t.note,
            <Discard key="d" off={!!t.discarded} send={(why) => call.mutate({ do: 'discard', session: s.id, number: i, why })} />,
          ])}
        />
      )}
    </Box>
  )
}

/** Discarding asks for a reason; without one the run counts. */
function Discard({ off, send }: { off: boolean; send: (why: string) => void }) {
  const [why, setWhy] = useState<string | null>(null)
  if (off) return <Act onClick={() => send('')}>Count it again</Act>
  if (why === null) return <Act onClick={() => setWhy('')}>Discard …</Act>
  return (
    <Flex gap="1">
      <Input aria-label="Reason" placeholder="reason" w="150px" value={why} onChange={(e) => setWhy(e.target.value)} />
      <Act disabled={!why.trim()} onClick={() => send(why)}>
        Discard
      </Act>
    </Flex>
  )
}

function Shown({ v }: { v: Verdict }) {
  return (
    <Box mt="3">
      <Text role="status" fontSize="18px" fontWeight="700">
        {v.sentence}
      </Text>
      <Rows
        label="Setups"
        heads={['setup', 'trials', 'mean', '± 95 %', 'best', 'far from the rest']}
        rows={v.summaries.map((s) => [s.name, String(s.n), s.mean.toPrecision(4), s.half95?.toPrecision(2) ?? '–', s.best.toPrecision(4), s.outliers.length ? String(s.outliers.length) : ''])}
      />
      {v.corrected && <Text>With masses made equal by the model: {v.corrected.map((d) => d.sentence).join(' ')}</Text>}
      {v.smallest_gap !== null && <Text color="ink-soft">So many trials show a gap of {v.smallest_gap.toPrecision(2)} or more.</Text>}
      {v.spoilers.map((s) => (
        <Flex key={s.what + s.sentence} gap="2" mt="1" align="center">
          <Severity kind={s.weight} size={18} />
          <Text>{s.sentence}</Text>
        </Flex>
      ))}
    </Box>
  )
}
