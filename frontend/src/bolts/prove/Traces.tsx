import { Box, Flex, Text } from '@chakra-ui/react'
import { scaleLinear } from 'd3-scale'
import { useState } from 'react'
import type { RibbonPart } from '../../api/client'
import { refusal, useLogs } from '../../api/hooks'
import { type Axis, useHeld, useTrace, type Window } from '../../api/traces'
import { stringAt } from '../../lib/path'
import { show, type UnitPrefs } from '../../lib/units'
import { chokePaint, chokeWord, hatchFill, paint } from '../../theme/paint'
import { Act, Loading, Trouble } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { dragHandlers } from '../../ui/drag'
import { NamePick } from '../../ui/NamePick'
import { T } from '../../ui/svgtext'
import { useSize } from '../../ui/useSize'
import { Between } from './Between'

const ROW = 58
const LEFT = 112
const ZOOM = 1.6

type Span = [number, number]

/** The chosen log, every channel over one axis: dragged along, zoomed, read at the cursor; and what held the bike. */
export function Traces() {
  const { bench, prefs, send, busy } = useWorkshop()
  const logs = useLogs(bench.id, stringAt(bench.doc, 'prove.log_id')).data ?? []
  const [picked, setPicked] = useState('')
  const log = logs.some((l) => l.id === picked) ? picked : stringAt(bench.doc, 'prove.log_id')
  const [axis, setAxis] = useState<Axis>('time')
  const [span, setSpan] = useState<Span | null>(null)
  const query = useTrace(bench.id, log, axis, span)
  if (!log) return <Text py="3">No log is chosen. Import one, or choose one under Splits and logs.</Text>
  const wrong = refusal(query)
  if (wrong) return <Trouble text={wrong} />
  const w = query.data
  if (!w) return <Loading what="Reading the log …" />
  const whole: Span = [w.whole[0], w.whole[1]]
  const now = span ?? whole
  const zoom = (by: number, at = (now[0] + now[1]) / 2) => setSpan(within([at - (at - now[0]) / by, at + (now[1] - at) / by], whole))
  const pan = (share: number) => setSpan(within([now[0] + share * (now[1] - now[0]), now[1] + share * (now[1] - now[0])], whole))
  return (
    <Box py="3">
      <Flex gap="2" wrap="wrap" align="center" mb="2">
        <NamePick label="Log" rows={logs} value={log} pick={(id) => (setPicked(id), setSpan(null))} />
        {(['time', 'distance'] as const).map((a) => (
          <Act key={a} aria-pressed={axis === a} bg={axis === a ? 'choice-wash' : 'sheet'} onClick={() => (setAxis(a), setSpan(null))}>
            over {a}
          </Act>
        ))}
        <Act aria-label="Closer" onClick={() => zoom(ZOOM)}>
          +
        </Act>
        <Act aria-label="Further away" onClick={() => zoom(1 / ZOOM)}>
          −
        </Act>
        <Act disabled={!span} onClick={() => setSpan(null)}>
          All of it
        </Act>
        <Text color="ink-soft" fontSize="small">
          {show(now[0], axis === 'time' ? 's' : 'm', prefs).text} to {show(now[1], axis === 'time' ? 's' : 'm', prefs).text}. Drag to move, arrow keys and + − too.
        </Text>
      </Flex>
      <Strips w={w} span={now} axis={axis} prefs={prefs} zoom={zoom} pan={pan} />
      <Between key={log} build={bench.id} log={log} axis={axis} span={span} prefs={prefs} />
      <HeldRibbons log={log} />
      {logs.length > 1 && (
        <Flex gap="2" mt="4" align="center" wrap="wrap">
          <Text>Another logger of the same ride:</Text>
          <NamePick label="Join with" rows={logs.filter((l) => l.id !== log)} value="" none="join its columns …" disabled={busy} pick={(id) => id && send({ do: 'join', first: log, second: id })} />
          <Text fontSize="small" color="ink-soft">
            Brought onto one clock by their speeds; a new log is made.
          </Text>
        </Flex>
      )}
    </Box>
  )
}

/** Held inside the log, and never so narrow that nothing is left. */
export function within(span: Span, whole: Span): Span {
  const width = Math.min(Math.max(span[1] - span[0], (whole[1] - whole[0]) / 20_000), whole[1] - whole[0])
  const start = Math.min(Math.max(span[0], whole[0]), whole[1] - width)
  return [start, start + width]
}

