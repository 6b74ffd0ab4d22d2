import { Box, Flex, Input, NativeSelect, Text } from '@chakra-ui/react'
import { useEffect, useRef, useState } from 'react'
import { http, ok, type Sniffed, type Sorting, type SortProgress, upload } from '../../api/client'
import { problemText } from '../../api/hooks'
import { follow } from '../../api/job'
import { at } from '../../lib/path'
import { parseQuantity, show, unitsOf } from '../../lib/units'
import { DIGITS, paint } from '../../theme/paint'
import { Act, Loading, Severity, Trouble } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { Rows } from '../../ui/Rows'
import { T } from '../../ui/svgtext'
import { useSize } from '../../ui/useSize'

// The limits themselves come with the answer: what is left blank is the usual rule of the lot.
const RULES = [
  { key: 'capacity_min_ah', label: 'capacity at least', quantity: 'ah' },
  { key: 'r_max_ohm', label: 'resistance at most', quantity: 'ohm' },
  { key: 'fade_max_v_day', label: 'loses a day at most', quantity: 'v' },
  { key: 'rested_min_v', label: 'rested at least', quantity: 'v' },
  { key: 'rested_max_v', label: 'rested at most', quantity: 'v' },
] as const
const COUNTS = [
  { key: 'series', label: 'groups in series' },
  { key: 'parallel', label: 'cells in parallel' },
] as const
const OURS: [string, string][] = [
  ['id', 'name of the cell'],
  ['capacity_ah', 'capacity'],
  ['r_ohm', 'resistance'],
  ['rested_v', 'rested voltage'],
  ['rested_2_v', 'rested again'],
  ['days', 'days between'],
  ['rested_on', 'first date'],
  ['rested_2_on', 'second date'],
  ['damage', 'damage seen'],
]
const TYPING_MS = 250

/** Measured cells into matched groups: the columns, the rules that reject, the groups, what it
 * gained. It goes on getting better until it is stopped. */
export function SortCells({ file, close }: { file: File; close: () => void }) {
  const { bench, change, prefs } = useWorkshop()
  const [typed, setTyped] = useState<Record<string, string>>({})
  const [asked, setAsked] = useState<Record<string, string>>({})
  const [seen, setSeen] = useState<Sniffed | null>(null)
  const [map, setMap] = useState<Record<string, string> | null>(null)
  const [columns, setColumns] = useState(false)
  const [series, parallel] = COUNTS.map(({ key }) => String(at(bench.doc, `pack.${key}`) ?? asked[key] ?? ''))
  const counted = [series, parallel].every((n) => /^[1-9]\d{0,2}$/.test(n!))
  const unasked = COUNTS.filter(({ key }) => at(bench.doc, `pack.${key}`) == null)
  const parsed = RULES.map((r) => ({ r, p: typed[r.key]?.trim() ? parseQuantity(typed[r.key]!, r.quantity, unitsOf(r.quantity)[0]!) : null }))
  const wrong = parsed.find((x) => x.p && !x.p.ok)
  const body: Record<string, string> = { series: series!, parallel: parallel!, build: bench.id }
  for (const { r, p } of parsed) if (p?.ok) body[r.key] = String(p.si)
  if (map && seen) {
    const unit = (name: string) => seen.mapping.find((m) => m.name === name)?.unit ?? ''
    body.mapping = JSON.stringify(Object.entries(map).filter(([, c]) => c).map(([name, column]) => ({ name, column, unit: unit(name) })))
  }
  const { job, problem, fresh, stop } = useSorting(file, counted ? JSON.stringify(body) : '')
  useEffect(() => {
    let gone = false
    upload<Sniffed>('/api/sort/preview', file)
      .then((s) => !gone && setSeen(s))
      .catch(() => undefined) // the sorting itself says what is wrong with the file
    return () => {
      gone = true
    }
  }, [file])
  const done = job?.sorting ?? null
  const take = () =>
    change(
      [
        ...unasked.map(({ key }) => ({ path: `pack.${key}`, value: Number(key === 'series' ? series : parallel) })),
        {
          path: 'pack.sorted_groups',
          value: done!.groups.map((g) => ({ cells: g.cells, capacity_ah: { amount: g.capacity_ah, origin: 'measured', tolerance: 0.01 }, r_ohm: g.r_ohm === null ? null : { amount: g.r_ohm, origin: 'measured', tolerance: 0.1 } })),
        },
      ],
      `Took the groups of ${file.name}`,
    )
  const link = (what: string) => (fresh ? `/api/sort/jobs/${job?.id}/${what}` : undefined)
  return (
    <Flex direction="column" p="3" gap="3" flex="1">
      <Flex align="center" gap="2" wrap="wrap">
        <Text textStyle="title" fontSize="title" flex="1">
          {file.name}{counted && `: ${series}s${parallel}p`}
        </Text>
        {done && !problem && (
          <>
            <Act tone="choice" disabled={!fresh || job?.state === 'running'} onClick={take}>
              Take these groups into the build
            </Act>
            <Act asChild disabled={!fresh}>
              <a href={link('assignment')} download>
                Assignment as CSV
              </a>
            </Act>
            <Act asChild disabled={!fresh}>
              <a href={link(`labels?title=${encodeURIComponent(bench.name)}`)} download>
                Labels and map
              </a>
            </Act>
          </>
        )}
        <Act aria-expanded={columns} onClick={() => setColumns(!columns)}>
          Columns
        </Act>
        <Act onClick={close}>Close</Act>
      </Flex>
      {columns && seen && <ColumnMap seen={seen} map={map} set={setMap} />}
      {unasked.length > 0 && (
        <Box role="group" aria-label="Size of the pack">
          <Text mb="1">This build does not say how many groups the pack has. Into what are the cells to be sorted?</Text>
          <Flex gap="3">
            {unasked.map((c) => (
              <Box key={c.key} w="amount">
                <label htmlFor={`count-${c.key}`}>{c.label}</label>
                <Input id={`count-${c.key}`} h="touch" bg="sheet" borderColor="rule-strong" inputMode="numeric" value={asked[c.key] ?? ''} onChange={(e) => setAsked({ ...asked, [c.key]: e.target.value.trim() })} />
              </Box>
            ))}
          </Flex>
        </Box>
      )}
      <Flex gap="3" wrap="wrap">
        {RULES.map((r) => {
          const rule = done?.rules.find((x) => x.key === r.key)
          const usual = rule && rule.usual ? (rule.limit === null ? 'no rule' : show(rule.limit, r.quantity, prefs).text) : 'usual'
          return (
            <Box key={r.key} w="amount">
              <label htmlFor={r.key}>{r.label}</label>
              <Input id={r.key} h="touch" bg="sheet" borderColor="rule-strong" placeholder={usual} value={typed[r.key] ?? ''} onChange={(e) => setTyped({ ...typed, [r.key]: e.target.value })} />
              {rule && (
                <Text fontSize="small" color="ink-soft">
                  {rule.words}
                </Text>
              )}
            </Box>
          )
        })}
      </Flex>
      <Text fontSize="small" color="ink-soft">
        Left blank, a rule is the usual one; 0 switches it off.
      </Text>
      {wrong?.p && !wrong.p.ok && <Trouble text={wrong.p.error} />}
      {problem && <Trouble text={problem} />}
      {!done && !problem && counted && <Loading what="Sorting …" />}
      {job && done && !problem && <Result job={job} s={done} fresh={fresh} stop={stop} />}
    </Flex>
  )
}

