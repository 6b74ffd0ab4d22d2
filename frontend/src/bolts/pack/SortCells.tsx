import { Box, Flex, Input, Table, Text } from '@chakra-ui/react'
import { useEffect, useState } from 'react'
import { type Sorting, upload, uploadForFile } from '../../api/client'
import { problemText } from '../../api/hooks'
import { at } from '../../lib/path'
import { parseQuantity, show, unitsOf } from '../../lib/units'
import { DIGITS, paint } from '../../theme/paint'
import { Act, Loading, Trouble } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { T } from '../../ui/svgtext'
import { useSize } from '../../ui/useSize'

const RULES = [
  { key: 'capacity_min_ah', label: 'capacity at least', quantity: 'ah', start: '' },
  { key: 'r_max_ohm', label: 'resistance at most', quantity: 'ohm', start: '' },
  { key: 'fade_max_v_day', label: 'loses a day at most', quantity: 'v', start: '3 mV' },
  { key: 'rested_min_v', label: 'rested at least', quantity: 'v', start: '2.5 V' },
] as const

/** Measured cells into matched groups: the rules that reject, the groups, and what it gained. */
export function SortCells({ file, close }: { file: File; close: () => void }) {
  const { bench, prefs } = useWorkshop()
  const [typed, setTyped] = useState<Record<string, string>>(Object.fromEntries(RULES.map((r) => [r.key, r.start])))
  const [done, setDone] = useState<Sorting | null>(null)
  const [problem, setProblem] = useState('')
  const series = String(at(bench.doc, 'pack.series') ?? 1)
  const parallel = String(at(bench.doc, 'pack.parallel') ?? 1)
  const parsed = RULES.map((r) => ({ r, p: typed[r.key]?.trim() ? parseQuantity(typed[r.key]!, r.quantity, unitsOf(r.quantity)[0]!) : null }))
  const wrong = parsed.find((x) => x.p && !x.p.ok)
  const body: Record<string, string> = { series, parallel }
  for (const { r, p } of parsed) if (p?.ok) body[r.key] = String(p.si)
  const key = JSON.stringify(body)
  useEffect(() => {
    let gone = false
    upload<Sorting>('/api/sort', file, JSON.parse(key) as Record<string, string>)
      .then((s) => !gone && (setDone(s), setProblem('')))
      .catch((e: Error) => !gone && setProblem(problemText(e)))
    return () => {
      gone = true
    }
  }, [file, key])
  const save = async () => {
    const blob = await uploadForFile('/api/sort/assignment', file, body)
    const link = document.createElement('a')
    link.href = URL.createObjectURL(blob)
    link.download = 'assignment.csv'
    link.click()
    URL.revokeObjectURL(link.href)
  }
  return (
    <Flex direction="column" p="3" gap="3" flex="1">
      <Flex align="center" gap="2" wrap="wrap">
        <Text textStyle="title" fontSize="19px" flex="1">
          {file.name}: {series}s{parallel}p
        </Text>
        <Act tone="choice" disabled={!done || !!problem} onClick={() => void save().catch((e: Error) => setProblem(problemText(e)))}>
          Assignment as CSV
        </Act>
        <Act onClick={close}>Close</Act>
      </Flex>
      <Flex gap="3" wrap="wrap">
        {RULES.map((r) => (
          <Box key={r.key} w="150px">
            <label htmlFor={r.key}>{r.label}</label>
            <Input id={r.key} h="44px" bg="sheet" borderColor="rule-strong" placeholder="no rule" value={typed[r.key]} onChange={(e) => setTyped({ ...typed, [r.key]: e.target.value })} />
          </Box>
        ))}
      </Flex>
      {wrong?.p && !wrong.p.ok && <Trouble text={wrong.p.error} />}
      {problem && <Trouble text={problem} />}
      {!done && !problem && <Loading what="Sorting …" />}
      {done && !problem && (
        <>
          <Gain s={done} />
          <Bars s={done} />
          <Text>
            The weakest group holds {show(done.weakest_ah, 'ah', prefs, 4).text}; it ends every discharge. {done.rejects.length} cells rejected, {done.spare.length} spare. Rejected cells are not
            revived: store them apart, fire-safe.
          </Text>
          <Groups s={done} />
        </>
      )}
    </Flex>
  )
}

const pct = (x: number) => `${(x * 100).toFixed(x < 0.001 ? 4 : 2)} %`

function Gain({ s }: { s: Sorting }) {
  const { prefs } = useWorkshop()
  const rows: [string, number, number][] = [
    ['as they come', ...(s.as_they_come as [number, number])],
    ['dealt forth and back', ...(s.serpentine as [number, number])],
    ['strongest to poorest', ...(s.greedy as [number, number])],
    ['matched', s.weakest_ah, s.spread],
  ]
  return (
    <Table.Root size="sm" maxW="520px" aria-label="What sorting gained">
      <Table.Header>
        <Table.Row bg="transparent">
          {['way', 'weakest group', 'spread'].map((t) => (
            <Table.ColumnHeader key={t} color="ink-soft" textAlign={t === 'way' ? 'start' : 'end'}>
              {t}
            </Table.ColumnHeader>
          ))}
        </Table.Row>
      </Table.Header>
      <Table.Body>
        {rows.map(([way, weakest, spread]) => (
          <Table.Row key={way} bg={way === 'matched' ? 'choice-wash' : 'transparent'}>
            <Table.Cell fontWeight={way === 'matched' ? '600' : '400'}>{way}</Table.Cell>
            <Table.Cell textAlign="end">{show(weakest, 'ah', prefs, 4).text}</Table.Cell>
            <Table.Cell textAlign="end">{pct(spread)}</Table.Cell>
          </Table.Row>
        ))}
      </Table.Body>
    </Table.Root>
  )
}

/** Deviation of each group from the mean, as they come and matched, on one scale. */
function Bars({ s }: { s: Sorting }) {
  const { ref, w } = useSize<HTMLDivElement>(600, 120)
  const mean = s.groups.reduce((sum, g) => sum + g.capacity_ah, 0) / s.groups.length
  const most = Math.max(...s.groups.map((g) => Math.abs(g.capacity_ah / mean - 1)), 1e-6)
  const step = (w - 90) / s.groups.length
  return (
    <Box ref={ref} h="120px" position="relative">
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

function Groups({ s }: { s: Sorting }) {
  const { prefs } = useWorkshop()
  return (
    <Box overflowX="auto" tabIndex={0} role="region" aria-label="Groups">
      <Table.Root size="sm">
        <Table.Header>
          <Table.Row bg="transparent">
            {['group', 'capacity', 'resistance', 'cells, in order of assembly'].map((t) => (
              <Table.ColumnHeader key={t} color="ink-soft">
                {t}
              </Table.ColumnHeader>
            ))}
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {s.groups.map((g) => (
            <Table.Row key={g.number} bg="transparent">
              <Table.Cell fontWeight="600">{g.number}</Table.Cell>
              <Table.Cell>{show(g.capacity_ah, 'ah', prefs, 5).text}</Table.Cell>
              <Table.Cell>{show(g.r_ohm, 'ohm', prefs).text}</Table.Cell>
              <Table.Cell>{g.cells.join(' ')}</Table.Cell>
            </Table.Row>
          ))}
          {s.rejects.map((r) => (
            <Table.Row key={r.id} bg="transparent">
              <Table.Cell color="stop">out</Table.Cell>
              <Table.Cell colSpan={2}>{r.reason}</Table.Cell>
              <Table.Cell>{r.id}</Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
    </Box>
  )
}