function Strips(props: { w: Window; span: Span; axis: Axis; prefs: UnitPrefs; zoom: (by: number, at?: number) => void; pan: (share: number) => void }) {
  const { w, span, prefs } = props
  const { ref, w: width } = useSize<HTMLDivElement>()
  const [cursor, setCursor] = useState<number | null>(null)
  const [grip, setGrip] = useState<number | null>(null)
  const map = w.east_m.length > 1 && width > 700 ? 190 : 0 // wide enough for the way beside it
  const right = width - map - 8
  const x = scaleLinear(span, [LEFT, right])
  const at = (clientX: number, el: Element) => x.invert(clientX - el.getBoundingClientRect().left)
  const i = cursor === null ? -1 : nearest(w.x, cursor)
  const height = Math.max(w.channels.length * ROW + 24, map + 14)
  const key = (e: React.KeyboardEvent) => {
    const moves: Record<string, () => void> = {
      ArrowLeft: () => setCursor(within([(cursor ?? span[0]) - (span[1] - span[0]) / 80, span[1]], span)[0]),
      ArrowRight: () => setCursor(Math.min((cursor ?? span[0]) + (span[1] - span[0]) / 80, span[1])),
      PageUp: () => props.pan(-0.5),
      PageDown: () => props.pan(0.5),
      '+': () => props.zoom(ZOOM, cursor ?? undefined),
      '-': () => props.zoom(1 / ZOOM, cursor ?? undefined),
      Escape: () => setCursor(null),
    }
    const move = moves[e.key]
    if (move) {
      e.preventDefault()
      move()
    }
  }
  const said = i < 0 ? '' : w.channels.map((c) => `${c.label} ${value(c, i, prefs)}`).join(', ')
  return (
    <Box ref={ref} w="100%">
      <svg
        width={width}
        height={height}
        role="img"
        tabIndex={0}
        aria-label={`Channels of the log${said ? `: at ${show(w.x[i]!, props.axis === 'time' ? 's' : 'm', prefs).text}, ${said}` : ''}`}
        style={{ touchAction: 'pan-y', cursor: grip !== null ? 'grabbing' : 'crosshair' }}
        onKeyDown={key}
        onDoubleClick={(e) => props.zoom(ZOOM * ZOOM, at(e.clientX, e.currentTarget))}
        onPointerDown={(e) => {
          setGrip(e.clientX)
          setCursor(at(e.clientX, e.currentTarget))
        }}
        onPointerLeave={() => grip === null && setCursor(null)}
        {...dragHandlers(
          grip !== null,
          (e) => {
            props.pan((grip! - e.clientX) / (right - LEFT))
            setGrip(e.clientX)
          },
          () => setGrip(null),
        )}
        onMouseMove={(e) => grip === null && setCursor(Math.min(Math.max(at(e.clientX, e.currentTarget), span[0]), span[1]))}
      >
        {w.channels.map((c, row) => {
          const pad = (c.greatest - c.least) * 0.06 || 1
          const y = scaleLinear([c.least - pad, c.greatest + pad], [row * ROW + ROW - 8, row * ROW + 6])
          return (
            <g key={c.key}>
              <path d={`M${LEFT} ${row * ROW + ROW - 4}H${right}`} stroke={paint('rule')} />
              <T x={0} y={row * ROW + 20} fontSize={14} fontWeight="600" fill={paint('ink')}>
                {c.label}
              </T>
              <T x={0} y={row * ROW + 40} fontSize={14} fill={i < 0 ? paint('ink.soft') : paint('choice')}>
                {i < 0 ? `to ${show(c.greatest, c.quantity, prefs, 3).text}` : value(c, i, prefs)}
              </T>
              <path d={area(w.x, c.lo, c.hi, x, y)} fill={paint('ink')} stroke={paint('ink')} strokeWidth="1.2" strokeLinejoin="round" />
            </g>
          )
        })}
        {x.ticks(Math.max(2, Math.min(8, Math.floor((right - LEFT) / 64)))).map((t) => (
          <T key={t} x={x(t)} y={height - 6} textAnchor="middle" fontSize={13} fill={paint('ink.soft')}>
            {show(t, props.axis === 'time' ? 's' : 'm', prefs, 4).text}
          </T>
        ))}
        {cursor !== null && cursor >= span[0] && cursor <= span[1] && <path d={`M${x(cursor)} 0V${height - 22}`} stroke={paint('choice')} strokeWidth="1.5" />}
        {map > 0 && <Way w={w} x={width - map} size={map - 8} share={i < 0 ? null : i / Math.max(1, w.x.length - 1)} />}
      </svg>
    </Box>
  )
}

const value = (c: Window['channels'][number], i: number, prefs: UnitPrefs) => {
  const lo = c.lo[i]
  const hi = c.hi[i]
  return lo == null || hi == null ? '–' : show((lo + hi) / 2, c.quantity, prefs, 4).text
}

export function nearest(xs: number[], at: number): number {
  let low = 0
  let high = xs.length - 1
  while (high - low > 1) {
    const mid = (low + high) >> 1
    if (xs[mid]! <= at) low = mid
    else high = mid
  }
  return high >= 0 && Math.abs(xs[high]! - at) < Math.abs(xs[low]! - at) ? high : low
}

type Scale = (v: number) => number

