import { Box, Flex, Input, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { type ChargeReport, upload } from '../../api/client'
import { problemText, useAtPower, useClaim, useTwoNumbers } from '../../api/hooks'
import type { Drawings } from '../../api/client'
import { parseQuantity, show, signOf, unitsOf } from '../../lib/units'
import { paint } from '../../theme/paint'
import { Act, Trouble } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { FilePick } from '../../ui/FilePick'
import { Plot } from '../../ui/Plot'

type P = NonNullable<Drawings['pack']>
const VERDICT: Record<string, string> = {
  ok: 'within what the cells give for good',
  warm: 'over their continuous current: for seconds only',
  over: 'over their peak: no',
  low: 'under their empty volts: no',
  open: 'not told',
  never: 'the pack cannot give this power at all',
}

/** A charge log, amps at any power, and percentages with their base. */
export function Checks({ d }: { d: P | null }) {
  return (
    <Flex gap="6" wrap="wrap" align="flex-start">
      <Box flex="1 1 {sizes.panel}">
        <ChargeLog />
      </Box>
      <Box flex="1 1 {sizes.wide}">
        {d && <AtPower d={d} />}
        <TwoNumbers />
        <Claim />
      </Box>
    </Flex>
  )
}

function AtPower({ d }: { d: P }) {
  const { bench, prefs } = useWorkshop()
  const [typed, setTyped] = useState('10 kW')
  const parsed = typed.trim() ? parseQuantity(typed, 'w', unitsOf('w')[0]!) : null
  const key = `${bench.seq}:${JSON.stringify(bench.trial)}`
  const got = useAtPower(bench.id, key, parsed?.ok && parsed.si > 0 ? parsed.si : null)
  const a = got.data
  return (
    <Box mb="5">
      <label htmlFor="at-power">
        <Text textStyle="title" fontSize="lead">
          Amps at a power
        </Text>
      </label>
      <Input id="at-power" h="touch" maxW="pick" bg="sheet" borderColor="rule-strong" value={typed} onChange={(e) => setTyped(e.target.value)} />
      {parsed && !parsed.ok && (
        <Text color="stop" role="alert">
          {parsed.error}
        </Text>
      )}
      {got.error && <Trouble text={problemText(got.error)} />}
      {a && (
        <Text mt="1" color={a.verdict === 'ok' ? 'ink' : a.verdict === 'warm' || a.verdict === 'open' ? 'caution' : 'stop'}>
          {a.amps === null ? (
            VERDICT.never
          ) : (
            <>
              {show(a.amps, 'a', prefs).text} at {show(a.volts, 'v', prefs).text}; {show(a.cell_a, 'a', prefs).text} through each of {d.parallel} cells, {a.c_rate?.toFixed(1)} C: {VERDICT[a.verdict]}
              {a.unknown.length > 0 && ` (unknown: ${a.unknown.join('; ')})`}
            </>
          )}
        </Text>
      )}
    </Box>
  )
}

function Claim() {
  const [typed, setTyped] = useState('')
  const [asked, setAsked] = useState('')
  const got = useClaim(asked)
  return (
    <Box as="form" onSubmit={(e) => (e.preventDefault(), setAsked(typed))}>
      <label htmlFor="claim">
        <Text textStyle="title" fontSize="lead">
          A percentage and its base
        </Text>
      </label>
      <Flex gap="2">
        <Input id="claim" h="touch" bg="sheet" borderColor="rule-strong" placeholder="30 % more than 40" value={typed} maxLength={80} onChange={(e) => setTyped(e.target.value)} />
        <Act type="submit">Work it out</Act>
      </Flex>
      {got.error && (
        <Text color="stop" role="alert" mt="1">
          {problemText(got.error)}
        </Text>
      )}
      {got.data && !got.error && (
        <Text mt="1">
          {got.data.words} is{' '}
          <b>
            {Number(got.data.value.toPrecision(6))}
            {got.data.symbol}
          </b>
          ; {got.data.other_words} would be {Number(got.data.other_value.toPrecision(6))}
          {got.data.symbol}.
        </Text>
      )}
    </Box>
  )
}

/** Two numbers, and both ways to say how they stand to each other. */
function TwoNumbers() {
  const [a, setA] = useState('')
  const [b, setB] = useState('')
  const [x, y] = [a, b].map((t) => (t.trim() ? parseQuantity(t, 'money', unitsOf('money')[0]!) : null))
  const got = useTwoNumbers(x?.ok ? x.si : null, y?.ok ? y.si : null)
  const wrong = [x, y].find((p) => p && !p.ok)
  return (
    <Box mb="5" role="group" aria-label="Two numbers">
      <Text textStyle="title" fontSize="lead">
        Two numbers against each other
      </Text>
      <Flex gap="2" align="flex-end">
        <Box>
          <label htmlFor="number-a">number</label>
          <Input id="number-a" h="touch" maxW="figure" bg="sheet" borderColor="rule-strong" value={a} onChange={(e) => setA(e.target.value)} />
        </Box>
        <Box>
          <label htmlFor="number-b">its base</label>
          <Input id="number-b" h="touch" maxW="figure" bg="sheet" borderColor="rule-strong" value={b} onChange={(e) => setB(e.target.value)} />
        </Box>
      </Flex>
      {wrong && !wrong.ok && (
        <Text color="stop" role="alert" mt="1">
          {wrong.error}
        </Text>
      )}
      {got.error && (
        <Text color="stop" role="alert" mt="1">
          {problemText(got.error)}
        </Text>
      )}
      {got.data && !got.error && !wrong && <Text mt="1">{got.data.words}.</Text>}
    </Box>
  )
}

function ChargeLog() {
  const { bench, prefs, change } = useWorkshop()
  const [report, setReport] = useState<ChargeReport | null>(null)
  const [problem, setProblem] = useState('')
  const read = (file: File) =>
    upload<ChargeReport>(`/api/builds/${bench.id}/charge-log`, file)
      .then((r) => (setReport(r), setProblem('')))
      .catch((e: Error) => (setReport(null), setProblem(problemText(e))))
  const apart = (volts: number[]) => volts.map((v, i) => v - (report?.mid_v[i] ?? v))
  return (
    <Box>
      <Flex gap="2" align="center" wrap="wrap" mb="2">
        <Text textStyle="title" fontSize="lead" flex="1">
          Group voltages while charging
        </Text>
        <FilePick label="Read a charge log" name="Charge log" reads="charge" pick={(f) => void read(f)} />
        {report && (
          <Act onClick={() => change([{ path: 'pack.group_v', value: report.last }], 'Group voltages from a charge log')}>Take the last row as group voltages</Act>
        )}
      </Flex>
      {problem && <Trouble text={problem} />}
      {!report && !problem && <Text color="ink-soft">A CSV with a time column and one column for each group.</Text>}
      {report && (
        <>
          <Plot
            prefs={prefs}
            label={`Group voltages of ${report.name}, apart from their middle`}
            minH="field"
            x={{ quantity: 's', label: 'time' }}
            y={{ quantity: 'v', label: 'apart from the middle group' }}
            lines={[
              { label: 'highest', x: report.t_s, y: apart(report.high_v), colour: paint('ink'), width: 2.5, labelAt: 0.85 },
              { label: 'middle', x: report.t_s, y: report.t_s.map(() => 0), colour: paint('ink.soft'), labelAt: 0.6 },
              { label: 'lowest', x: report.t_s, y: apart(report.low_v), colour: paint('ink'), width: 2.5, dash: '6 4', labelAt: 0.85 },
            ]}
            verticals={report.stop_s === null ? [] : [{ at: report.stop_s, label: 'stop here', colour: paint('stop') }]}
          />
          <Text fontWeight="600" color={report.stop_s === null ? 'ink' : 'stop'}>
            {report.stop_s === null ? (report.past_full ? 'Nothing called for a stop.' : 'Nothing that can be judged called for a stop.') : `Stop charging: ${report.stop_words}.`} {show(report.spread_v, 'v', prefs).text} apart at the end, at most {show(report.worst_v, 'v', prefs).text}.{report.skipped > 0 ? ` ${report.skipped} rows in which a group was not read are left out.` : ''}
          </Text>
          {!report.past_full && <Text color="caution">Full volts of these cells are not known: whether a group goes past full is not judged. Give their chemistry or their full volts in Pack before they are charged.</Text>}
          {report.outliers.map((o) => (
            <Text key={o.group}>
              Group {o.group}: {signOf(o.off_v)}
              {Math.abs(o.off_v * 1000).toFixed(0)} mV, {o.words}.
            </Text>
          ))}
        </>
      )}
    </Box>
  )
}
