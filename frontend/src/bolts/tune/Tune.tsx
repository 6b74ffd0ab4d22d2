import { Box, Flex, Input, Table, Text } from '@chakra-ui/react'
import { scaleLinear } from 'd3-scale'
import { useState } from 'react'
import type { Drawings } from '../../api/client'
import { useRegisters } from '../../api/hooks'
import { at } from '../../lib/path'
import { digits, parseQuantity, show, shownUnit, toUnit } from '../../lib/units'
import { paint } from '../../theme/paint'
import { Act } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { Missing, Workbench } from '../../ui/Workbench'
import { useDraft } from '../../ui/useDraft'
import { useSize } from '../../ui/useSize'
import { T } from '../../ui/svgtext'
import { dragHandlers } from '../../ui/drag'

type T = NonNullable<Drawings['tune']>
type Row = T['rows'][number]

export function Tune() {
  const { bench } = useWorkshop()
  const d = bench.assessment.drawings.tune
  const forms = useRegisters().data?.parameters ?? []
  const stops = bench.assessment.bolts.flatMap((b) => b.findings.filter((f) => f.severity === 'stop'))
  const [known, setKnown] = useState(false)
  const file = (kind: string) => `/api/builds/${bench.id}/parameters?kind=${kind}${stops.length ? '&anyway=true' : ''}`
  const ready = !!d?.thrust_n.length && (stops.length === 0 || known)
  const links = (
    <Flex gap="2" wrap="wrap" align="center">
      {d && stops.length > 0 && (
        <Act aria-pressed={known} bg={known ? 'choice-wash' : 'sheet'} onClick={() => setKnown(!known)}>
          {stops.length} stop{stops.length > 1 ? 's stand' : ' stands'}: {known ? 'taken all the same, the file says so' : 'take it all the same?'}
        </Act>
      )}
      {forms.map(({ key, label }) => (
        <Act key={key} asChild disabled={!ready}>
          <a href={ready ? file(key) : undefined} download>
            {label}
          </a>
        </Act>
      ))}
    </Flex>
  )
  return (
    <Workbench parts={['drive.controller', 'drive.motor', 'tune']} tools={links} under={d && <Params d={d} />}>
      {d && d.thrust_n.length ? <Curve d={d} /> : <Missing />}
    </Workbench>
  )
}