/** Start a job for these cells and rules, and look at it until it is done. The last result stays
 * until the new one is there; `fresh` says whether it belongs to these rules. */
function useSorting(file: File, key: string) {
  const [shown, setShown] = useState<{ job: SortProgress; file: File; key: string } | null>(null)
  const [problem, setProblem] = useState('')
  const followed = useRef<ReturnType<typeof follow> | null>(null)
  useEffect(() => {
    if (!key) return
    const now = follow<SortProgress>({
      begin: () => upload<SortProgress>('/api/sort/jobs', file, JSON.parse(key) as Record<string, string>),
      wait: followed.current ? TYPING_MS : 0,
      look: (id) => ok(http.GET('/api/sort/jobs/{job_id}', { params: { path: { job_id: id } } })) as Promise<SortProgress>,
      end: (id) => ok(http.DELETE('/api/sort/jobs/{job_id}', { params: { path: { job_id: id } } })),
      take: (job) => {
        if (job.sorting) setShown({ job, file, key })
        if (job.sorting || job.state !== 'running') setProblem(job.error)
      },
      say: (e) => setProblem(problemText(e)),
    })
    followed.current = now
    return now.leave
  }, [file, key])
  const stop = () => followed.current?.stop()
  return { job: shown?.job ?? null, problem, fresh: shown?.file === file && shown.key === key, stop }
}

function ColumnMap(p: { seen: Sniffed; map: Record<string, string> | null; set: (m: Record<string, string>) => void }) {
  const now = p.map ?? Object.fromEntries(p.seen.mapping.map((m) => [m.name, m.column]))
  return (
    <Flex gap="3" wrap="wrap" role="group" aria-label="Columns of the file">
      {OURS.map(([name, label]) => (
        <Box key={name} w="pick">
          <label htmlFor={`column-${name}`}>{label}</label>
          <NativeSelect.Root>
            <NativeSelect.Field id={`column-${name}`} h="touch" bg="sheet" borderColor="rule-strong" value={now[name] ?? ''} onChange={(e) => p.set({ ...now, [name]: e.target.value })}>
              <option value="">not in the file</option>
              {p.seen.header.map((h) => (
                <option key={h}>{h}</option>
              ))}
            </NativeSelect.Field>
            <NativeSelect.Indicator />
          </NativeSelect.Root>
        </Box>
      ))}
    </Flex>
  )
}

