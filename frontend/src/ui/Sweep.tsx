import { Box, Flex, Input, NativeSelect, Text } from '@chakra-ui/react'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { http, ok } from '../api/client'
import { problemText } from '../api/hooks'
import type { components } from '../api/schema'
import { at } from '../lib/path'
import { plainNumber, show } from '../lib/units'
import { chokePaint, chokeWord, hatchFill, paint } from '../theme/paint'
import { Act, Noted, Trouble } from './atoms'
import { specAt, useWorkshop, wordsFor } from './bench'
import { Plot } from './Plot'
import { T } from './svgtext'
import { useSize } from './useSize'

type View = components['schemas']['SweepView']
interface Range {
  path: string
  from: string
  to: string
}

/** Where a sweep of a value begins and ends while nobody says: about a third to either side. */
function around(doc: unknown, path: string): [string, string] {
  const raw = at(doc, path) as number | { amount: number | null } | null
  const now = typeof raw === 'number' ? raw : (raw?.amount ?? 0)
  if (path.endsWith('grade_pct')) return ['-5', '30']
  if (path.endsWith('start_soc')) return ['0.1', '1']
  if (path.endsWith('fw_id_a')) return ['0', '150']
  if (!now) return ['1', '10']
  const round = (x: number) => (typeof raw === 'number' ? String(Math.max(1, Math.round(x))) : String(Number(x.toPrecision(3))))
  return [round(now * 0.67), round(now * 1.33)]
}

/** The best that stops nothing, where that was looked for and found; and what is said of it then. */
const shown = (d: View) => d.clear ?? d.best ?? null
const freed = (d: View) => (d.stops?.length && d.clear != null ? ' without a stop' : '')

/** One or two values swept: a curve or a map of a result with the choke of each point; read, then taken. */
export function Sweep() {
  const { bench, prefs, fields, change, send } = useWorkshop()
  const offered = useQuery({ queryKey: ['sweeps'], staleTime: Infinity, queryFn: () => ok(http.GET('/api/sweeps')) }).data
  const start = (path: string): Range => {
    const [from, to] = around(bench.doc, path)
    return { path, from, to }
  }
  const [x, setX] = useState<Range>(() => start('gear.rear_teeth'))
  const [y, setY] = useState<Range | null>(null)
  const [result, setResult] = useState('top_speed')
  const [cursor, setCursor] = useState<number | null>(null)
  const n = (t: string) => plainNumber(t) ?? NaN
  const good = [x.from, x.to, ...(y ? [y.from, y.to] : [])].every((t) => t.trim() !== '' && Number.isFinite(n(t)))
  const query = { x: x.path, x_from: n(x.from), x_to: n(x.to), result, ...(y ? { y: y.path, y_from: n(y.from), y_to: n(y.to), x_n: 41, y_n: 31 } : { x_n: 61 }) }
  const got = useQuery({
    queryKey: ['sweep', bench.id, bench.version, query],
    enabled: good,
    retry: 0,
    placeholderData: keepPreviousData,
    queryFn: () => ok(http.GET('/api/builds/{build_id}/sweep', { params: { path: { build_id: bench.id }, query } })),
  })
  const d = got.data
  const take = (v: View, i: number) => {
    const column = i % v.x.values.length
    const row = Math.floor(i / v.x.values.length)
    const one = (axis: View['x'], value: number) => ({ path: axis.path, value: specAt(fields, axis.path)?.kind === 'count' ? Math.round(value) : { amount: value, origin: 'guess', tolerance: 0 } })
    const changes = [one(v.x, v.x.values[column]!), ...(v.y ? [one(v.y, v.y.values[row]!)] : [])]
    const go = () => change(changes, 'From a sweep')
    if (bench.trial) go()
    else send({ do: 'try' }, go)
  }
  const at_ = cursor ?? (d ? shown(d) : null)
  const words = (v: View, i: number) => {
    const column = i % v.x.values.length
    const row = Math.floor(i / v.x.values.length)
    return `${v.x.label} ${show(v.x.values[column]!, v.x.quantity, prefs).text}${v.y ? `, ${v.y.label} ${show(v.y.values[row]!, v.y.quantity, prefs).text}` : ''}: ${v.values[i] == null ? 'not reached' : show(v.values[i]!, v.quantity, prefs).text}${v.chokes[i] ? `, held by ${chokeWord(v.chokes[i]!)}` : ''}`
  }
  return (
    <Box>
      <Flex gap="3" wrap="wrap" align="end">
        <Pick label="Result" value={result} set={setResult} rows={offered?.results.map((r) => [r.key!, r.label!]) ?? []} />
        <Ends label="Across" range={x} set={setX} start={start} paths={offered?.values.map((v) => v.key!) ?? []} />
        {y ? (
          <>
            <Ends label="Up" range={y} set={setY} start={start} paths={offered?.values.map((v) => v.key!) ?? []} />
            <Act onClick={() => setY(null)}>Curve only</Act>
          </>
        ) : (
          <Act onClick={() => setY(start(x.path === 'drive.controller.phase_a' ? 'gear.rear_teeth' : 'drive.controller.phase_a'))}>Second value</Act>
        )}
      </Flex>
      {!good && <Text role="alert" color="stop">From and to are plain numbers, such as 40 or 0.25.</Text>}
      {got.error && <Trouble text={problemText(got.error)} />}
      {d && at_ != null && (
        <Flex gap="3" align="center" wrap="wrap" my="2">
          <Text fontWeight="600" aria-live="polite">
            {cursor === null ? `Best${freed(d)} – ` : ''}
            {words(d, at_)}
          </Text>
          <Act aria-label="Take this point as a what-if" onClick={() => take(d, at_)}>
            Take as what-if
          </Act>
        </Flex>
      )}
      {d?.best != null && (d.stops?.length ?? 0) > 0 && (
        <Noted kind="stop">
          {words(d, d.best)}. That would be the best, and it brings what stops the bike: {d.stops!.join('; ')}.{d.clear == null ? ' No point was found that brings none.' : ''}
        </Noted>
      )}
      {d && !d.y && <Curve d={d} setCursor={setCursor} label={wordsFor(fields, d.x.path)} />}
      {d && d.y && <MapView d={d} cursor={cursor} setCursor={setCursor} />}
    </Box>
  )
}