/** Thrust over twist at three speeds; the points of the curve are dragged. */
function Curve({ d }: { d: T }) {
  const { ref, w, h } = useSize<HTMLDivElement>()
  const { change, prefs } = useWorkshop()
  const [drag, setDrag] = useState<{ i: number; x: number; y: number } | null>(null)
  const m = { l: 64, r: 120, t: 30, b: 42 }
  const most = Math.max(1, ...d.thrust_n.flatMap(([, n]) => n as number[]))
  const points = (d.points as [number, number][]).map((p, i) => (drag?.i === i ? ([drag.x, drag.y] as [number, number]) : p))
  const X = (t: number) => m.l + t * (w - m.l - m.r)
  const Y = (s: number) => h - m.b - s * (h - m.b - m.t)
  const save = (next: [number, number][]) => change([{ path: 'tune.throttle', value: next }], 'Throttle curve')
  const clamp = (i: number, x: number, y: number) => {
    const lo = i === 0 ? 0 : points[i - 1]![0] + 0.02
    const hi = i === points.length - 1 ? 1 : points[i + 1]![0] - 0.02
    const fx = i === 0 ? 0 : i === points.length - 1 ? 1 : Math.min(Math.max(x, lo), hi)
    return { i, x: Math.round(fx * 100) / 100, y: Math.round(Math.min(Math.max(y, 0), 1) * 100) / 100 }
  }
  const move = (e: React.PointerEvent) => {
    if (!drag) return
    const box = e.currentTarget.getBoundingClientRect()
    setDrag(clamp(drag.i, (e.clientX - box.left - m.l) / (w - m.l - m.r), (h - m.b - (e.clientY - box.top)) / (h - m.b - m.t)))
  }
  const drop = () => {
    if (!drag) return
    setDrag(null)
    save(points)
  }
  const nudge = (i: number, e: React.KeyboardEvent) => {
    const by = { ArrowUp: [0, 0.02], ArrowDown: [0, -0.02], ArrowLeft: [-0.02, 0], ArrowRight: [0.02, 0] }[e.key]
    if (!by) return
    e.preventDefault()
    const p = clamp(i, points[i]![0] + by[0]!, points[i]![1] + by[1]!)
    save(points.map((q, k) => (k === i ? [p.x, p.y] : q)))
  }
  const add = () => {
    const gaps = points.slice(1).map((p, i) => p[0] - points[i]![0])
    const i = gaps.indexOf(Math.max(...gaps))
    const mid: [number, number] = [(points[i]![0] + points[i + 1]![0]) / 2, (points[i]![1] + points[i + 1]![1]) / 2]
    save([...points.slice(0, i + 1), mid, ...points.slice(i + 1)])
  }
  // Labels at the right end, pushed apart where curves end together.
  const tags = d.thrust_n.map(([, n]) => Y((n as number[]).at(-1)! / most) + 5)
  for (let i = 1; i < tags.length; i++) tags[i] = Math.max(tags[i]!, tags[i - 1]! + 18)
  return (
    <Box ref={ref} flex="1" minH="inherit" position="relative">
      <svg width={w} height={h} role="group" aria-label="Throttle curve in newtons" style={{ position: 'absolute', inset: 0, touchAction: drag ? 'none' : 'pan-y' }} {...dragHandlers(!!drag, move, drop)}>
        <g style={{ fontSize: 13 }} fill={paint('ink.soft')}>
          {[0, 0.25, 0.5, 0.75, 1].map((t) => (
            <g key={t}>
              <path d={`M${X(t)} ${m.t}V${Y(0)}`} stroke={paint('rule')} />
              <T x={X(t)} y={Y(0) + 18} textAnchor="middle">
                {t * 100}
              </T>
            </g>
          ))}
          {scaleLinear([0, most], [0, 1])
            .ticks(5)
            .map((n) => (
              <g key={n}>
                <path d={`M${X(0)} ${Y(n / most)}H${X(1)}`} stroke={paint('rule')} />
                <T x={m.l - 8} y={Y(n / most) + 4} textAnchor="end">
                  {show(n, 'n', prefs).number}
                </T>
              </g>
            ))}
          <T x={m.l - 8} y="16" fontWeight="600">
            thrust, N
          </T>
          <T x={X(1)} y={h - 6} textAnchor="end" fontWeight="600">
            twist, %
          </T>
        </g>
        {d.thrust_n.map(([speed, n], k) => (
          <g key={String(speed)}>
            <path
              d={(n as number[]).map((v, i) => `${i ? 'L' : 'M'}${X(d.twist[i]!)} ${Y(v / most)}`).join('')}
              fill="none"
              stroke={paint('ink')}
              strokeWidth={k === 0 ? 3 : 1.8}
              strokeDasharray={['', '9 4', '3 4'][k]}
            />
            <T x={X(1) + 8} y={tags[k]!} fontSize={14} fontWeight="600" fill={paint('ink')}>
              {k === 0 ? 'from rest' : `at ${show(speed as number, 'm_s', prefs).text}`}
            </T>
          </g>
        ))}
        <path d={points.map(([x, y], i) => `${i ? 'L' : 'M'}${X(x)} ${Y(y)}`).join('')} fill="none" stroke={paint('choice')} strokeWidth="2.5" />
        {points.map(([x, y], i) => (
          <g key={i} role="slider" tabIndex={0} aria-label={`Curve point ${i + 1}`} aria-valuenow={Math.round(y * 100)} aria-valuemin={0} aria-valuemax={100} aria-valuetext={`twist ${Math.round(x * 100)} %, torque ${Math.round(y * 100)} %`} style={{ cursor: 'move' }} onPointerDown={() => setDrag({ i, x, y })} onKeyDown={(e) => nudge(i, e)}>
            <circle cx={X(x)} cy={Y(y)} r="22" fill="transparent" />
            <circle cx={X(x)} cy={Y(y)} r="8" fill={paint('choice')} stroke={paint('sheet')} strokeWidth="2.5" />
          </g>
        ))}
      </svg>
      <Flex position="absolute" right="10px" bottom="50px" gap="2" direction="column" className="no-print">
        <Act onClick={add} disabled={points.length >= 8}>
          Add a point
        </Act>
        <Act
          onClick={() =>
            save([
              [0, 0],
              [1, 1],
            ])
          }
        >
          Straight
        </Act>
      </Flex>
    </Box>
  )
}