/** From the least to the greatest of each bucket and back, broken where nothing was measured. */
export function area(xs: number[], lo: (number | null)[], hi: (number | null)[], x: Scale, y: Scale): string {
  const out: string[] = []
  let start = 0
  for (let i = 0; i <= xs.length; i++) {
    if (i < xs.length && lo[i] != null) continue
    if (i > start) {
      const there = xs.slice(start, i).map((v, k) => `${x(v).toFixed(1)} ${y(hi[start + k]!).toFixed(1)}`)
      const back = xs.slice(start, i).map((v, k) => `${x(v).toFixed(1)} ${y(lo[start + k]!).toFixed(1)}`)
      out.push(`M${there.join('L')}L${back.reverse().join('L')}Z`)
    }
    start = i + 1
  }
  return out.join('')
}

/** The way, seen from above, north up; where the cursor stands. */
function Way({ w, x, size, share }: { w: Window; x: number; size: number; share: number | null }) {
  const [e0, e1] = [Math.min(...w.east_m), Math.max(...w.east_m)]
  const [n0, n1] = [Math.min(...w.north_m), Math.max(...w.north_m)]
  const k = (size - 24) / Math.max(e1 - e0, n1 - n0, 1)
  const px = (e: number) => x + 12 + (e - e0) * k
  const py = (n: number) => 12 + (n1 - n) * k
  const i = share === null ? -1 : Math.round(share * (w.east_m.length - 1))
  return (
    <g aria-label="The way from above">
      <path d={w.east_m.map((e, j) => `${j ? 'L' : 'M'}${px(e).toFixed(1)} ${py(w.north_m[j]!).toFixed(1)}`).join('')} fill="none" stroke={paint('ink.soft')} strokeWidth="2" />
      <path d={`M${px(w.east_m[0]!) - 5} ${py(w.north_m[0]!)}h10M${px(w.east_m[0]!)} ${py(w.north_m[0]!) - 5}v10`} stroke={paint('ink')} strokeWidth="2" />
      {i >= 0 && <circle cx={px(w.east_m[i]!)} cy={py(w.north_m[i]!)} r="6" fill={paint('choice')} />}
      <T x={x + 12} y={size + 12} fontSize={13} fill={paint('ink.soft')}>
        {`${Math.round(Math.max(e1 - e0, n1 - n0))} m across, north up`}
      </T>
    </g>
  )
}

function HeldRibbons({ log }: { log: string }) {
  const { bench, prefs } = useWorkshop()
  const query = useHeld(bench.id, log, bench.version)
  const { ref, w } = useSize<HTMLDivElement>()
  const h = query.data
  const wrong = refusal(query)
  if (wrong) return <Trouble text={wrong} />
  if (!h) return null
  if (!h.held) return <Text mt="3">{h.problem}</Text>
  const x = scaleLinear([0, Math.max(h.seconds, 0.1)], [LEFT, w - 8])
  return (
    <Box mt="4">
      <Text textStyle="title" fontSize="lead">
        What held it, start {h.launch}
      </Text>
      <Box ref={ref} w="100%">
        <svg width={w} height={76} role="img" aria-label={`By the log: ${h.logged.map((r) => chokeWord(r.choke)).join(', ')}. Predicted: ${h.predicted.map((r) => chokeWord(r.choke)).join(', ')}`}>
          <Bar y={2} label="by the log" parts={h.logged} x={x} />
          <Bar y={40} label="predicted" parts={h.predicted} x={x} />
        </svg>
      </Box>
      {[...h.held.why, ...h.held.parted.map((p) => `${show(p.from_m_s, 'm_s', prefs).text} to ${show(p.to_m_s, 'm_s', prefs).text}: ${chokeWord(p.logged)} instead of ${chokeWord(p.predicted)} – ${p.sentence}`)].map((t) => (
        <Text key={t} mt="1">
          {t}
        </Text>
      ))}
      {h.held.why.length + h.held.parted.length === 0 && (
        <Text mt="1">{h.held.logged.every((c) => c === 'unknown') ? 'The log does not show what held it.' : 'Where the log shows a choke, the prediction names the same.'}</Text>
      )}
      {h.held.blind.length > 0 && (
        <Text mt="1" fontSize="small" color="ink-soft">
          The log does not show: {h.held.blind.join('; ')}.
        </Text>
      )}
    </Box>
  )
}

function Bar({ y, label, parts, x }: { y: number; label: string; parts: RibbonPart[]; x: Scale }) {
  return (
    <g transform={`translate(0,${y})`}>
      <T x={0} y={20} fontSize={14} fontWeight="600" fill={paint('ink')}>
        {label}
      </T>
      {parts.map((r) => (
        <g key={r.start}>
          <rect x={x(r.start)} width={Math.max(x(r.end) - x(r.start), 1)} height="30" fill={hatchFill(r.choke)} stroke={chokePaint(r.choke)} strokeWidth="1" />
          {x(r.end) - x(r.start) > 62 && (
            <T x={(x(r.start) + x(r.end)) / 2} y={20} textAnchor="middle" fontSize={14} fontWeight="600" fill={chokePaint(r.choke)} stroke={paint('sheet')} strokeWidth="5" paintOrder="stroke">
              {chokeWord(r.choke)}
            </T>
          )}
        </g>
      ))}
    </g>
  )
}