function Curve({ d, setCursor, label }: { d: View; setCursor: (i: number | null) => void; label: string }) {
  const { prefs } = useWorkshop()
  const ribbon: { start: number; end: number; choke: string }[] = []
  d.x.values.forEach((v, i) => {
    const last = ribbon.at(-1)
    if (last && last.choke === d.chokes[i]) last.end = v
    else if (d.chokes[i]) ribbon.push({ start: last ? last.end : v, end: v, choke: d.chokes[i]! })
  })
  const near = (v: number | null) => setCursor(v === null ? null : d.x.values.reduce((best, x, i) => (Math.abs(x - v) < Math.abs(d.x.values[best]! - v) ? i : best), 0))
  return (
    <Box h="column">
      <Plot
        prefs={prefs}
        label={`${d.label} over ${label}`}
        from={d.x.values[0]}
        x={{ quantity: d.x.quantity, label: d.x.label }}
        y={{ quantity: d.quantity, label: d.label }}
        lines={[{ label: '', x: d.x.values, y: d.values.map((v) => v ?? NaN), colour: paint('ink'), width: 2.5 }]}
        ribbon={ribbon.length ? ribbon : undefined}
        verticals={d.x.now != null && d.x.now >= d.x.values[0]! && d.x.now <= d.x.values.at(-1)! ? [{ at: d.x.now, label: 'now' }] : []}
        onCursor={near}
      />
    </Box>
  )
}