function Params({ d }: { d: T }) {
  return (
    <Box pb="3" overflowX="auto" tabIndex={0} role="region" aria-label="Parameters">
      <Table.Root size="sm">
        <Table.Header>
          <Table.Row bg="transparent">
            {['object', 'parameter', 'recommended', 'within', 'because', 'in the build', 'set by hand'].map((t) => (
              <Table.ColumnHeader key={t} color="ink-soft">
                {t}
              </Table.ColumnHeader>
            ))}
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {d.rows.map((r) => (
            <ParamRow key={r.name} row={r} />
          ))}
        </Table.Body>
      </Table.Root>
    </Box>
  )
}

function ParamRow({ row }: { row: Row }) {
  const { prefs, change, bench, send } = useWorkshop()
  const tryIt = (r: Row) => {
    const go = () => change([{ path: r.path, value: { amount: r.recommended, origin: 'guess', tolerance: 0 } }], `Recommended ${r.label}`)
    if (bench.trial) go()
    else send({ do: 'try' }, go)
  }
  const unit = shownUnit(row.quantity, row.recommended, prefs)
  const now = row.chosen === null ? '' : digits(toUnit(row.chosen, unit), 5)
  const [draft, setDraft] = useDraft(now)
  const parsed = draft?.trim() ? parseQuantity(draft, row.quantity, unit) : null
  const out = parsed?.ok ? parsed.si < row.lo || parsed.si > row.hi : false
  const error = parsed && !parsed.ok ? parsed.error : out ? `${show(row.lo, row.quantity, prefs).text} to ${show(row.hi, row.quantity, prefs).text}` : ''
  const commit = () => {
    if (draft === null || draft === now || error) return setDraft(error ? draft : null)
    const others = ((at(bench.doc, 'tune.chosen') as { name: string; value: number }[]) ?? []).filter((c) => c.name !== row.name)
    change([{ path: 'tune.chosen', value: parsed?.ok ? [...others, { name: row.name, value: parsed.si }] : others }], row.label)
  }
  return (
    <Table.Row bg="transparent">
      <Table.Cell fontFamily="mono" fontSize="13px">
        0x{row.index.toString(16).toUpperCase()}
      </Table.Cell>
      <Table.Cell fontWeight="600">{row.label}</Table.Cell>
      <Table.Cell>
        <Text textStyle="digits" fontSize="18px" textDecoration={row.chosen !== null ? 'line-through' : undefined}>
          {show(row.recommended, row.quantity, prefs, 4).text}
        </Text>
      </Table.Cell>
      <Table.Cell whiteSpace="nowrap" color="ink-soft">
        {row.least == null && row.most == null ? '–' : `${row.least == null ? '' : show(row.least, row.quantity, prefs).number} … ${row.most == null ? '' : show(row.most, row.quantity, prefs).text}`}
      </Table.Cell>
      <Table.Cell>{row.constraint}</Table.Cell>
      <Table.Cell>
        {row.build == null ? (
          <Text color="ink-soft">{row.path ? 'as recommended' : '–'}</Text>
        ) : (
          <Flex gap="2" align="center">
            <Text color={Math.abs(row.build - row.recommended) > 0.005 * Math.abs(row.recommended) + 1e-9 ? 'choice' : 'ink'} whiteSpace="nowrap">
              {show(row.build, row.quantity, prefs, 4).text}
            </Text>
            {Math.abs(row.build - row.recommended) > 0.005 * Math.abs(row.recommended) + 1e-9 && row.name !== 'phase_a' && (
              <Act px="2" aria-label={`try the recommended ${row.label}`} onClick={() => tryIt(row)}>
                try
              </Act>
            )}
          </Flex>
        )}
      </Table.Cell>
      <Table.Cell>
        <Input
          h="44px"
          w="120px"
          bg="sheet"
          borderColor={error ? 'stop' : 'rule-strong'}
          placeholder="as left"
          aria-label={`${row.label}, set by hand`}
          aria-invalid={!!error}
          value={draft ?? now}
          onChange={(e) => setDraft(e.target.value)}
          onBlur={commit}
          onKeyDown={(e) => e.key === 'Enter' && commit()}
        />
        {error && (
          <Text fontSize="13px" color="stop" role="alert">
            {error}
          </Text>
        )}
      </Table.Cell>
    </Table.Row>
  )
}