const pct = (x: number) => `${(x * 100).toFixed(x < 0.001 ? 4 : 2)} %`
const spreadOf = (values: (number | null)[]) => {
  const known = values.filter((v) => v !== null)
  return known.length ? (Math.max(...known) - Math.min(...known)) / (known.reduce((a, b) => a + b, 0) / known.length) : null
}

function Result({ job, s, fresh, stop }: { job: SortProgress; s: Sorting; fresh: boolean; stop: () => void }) {
  const { prefs } = useWorkshop()
  const ohm = spreadOf(s.groups.map((g) => g.r_ohm))
  const ways: [string, number, number][] = [
    ['as they come', ...(s.as_they_come as [number, number])],
    ['dealt forth and back', ...(s.serpentine as [number, number])],
    ['strongest to poorest', ...(s.greedy as [number, number])],
    ['matched', s.weakest_ah, s.spread],
  ]
  return (
    <>
      <Flex gap="3" align="center" role="status" wrap="wrap">
        <Text>
          {!fresh ? 'Sorting anew; this is the last result' : job.state === 'running' ? 'Still evening out' : job.state === 'done' ? 'Done' : 'Stopped'}: step {job.steps}, {job.seconds.toFixed(1)} s
          {ohm !== null && `; groups' resistance within ${pct(ohm)}`}
        </Text>
        {fresh && job.state === 'running' && <Act onClick={stop}>Stop here</Act>}
      </Flex>
      {s.cautions.map((c) => (
        <Flex key={c} gap="2" align="flex-start" color="caution" role="note">
          <Severity kind="caution" size={18} />
          <Text>{c}</Text>
        </Flex>
      ))}
      <Box maxW="text">
        <Rows label="What sorting gained" heads={['way', 'weakest group', 'spread']} strong={3} rows={ways.map(([way, weakest, spread]) => [way, show(weakest, 'ah', prefs, 4).text, pct(spread)])} />
      </Box>
      <Bars s={s} />
      <Text>
        The weakest group holds {show(s.weakest_ah, 'ah', prefs, 4).text}; it ends every discharge and costs {pct(Math.max(0, s.lost_share))} of what the cells hold. {s.rejects.length} cells rejected, {s.spare.length} spare. Rejected
        cells are not revived: store them apart, fire-safe.
      </Text>
      <Rows
        label="Groups"
        heads={['group', 'capacity', 'resistance', 'loses a day', 'cells, in order of assembly from minus']}
        left={[0, 4]}
        rows={[
          ...s.groups.map((g) => [String(g.number), show(g.capacity_ah, 'ah', prefs, 5).text, show(g.r_ohm, 'ohm', prefs).text, show(g.fade_v_day, 'v', prefs).text, g.cells.join(' ')]),
          ...s.rejects.map((r) => ['out', '', '', '', `${r.id}: ${r.reason}`]),
        ]}
      />
    </>
  )
}

/** Deviation of each group from the mean, on one scale. */
function Bars({ s }: { s: Sorting }) {
  const { ref, w } = useSize<HTMLDivElement>(600, 120)
  const mean = s.groups.reduce((sum, g) => sum + g.capacity_ah, 0) / s.groups.length
  const most = Math.max(...s.groups.map((g) => Math.abs(g.capacity_ah / mean - 1)), 1e-6)
  const step = (w - 90) / s.groups.length
  return (
    <Box ref={ref} h="figure" position="relative">
      <svg width={w} height="120" role="img" aria-label={`Groups within ${pct(most)} of their mean`} style={{ position: 'absolute', inset: 0 }}>
        <path d={`M80 60H${w - 8}`} stroke={paint('ink')} strokeWidth="1.5" />
        <T x="76" y="20" textAnchor="end" fontSize={13} fill={paint('ink.soft')}>
          +{pct(most)}
        </T>
        <T x="76" y="112" textAnchor="end" fontSize={13} fill={paint('ink.soft')}>
          −{pct(most)}
        </T>
        {s.groups.map((g, i) => {
          const y = ((g.capacity_ah / mean - 1) / most) * 46
          return <rect key={g.number} x={82 + i * step} y={Math.min(60, 60 - y)} width={Math.max(2, step - 4)} height={Math.max(1, Math.abs(y))} fill={paint('choice')} />
        })}
        {step > 22 &&
          s.groups.map((g, i) => (
            <T key={g.number} x={82 + (i + 0.42) * step} y="118" textAnchor="middle" fontSize={13} fontFamily={DIGITS} fill={paint('ink')}>
              {g.number}
            </T>
          ))}
      </svg>
    </Box>
  )
}