/** Two values: lighter is better; borders are drawn where the choke changes, and each region is named. */
function MapView({ d, cursor, setCursor }: { d: View; cursor: number | null; setCursor: (i: number | null) => void }) {
  const { prefs } = useWorkshop()
  const { ref, w, h } = useSize<HTMLDivElement>()
  const nx = d.x.values.length
  const ny = d.y!.values.length
  const known = d.values.filter((v): v is number => v != null)
  const low = Math.min(...known)
  const span = Math.max(...known) - low || 1
  const left = 70
  const cw = (w - left - 10) / nx
  const ch = (h - 40) / ny
  const place = (i: number): [number, number] => [left + (i % nx) * cw, h - 34 - (Math.floor(i / nx) + 1) * ch]
  const shade = (v: number) => {
    const share = (v - low) / span
    return 0.08 + 0.62 * (d.better === 'more' ? share : 1 - share)
  }
  const pick = (e: React.PointerEvent<SVGSVGElement>) => {
    const box = e.currentTarget.getBoundingClientRect()
    const cx = Math.floor((e.clientX - box.left - left) / cw)
    const cy = Math.floor((h - 34 - (e.clientY - box.top)) / ch)
    setCursor(cx >= 0 && cx < nx && cy >= 0 && cy < ny ? cy * nx + cx : null)
  }
  const key = (e: React.KeyboardEvent) => {
    const step = { ArrowRight: 1, ArrowLeft: -1, ArrowUp: nx, ArrowDown: -nx }[e.key]
    if (step === undefined) return
    e.preventDefault()
    setCursor(Math.min(Math.max((cursor ?? shown(d) ?? 0) + step, 0), nx * ny - 1))
  }
  const names = [...new Set(d.chokes)].filter(Boolean)
  const mark = (i: number, colour: string, size: number) => {
    const [px, py] = place(i)
    return <path d={`M${px + cw / 2 - size} ${py + ch / 2}h${2 * size}m${-size} ${-size}v${2 * size}`} stroke={colour} strokeWidth="2.5" fill="none" />
  }
  const text = (v: number, q: string) => show(v, q, prefs).text
  return (
    <Box>
      <Box ref={ref} h="column" position="relative">
        <svg width={w} height={h} role="img" tabIndex={0} aria-label={`Map of ${d.label}`} onPointerMove={pick} onPointerDown={pick} onKeyDown={key} style={{ position: 'absolute', inset: 0, touchAction: 'pan-y' }}>
          {d.values.map((v, i) => {
            const [px, py] = place(i)
            return v == null ? null : <rect key={i} x={px} y={py} width={cw + 0.6} height={ch + 0.6} fill={paint('choice')} opacity={shade(v)} shapeRendering="crispEdges" />
          })}
          {d.chokes.map((c, i) => {
            const [px, py] = place(i)
            const right = (i % nx) + 1 < nx && d.chokes[i + 1] !== c
            const up = i + nx < nx * ny && d.chokes[i + nx] !== c
            return right || up ? <path key={i} d={`${right ? `M${px + cw} ${py}v${ch}` : ''}${up ? `M${px} ${py}h${cw}` : ''}`} stroke={paint('ink')} strokeWidth="1.6" /> : null
          })}
          {names.map((c) => {
            const own = d.chokes.map((x, i) => (x === c ? i : -1)).filter((i) => i >= 0)
            const middle = own[Math.floor(own.length / 2)]!
            const [px, py] = place(middle)
            return own.length > 12 ? (
              <T key={c} x={Math.min(Math.max(px, left + 20), w - 40)} y={py} textAnchor="middle" fontSize={15} fontWeight="600" fill={chokePaint(c)} stroke={paint('sheet')} strokeWidth="5" paintOrder="stroke">
                {chokeWord(c)}
              </T>
            ) : null
          })}
          {shown(d) != null && mark(shown(d)!, paint('ink'), 9)}
          {cursor != null && mark(cursor, paint('choke'), 7)}
          <g fontSize={13} fill={paint('ink.soft')}>
            <T x={left} y={h - 18}>
              {text(d.x.values[0]!, d.x.quantity)}
            </T>
            <T x={w - 10} y={h - 18} textAnchor="end">
              {text(d.x.values.at(-1)!, d.x.quantity)}
            </T>
            <T x={(w + left) / 2} y={h - 4} textAnchor="middle" fontWeight="600">
              {d.x.label}
            </T>
            <T x={left - 6} y={h - 38} textAnchor="end">
              {text(d.y!.values[0]!, d.y!.quantity)}
            </T>
            <T x={left - 6} y={16} textAnchor="end">
              {text(d.y!.values.at(-1)!, d.y!.quantity)}
            </T>
          </g>
        </svg>
      </Box>
      <Flex gap="3" wrap="wrap">
        <Text fontSize="small">
          Up: {d.y!.label}. Darker is better; + the best{freed(d)}. {text(low, d.quantity)} to {text(low + span, d.quantity)}.
        </Text>
        {names.map((c) => (
          <Flex key={c} gap="1" align="center" fontSize="small">
            <svg width="14" height="14" aria-hidden="true">
              <rect width="14" height="14" fill={hatchFill(c)} stroke={chokePaint(c)} />
            </svg>
            {chokeWord(c)}
          </Flex>
        ))}
      </Flex>
    </Box>
  )
}

function Pick({ label, value, set, rows }: { label: string; value: string; set: (v: string) => void; rows: [string, string][] }) {
  return (
    <Box w="field">
      <Text textStyle="label">{label}</Text>
      <NativeSelect.Root>
        <NativeSelect.Field aria-label={label} h="touch" bg="sheet" borderColor="rule-strong" value={value} onChange={(e) => set(e.target.value)}>
          {rows.map(([key, name]) => (
            <option key={key} value={key}>
              {name}
            </option>
          ))}
        </NativeSelect.Field>
      </NativeSelect.Root>
    </Box>
  )
}

function Ends({ label, range, set, start, paths }: { label: string; range: Range; set: (r: Range) => void; start: (path: string) => Range; paths: string[] }) {
  const { fields } = useWorkshop()
  return (
    <Flex gap="1" align="end" wrap="wrap">
      <Pick label={label} value={range.path} set={(path) => set(start(path))} rows={paths.map((p) => [p, wordsFor(fields, p)])} />
      {(['from', 'to'] as const).map((end) => (
        <Box key={end}>
          <Text textStyle="label">{end}</Text>
          <Input aria-label={`${label}, ${end}`} value={range[end]} onChange={(e) => set({ ...range, [end]: e.target.value })} w="digits" h="touch" bg="sheet" inputMode="decimal" />
        </Box>
      ))}
    </Flex>
  )
}
