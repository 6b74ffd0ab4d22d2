import { Box, Flex, Input, NativeSelect, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { problemText, useHistory, useLogs, useRegisters } from '../../api/hooks'
import { judgeFile, type SessionView, useSessionCall, useSessions, useUsualSpread, type Verdict } from '../../api/prove'
import { useTaps } from '../../api/taps'
import { KeptRuns } from './Kept'
import { useLogFigures } from '../../api/traces'
import { stringAt } from '../../lib/path'
import { digits, entered, halfOf, parseQuantity, sentence, show, shownUnit, toUnit, type Unit, type UnitPrefs, usualUnit } from '../../lib/units'
import { Act, Severity, Trouble } from '../../ui/atoms'
import { changeWords, useWorkshop } from '../../ui/bench'
import { FilePick } from '../../ui/FilePick'
import { NamePick } from '../../ui/NamePick'
import { Rows } from '../../ui/Rows'
import { NumberField, useNumber } from '../../ui/NumberField'
import { useMovedWords } from '../../ui/Workbench'
import { Standing } from './Standing'
import { day } from '../../lib/when'

/** Setups against each other: planned, ridden, judged; the book over all sessions. */
export function Sessions() {
  const { bench } = useWorkshop()
  const book = useSessions(bench.id)
  const [open, setOpen] = useState('')
  const [verdict, setVerdict] = useState<Verdict | null>(null)
  const [problem, setProblem] = useState('')
  const [gone, setGone] = useState<SessionView | null>(null)
  const call = useSessionCall(bench.id)
  const taps = useTaps(bench.id)
  const here = book.data?.find((s) => s.id === open) ?? book.data?.[0]
  return (
    <Flex direction="column" gap="3" py="3">
      <Plan />
      <Flex gap="2" wrap="wrap" align="center">
        {book.data?.map((s) => (
          <Act key={s.id} aria-pressed={s.id === here?.id} bg={s.id === here?.id ? 'choice-wash' : 'sheet'} onClick={() => setOpen(s.id)}>
            {s.name} <Text as="span" color="ink-soft">{day(s.at)}</Text>
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
        {here && <Remove key={here.id} s={here} remove={() => (setGone(here), call.mutate({ do: 'remove', session: here.id }))} />}
        {gone && !book.data?.some((s) => s.id === gone.id) && (
          <Act onClick={() => call.mutate({ do: 'back', session: gone.id })}>Put {gone.name} back</Act>
        )}
      </Flex>
      {(problem || call.error) && <Trouble text={problem || problemText(call.error)} />}
      {verdict && <Shown v={verdict} />}
      <KeptRuns taps={taps} sessions={book.data ?? []} />
      {here && (here.setups.length ? <One key={here.id} s={here} taps={taps} /> : <Trouble text={here.problem} />)}
    </Flex>
  )
}

function Remove({ s, remove }: { s: SessionView; remove: () => void }) {
  const [sure, setSure] = useState(false)
  if (!sure) return <Act tone="ghost" onClick={() => setSure(true)}>Remove this session …</Act>
  return (
    <Act tone="choice" onClick={remove}>
      {s.trials.length > 1 ? `Remove it with its ${s.trials.length} runs` : s.trials.length ? 'Remove it with its run' : 'Remove it'}
    </Act>
  )
}

function Plan() {
  const { bench, prefs } = useWorkshop()
  const call = useSessionCall(bench.id)
  const [name, setName] = useState('')
  const protocols = useRegisters().data?.protocols ?? []
  const [own, setProtocol] = useState('')
  const chosen = protocols.find((p) => p.name === own) ?? protocols[0]
  const protocol = chosen?.name ?? ''
  const [setups, setSetups] = useState('')
  const [riders, setRiders] = useState('')
  const [masses, setMasses] = useState('')
  const trials = useNumber('ratio', '', '5')
  const quantity = chosen?.quantity ?? 's'
  const unit = unitOf(quantity, prefs)
  const spread = useNumber(quantity, unit.symbol, USUAL.s[0])
  const gap = useNumber(quantity, unit.symbol, USUAL.s[1])
  const usual = useUsualSpread(bench.id, protocol).data
  const ready = [trials, spread, gap].every((f) => f.si !== null)
  const parts = (text: string) => text.split(';').map((s) => s.trim()).filter(Boolean)
  const names = parts(setups)
  const weighed = parts(masses).map((t) => entered(t, 'kg', usualUnit('kg', null, prefs).symbol))
  const unweighed =
    weighed.find((x) => x.problem)?.problem ||
    (weighed.length && weighed.length !== names.length ? `${weighed.length} masses for ${names.length} setups: one each, in the order of the setups, or none.` : '')
  const go = () => call.mutate({ do: 'plan', name, protocol, setups: names, riders: parts(riders), masses: Object.fromEntries(weighed.map((x, i) => [names[i]!, x.si!])), trials: Math.round(trials.si!), spread: spread.si!, gap: gap.si! })
  const change = (name: string) => {
    setProtocol(name)
    const [first, second] = USUAL[protocols.find((p) => p.name === name)?.quantity ?? 's']
    spread.set(first)
    gap.set(second)
  }
  const field = (label: string, value: string, set: (v: string) => void, w: string) => (
    <Text as="label">
      {label}
      <Input display="block" w={w} value={value} onChange={(e) => set(e.target.value)} />
    </Text>
  )
  return (
    <Box>
      <Flex gap="2" wrap="wrap" align="end">
        {field('Setups, ; between them', setups, setSetups, 'field')}
        <Text as="label">
          Protocol
          <NativeSelect.Root w="field">
            <NativeSelect.Field value={protocol} onChange={(e) => change(e.target.value)}>
              {protocols.map((p) => (
                <option key={p.name}>{p.name}</option>
              ))}
            </NativeSelect.Field>
            <NativeSelect.Indicator />
          </NativeSelect.Root>
        </Text>
        <NumberField label="Trials of each" field={trials} w="digits" />
        <NumberField label={`Usual spread, ${unit.symbol}`} field={spread} />
        <NumberField label={`Gap to be seen, ${unit.symbol}`} field={gap} />
        {field('Masses with rider, ; between', masses, setMasses, 'pick')}
        {field('Riders, ; between them', riders, setRiders, 'pick')}
        {field('Called', name, setName, 'amount')}
        <Act tone="choice" disabled={names.length < 2 || !ready || unweighed !== '' || call.isPending} onClick={go}>
          Plan it
        </Act>
      </Flex>
      {usual?.spread != null && (
        <Flex gap="2" mt="2" align="center" wrap="wrap">
          <Text color="ink-soft">
            {usual.runs} earlier runs of this bike spread by {show(usual.spread, quantity, prefs, 2).text}.
          </Text>
          <Act onClick={() => spread.set(show(usual.spread, quantity, prefs, 2).text)}>Take that</Act>
        </Flex>
      )}
      {unweighed && (
        <Text mt="1" role="alert" color="stop">
          {unweighed}
        </Text>
      )}
      {call.error && <Trouble text={problemText(call.error)} />}
    </Box>
  )
}

/** A session at the strip: whose turn it is, a big field for the value, and what it shows so far. */
function One({ s, taps }: { s: SessionView; taps: ReturnType<typeof useTaps> }) {
  const { bench } = useWorkshop()
  const call = useSessionCall(bench.id)
  const [value, setValue] = useState('')
  const charge = useNumber('ratio', '%')
  const [under, setUnder] = useState<Record<string, string>>({})
  const [note, setNote] = useState('')
  const [log, setLog] = useState('')
  const { prefs } = useWorkshop()
  const logs = useLogs(bench.id, stringAt(bench.doc, 'prove.log_id')).data ?? []
  const place = s.trials.filter((t) => !t.discarded).length
  const turn = s.plan?.order[place] ?? s.setups[0]!
  const rides = s.plan?.riders[place] ?? ''
  const [own, setOwn] = useState('')
  const setup = own || turn
  const quantity = s.quantity
  const unit = unitOf(quantity, prefs)
  const parsed = parseQuantity(value, quantity, unit)
  const read = Object.fromEntries(UNDER.map(([key, , , q, symbol]) => [key, q ? entered(under[key] ?? '', q, symbol) : { si: null, problem: '' }]))
  const wrong = Object.values(read).find((x) => x.problem)?.problem ?? ''
  const ready = parsed.ok && parsed.si > 0 && !wrong && !charge.problem
  const said = useSaid(quantity)
  const take = () => {
    if (!parsed.ok) return
    const of = (key: string) => read[key]!.si
    taps.take({
      session: s.id,
      setup,
      value: parsed.si,
      soc: charge.si,
      mass_kg: of('mass_kg'),
      wind_m_s: of('wind_m_s'),
      air_c: of('air_c'),
      slope_pct: of('slope_pct'),
      tyre_bar: of('tyre_bar'),
      pressure_hpa: of('pressure_hpa'),
      rider: under.rider || rides,
      tyre: under.tyre ?? '',
      surface: under.surface ?? '',
      note,
      log_id: log,
      seq: bench.seq,
    })
    if (s.plan?.riders.length) setUnder({ ...under, rider: '' })
    setValue('')
    setLog('')
    setNote('')
    setOwn('')
  }
  return (
    <Box>
      {s.plan && (
        <>
          <Text fontWeight="600">{sentence(s.plan.sentence, prefs)}</Text>
          <Text color="ink-soft">Order: {s.plan.order.map((n, i) => (s.plan!.riders[i] ? `${n} (${s.plan!.riders[i]})` : n)).join(', ')}</Text>
          <Box as="ul" pl="5" listStyleType="disc" fontSize="small">
            {[...s.plan.rules, ...s.plan.ballast].map((r) => (
              <Text as="li" key={r}>
                {sentence(r, prefs)}
              </Text>
            ))}
          </Box>
        </>
      )}
      <Standing />
      <Box bg="sheet" borderWidth="hair" borderColor="choice" p="3" mt="3">
        <Flex gap="2" wrap="wrap" role="group" aria-label="Setup of this run">
          {s.setups.map((n) => (
            <Act key={n} aria-pressed={n === setup} tone={n === setup ? 'choice' : 'plain'} minH="row" fontSize="title" onClick={() => setOwn(n)}>
              {n}
              {n === turn ? (rides ? ` (its turn, ${rides} rides)` : ' (its turn)') : ''}
            </Act>
          ))}
        </Flex>
        <Flex gap="2" mt="2" wrap="wrap" align="end">
          <Text as="label">
            {VALUE[quantity]}, {unit.symbol}
            <Input aria-label="Value of the run" display="block" w="amount" h="row" fontSize="figure" inputMode="decimal" value={value} onChange={(e) => setValue(e.target.value)} />
          </Text>
          <NumberField label="Charge, %" field={charge} w="figure" big />
          <Text as="label" flex="1 1 {sizes.amount}">
            Note
            <Input display="block" w="100%" value={note} onChange={(e) => setNote(e.target.value)} />
          </Text>
          {logs.length > 0 && (
            <Text as="label">
              Its log
              <NamePick label="Its log" rows={logs} value={log} none="none" w="pick" pick={setLog} />
            </Text>
          )}
          {log && <FromLog log={log} quantity={quantity} unit={unit} pick={setValue} />}
          <Act tone="choice" minH="row" disabled={!ready || call.isPending} onClick={take}>
            Take the run
          </Act>
        </Flex>
        {value !== '' && !parsed.ok && <Text mt="1">{parsed.error}</Text>}
        {wrong && <Text mt="1" role="alert" color="stop">{wrong}</Text>}
        <Flex gap="2" mt="2" wrap="wrap" align="end" role="group" aria-label="Ridden under">
          {UNDER.map(([key, label, w, q]) => (
            <Text as="label" key={key} fontSize="small">
              {label}
              <Input display="block" w={w} value={under[key] ?? ''} placeholder={key === 'rider' ? rides : undefined} aria-invalid={read[key]!.problem !== ''} inputMode={q ? 'decimal' : 'text'} onChange={(e) => setUnder({ ...under, [key]: e.target.value })} />
            </Text>
          ))}
          <Text fontSize="small" color="ink-soft">
            These stay for the next run.
          </Text>
        </Flex>
        {call.error && <Trouble text={problemText(call.error)} />}
      </Box>
      <Flex gap="3" mt="2" align="center" wrap="wrap">
        <Act as="a" {...{ href: `/api/builds/${bench.id}/sessions/${s.id}/report`, download: '' }}>
          Report (PDF)
        </Act>
        <Act as="a" {...{ href: `/api/builds/${bench.id}/sessions/${s.id}/report.html`, download: '' }}>
          Report (page)
        </Act>
        <Text fontSize="small" color="ink-soft">
          To hand over: setup, runs, statistics, traces, quality of the data; the raw files are inside.
        </Text>
      </Flex>
      {s.problem && <Text mt="2">{s.problem}</Text>}
      {s.verdict && <Shown v={s.verdict} />}
      <SetupsAre s={s} />
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
          heads={['setup', 'value', 'charge', 'mass', 'ridden under', 'note', '']}
          left={[0, 4, 5, 6]}
          rows={s.trials.map((t, i) => [
            t.setup,
            t.discarded ? <s key="v">{said(t.value)}</s> : said(t.value),
            t.soc == null ? '–' : `${(100 * t.soc).toFixed(0)} %`,
            t.mass_kg == null ? '–' : show(t.mass_kg, 'kg', prefs, 4).text,
            riddenUnder(t, prefs),
            t.discarded ? `discarded: ${t.discarded}` : t.note,
            <Discard key="d" off={!!t.discarded} send={(why) => call.mutate({ do: 'discard', session: s.id, number: i, why })} />,
          ])}
        />
      )}
    </Box>
  )
}

/** As which bike each setup is ridden: the change it is, what it has otherwise than the first, what that ought to do. A
 * setup that alternates with another is said to be one state of the build, so that nothing has to be put back. */
function SetupsAre({ s }: { s: SessionView }) {
  const { bench, fields, prefs } = useWorkshop()
  const call = useSessionCall(bench.id)
  const words = useMovedWords()
  const changes = useHistory(bench.id, bench.seq).data ?? []
  return (
    <Box role="group" aria-label="Ridden as" mt="2" fontSize="small">
      {s.setups.map((name) => {
        const r = s.ridden.find((x) => x.setup === name)
        return (
          <Flex key={name} gap="2" align="center" wrap="wrap" mt="1">
            <Text fontWeight="600">{name} is</Text>
            <NamePick
              label={`${name} is`}
              rows={changes.map((c) => ({ id: String(c.seq), name: `change ${c.seq}: ${changeWords(fields, c)}` }))}
              value={String(s.bound[name] ?? '')}
              none="the build when a run is taken"
              w="wide"
              pick={(seq) => call.mutate({ do: 'bind', session: s.id, setup: name, seq: seq ? Number(seq) : null })}
            />
            {r && r.seqs.length > 0 && (
              <Text>
                <Box as="a" textDecoration="underline" {...{ href: `/?beside=${bench.id}&beside=${bench.id}@${r.seqs.at(-1)}` }}>
                  change {r.seqs.join(', ')}
                </Box>
                {r.sets.length > 0 && `, ${r.sets.length === 1 ? 'one set' : `${r.sets.length} sets`} written before it`}
                {r.expected != null && Math.abs(r.expected) > 0.0005 && `; the planner expects ${r.expected > 0 ? '+' : '−'}${show(Math.abs(r.expected), s.quantity, prefs, 2).text}`}
                {r.moved.length > 0 && `; ${r.moved.slice(0, 4).map(words).join('; ')}${r.moved.length > 4 ? ` and ${r.moved.length - 4} more` : ''}`}
              </Text>
            )}
          </Flex>
        )
      })}
      {call.error && <Trouble text={problemText(call.error)} />}
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
      <Input aria-label="Reason" placeholder="reason" w="amount" value={why} onChange={(e) => setWhy(e.target.value)} />
      <Act disabled={!why.trim()} onClick={() => send(why)}>
        Discard
      </Act>
    </Flex>
  )
}

/** A value in the unit that is wanted. */
function useSaid(quantity: string): (x: number) => string {
  const { prefs } = useWorkshop()
  return (x) => show(x, quantity, prefs, 5).text
}

function Shown({ v }: { v: Verdict }) {
  const { prefs } = useWorkshop()
  const said = useSaid(v.quantity)
  return (
    <Box mt="3">
      <Text role="status" fontSize="title" fontWeight="700">
        {sentence(v.sentence, prefs)}
      </Text>
      <Rows
        label="Setups"
        heads={['setup', 'trials', 'mean', 'spread', '± 95 %', 'best', 'far from the rest']}
        rows={v.summaries.map((s) => [s.name, String(s.n), said(s.mean), s.sd == null ? '–' : halfOf(s.sd, s.mean, v.quantity, prefs), s.half95 == null ? '–' : halfOf(s.half95, s.mean, v.quantity, prefs), said(s.best), s.outliers.length ? String(s.outliers.length) : ''])}
      />
      {v.corrected && <Text>With {v.corrected_for.join(' and ')} made equal by the model: {v.corrected.map((d) => sentence(d.sentence, prefs)).join(' ')}</Text>}
      {v.smallest_gap !== null && <Text color="ink-soft">So many trials show a gap of {show(v.smallest_gap, v.quantity, prefs, 2).text} or more.</Text>}
      {v.spoilers.map((s) => (
        <Flex key={s.what + s.sentence} gap="2" mt="1" align="center">
          <Severity kind={s.weight} size={18} />
          <Text>{sentence(s.sentence.charAt(0).toUpperCase() + s.sentence.slice(1), prefs)}</Text>
        </Flex>
      ))}
    </Box>
  )
}

/** The unit that values of a quantity are typed in; a way is ridden, so it is no matter of millimetres. */
const RIDDEN_M = 10_000
const unitOf = (quantity: string, prefs: UnitPrefs) => (quantity === 'm' ? shownUnit('m', RIDDEN_M, prefs) : usualUnit(quantity, null, prefs))
/** What a plan starts from, in the unit that is shown: spread, gap. */
const USUAL = { s: ['0.1', '0.2'], m_s: ['0.5', '1'], m: ['0.5', '1'] } as const
/** What is written down of a run. */
const VALUE = { s: 'Time', m_s: 'Speed', m: 'Way' } as const

/** What a run was ridden under: key, label, width, and the quantity of a number with the unit of a bare one. */
const UNDER = [
  ['mass_kg', 'Mass, kg', 'digits', 'kg', 'kg'],
  ['wind_m_s', 'Head wind, m/s', 'figure', 'm_s', 'm/s'],
  ['air_c', 'Air, °C', 'digits', 'c', '°C'],
  ['slope_pct', 'Slope, %', 'digits', 'pct', '%'],
  ['tyre_bar', 'Tyre, bar', 'digits', 'ratio', ''],
  ['pressure_hpa', 'Air, hPa', 'digits', 'ratio', ''],
  ['tyre', 'Which tyre', 'figure', '', ''],
  ['surface', 'Surface', 'figure', '', ''],
  ['rider', 'Rider', 'figure', '', ''],
] as const
const riddenUnder = (t: SessionView['trials'][number], prefs: UnitPrefs): string =>
  [
    t.wind_m_s != null && `${show(t.wind_m_s, 'm_s', prefs, 2).text} of wind`,
    t.air_c != null && show(t.air_c, 'c', prefs, 3).text,
    t.slope_pct != null && `${t.slope_pct} %`,
    t.tyre_bar != null && `${t.tyre_bar} bar`,
    t.pressure_hpa != null && `${t.pressure_hpa} hPa`,
    t.tyre,
    t.surface,
    t.rider,
  ]
    .filter(Boolean)
    .join(', ')

/** The run's value read from its log: the mark, or the top speed. */
function FromLog({ log, quantity, unit, pick }: { log: string; quantity: string; unit: Unit; pick: (text: string) => void }) {
  const { bench, prefs } = useWorkshop()
  const d = useLogFigures(bench.id, log, bench.version).data
  const rows = d?.splits.filter((x) => x.quantity === quantity) ?? []
  const [chosen, setChosen] = useState('')
  if (!d) return null
  if (!rows.length) return <Text fontSize="small">Its log holds no {quantity === 's' ? 'run from rest' : quantity === 'm' ? 'way' : 'speed'}.</Text>
  return (
    <Text as="label">
      From its log
      <NativeSelect.Root w="field">
        <NativeSelect.Field
          value={chosen}
          onChange={(e) => {
            setChosen(e.target.value)
            const row = rows.find((x) => x.name === e.target.value)
            if (row) pick(digits(toUnit(row.value, unit), 5)) // in the field's own unit, whatever its size
          }}
        >
          <option value="">which mark …</option>
          {rows.map((x) => (
            <option key={x.name} value={x.name}>
              {x.name}: {show(x.value, x.quantity, prefs, 4).text}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    </Text>
  )
}
