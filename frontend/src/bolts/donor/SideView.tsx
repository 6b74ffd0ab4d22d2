import { Box } from '@chakra-ui/react'
import { useEffect, useState } from 'react'
import type { Drawings } from '../../api/client'
import { amountAt, at } from '../../lib/path'
import { show } from '../../lib/units'
import { paint } from '../../theme/paint'
import { useWorkshop } from '../../ui/bench'
import { T, TSpan } from '../../ui/svgtext'
import { useLines } from '../../ui/useLines'
import { useSize } from '../../ui/useSize'
import { BikeFigure } from './BikeFigure'
import { dragHandlers } from '../../ui/drag'

export type D = NonNullable<Drawings['donor']>
type Row = D['rows'][number]
type BayOutline = D['bays'][number]
type Point = [number, number]
type Drag = { kind: 'mass'; index: number; at: Point } | { kind: 'bay'; index: number; from: Point; by: Point } | { kind: 'corner'; index: number; corner: number; at: Point }

const CLOSE_PX = 16
const NARROW_PX = 520
const mm = (x: number) => Math.round(x * 1000) / 1000
const measured = (x: number) => ({ amount: mm(x), origin: 'measured', tolerance: null })

/** Corners in the side view -> the document of an outline, measured from its own middle. */
export function outlineDoc(points: Point[]) {
  const xs = points.map((p) => p[0])
  const ys = points.map((p) => p[1])
  const middle: Point = [(Math.max(...xs) + Math.min(...xs)) / 2, (Math.max(...ys) + Math.min(...ys)) / 2]
  return {
    outline: points.map(([x, y]) => [mm(x - middle[0]), mm(y - middle[1])]),
    length_m: measured(Math.max(...xs) - Math.min(...xs)),
    height_m: measured(Math.max(...ys) - Math.min(...ys)),
    x_m: measured(middle[0]),
    y_m: measured(middle[1]),
  }
}

/** Each mass is a weight that can be dragged; each bay can be dragged, and its corners too. */
export function SideView({ d, drawing, into, stop }: { d: D; drawing: boolean; into: number | null; stop: () => void }) {
  const { ref, w, h } = useSize<HTMLDivElement>()
  const { open, change, prefs } = useWorkshop()
  const bays = useLines('donor.bays', 'Bay', 'Drew a bay')
  const [drag, setDrag] = useState<Drag | null>(null)
  const [draft, setDraft] = useState<Point[]>([])
  const span = d.wheelbase_m + 2 * d.wheel_radius_m + 0.3
  const k = Math.min(w / span, (h - 54) / 1.32)
  const X = (x: number) => w / 2 + (x - d.wheelbase_m / 2) * k
  const Y = (y: number) => h - 40 - y * k
  const place = (e: React.PointerEvent): Point => {
    const box = e.currentTarget.getBoundingClientRect()
    return [mm((e.clientX - box.left - w / 2) / k + d.wheelbase_m / 2), Math.max(0, mm((h - 40 - (e.clientY - box.top)) / k))]
  }
  const finish = (points: Point[]) => {
    setDraft([])
    stop()
    if (points.length < 3) return
    const doc = outlineDoc(points)
    if (into !== null) change(Object.entries(doc).map(([key, value]) => ({ path: `donor.bays.${into}.${key}`, value })), 'Drew a bay anew')
    else bays.add(doc)
    bays.open(into ?? bays.count)
  }
  useEffect(() => {
    if (!drawing) return
    const listen = (e: KeyboardEvent) => {
      if (e.key === 'Escape') {
        setDraft([])
        stop()
      }
      if (e.key === 'Enter') finish(draft)
    }
    window.addEventListener('keydown', listen)
    return () => window.removeEventListener('keydown', listen)
  })
  const tap = (e: React.PointerEvent) => {
    if (!drawing) return
    const p = place(e)
    const first = draft[0]
    if (first && draft.length > 2 && Math.hypot((p[0] - first[0]) * k, (p[1] - first[1]) * k) < CLOSE_PX) return finish(draft)
    setDraft([...draft, p])
  }
  const drop = () => {
    if (drag) dropped(drag, d, change)
    setDrag(null)
  }
  const follow = (e: React.PointerEvent) => {
    if (!drag) return
    const p = place(e)
    if (drag.kind === 'bay') setDrag({ ...drag, by: [p[0] - drag.from[0], p[1] - drag.from[1]] })
    else setDrag({ ...drag, at: p })
  }
  const narrow = w < NARROW_PX
  const spots = gather(d.rows, narrow ? 5 : 1.5).map((row) => {
    const now = drag?.kind === 'mass' && row.index === drag.index ? drag.at : [row.x_m, row.y_m]
    return { row, x: X(now[0]!), y: Y(now[1]!) }
  })
  // On a phone only what is heavy has its name beside the bike; the others keep their weight to press.
  const named = spots.filter((s) => !narrow || Math.abs(s.row.kg) >= 3)
  const laid = [...layOut(named, w, h), ...spots.filter((s) => !named.includes(s)).map((s) => ({ ...s, lx: s.x, ly: s.y, left: true, bare: true }))]
  return (
    <Box ref={ref} flex="1" minH="inherit" position="relative">
      <svg
        width={w}
        height={h}
        aria-label="Side view of the bike with its masses and bays"
        role="group"
        style={{ position: 'absolute', inset: 0, touchAction: drawing || drag ? 'none' : 'pan-y', cursor: drawing ? 'crosshair' : undefined }}
        onPointerDown={tap}
        {...dragHandlers(!!drag, follow, drop)}
      >
        <Ground d={d} X={X} Y={Y} k={k} w={w} />
        {d.bays.map((b) => (
          <Bay key={b.index} bay={b} drag={drag} X={X} Y={Y} idle={drawing} open={() => open({ kind: 'part', path: `donor.bays.${b.index}` })} grab={(next) => !drawing && setDrag(next)} place={place} />
        ))}
        <g pointerEvents={drawing ? 'none' : undefined}>
          {laid.map((l) => (
            <Weight
              key={l.row.path + String(l.row.index)}
              {...l}
              text={show(l.row.kg, 'kg', prefs).text}
              open={() => open({ kind: 'part', path: l.row.path })}
              grab={l.row.index === null ? undefined : () => setDrag({ kind: 'mass', index: l.row.index!, at: [l.row.x_m, l.row.y_m] })}
            />
          ))}
        </g>
        {d.bike_cg && <Centre x={X(d.bike_cg[0]!)} y={Y(d.bike_cg[1]!)} label="bike" />}
        {d.ridden_cg && <Centre x={X(d.ridden_cg[0]!)} y={Y(d.ridden_cg[1]!)} label="with rider" />}
        <Axles d={d} X={X} h={h} />
        {draft.length > 0 && (
          <g pointerEvents="none">
            <path d={`M${draft.map((p) => `${X(p[0])} ${Y(p[1])}`).join('L')}`} fill="none" stroke={paint('choice')} strokeWidth="2.5" />
            {draft.map((p, i) => (
              <circle key={i} cx={X(p[0])} cy={Y(p[1])} r={i === 0 ? 8 : 4} fill={i === 0 ? paint('sheet') : paint('choice')} stroke={paint('choice')} strokeWidth="2" />
            ))}
          </g>
        )}
      </svg>
    </Box>
  )
}

function dropped(drag: Drag, d: D, change: ReturnType<typeof useWorkshop>['change']) {
  if (drag.kind === 'mass') {
    const base = `donor.items.${drag.index}`
    const row = d.rows.find((r) => r.index === drag.index)
    if (row && (row.x_m !== drag.at[0] || row.y_m !== drag.at[1]))
      change([{ path: `${base}.x_m`, value: measured(drag.at[0]) }, { path: `${base}.y_m`, value: measured(drag.at[1]) }], 'Moved a mass')
    return
  }
  const bay = d.bays.find((b) => b.index === drag.index)
  if (!bay) return
  const base = `donor.bays.${drag.index}`
  if (drag.kind === 'bay') {
    if (Math.hypot(...drag.by) > 0.002)
      change([{ path: `${base}.x_m`, value: measured(bay.x_m + drag.by[0]) }, { path: `${base}.y_m`, value: measured(bay.y_m + drag.by[1]) }], 'Moved a bay')
    return
  }
  change((now) => {
    // The other corners as they are by then: the answer to another one's move may still be on its way.
    const kept = (at(now, `${base}.outline`) ?? []) as Point[]
    const [x, y] = [amountAt(now, `${base}.x_m`) ?? 0, amountAt(now, `${base}.y_m`) ?? 0]
    const corners = kept.length === bay.corners.length ? kept.map((p): Point => [p[0] + x, p[1] + y]) : (bay.corners as Point[])
    return Object.entries(outlineDoc(corners.map((c, i) => (i === drag.corner ? drag.at : c)))).map(([key, value]) => ({ path: `${base}.${key}`, value }))
  }, 'Moved a corner of a bay')
}

function Bay(p: {
  bay: BayOutline
  drag: Drag | null
  X: (x: number) => number
  Y: (y: number) => number
  idle: boolean
  open: () => void
  grab: (next: Drag) => void
  place: (e: React.PointerEvent) => Point
}) {
  const { bay, drag, X, Y } = p
  const mine = drag && drag.kind !== 'mass' && drag.index === bay.index ? drag : null
  const by = mine?.kind === 'bay' ? mine.by : [0, 0]
  const corners = bay.corners.map((c, i) => (mine?.kind === 'corner' && mine.corner === i ? mine.at : [c[0]! + by[0]!, c[1]! + by[1]!])) as Point[]
  if (!corners.length) return null
  const points = (list: readonly (readonly number[])[]) => list.map((c) => `${X(c[0]!)},${Y(c[1]!)}`).join(' ')
  const right = Math.max(...corners.map((c) => c[0]))
  const low = Math.min(...corners.map((c) => c[1]))
  const svg = (e: React.PointerEvent): React.PointerEvent => ({ ...e, currentTarget: (e.target as Element).closest('svg') }) as unknown as React.PointerEvent
  return (
    <g pointerEvents={p.idle ? 'none' : undefined}>
      <polygon
        points={points(corners)}
        fill={paint('well')}
        fillOpacity="0.85"
        stroke={paint('ink')}
        strokeWidth="1.6"
        strokeDasharray="7 4"
        role="button"
        tabIndex={0}
        aria-label={`${bay.name}: open, drag to move`}
        style={{ cursor: 'move' }}
        onClick={p.open}
        onKeyDown={(e) => e.key === 'Enter' && p.open()}
        onPointerDown={(e) => p.grab({ kind: 'bay', index: bay.index, from: p.place(svg(e)), by: [0, 0] })}
      />
      {bay.keep_free.map((f, i) => (
        <polygon key={i} points={points(f.map((c) => [c[0]! + by[0]!, c[1]! + by[1]!]))} fill="none" stroke={paint('ink.soft')} strokeDasharray="2 3" pointerEvents="none" />
      ))}
      <T x={X(right)} y={Y(low) + 18} textAnchor="end" fontSize={13} fill={paint('ink.soft')} pointerEvents="none" stroke={paint('sheet')} strokeWidth="4" paintOrder="stroke">
        {bay.name}
      </T>
      {corners.map((c, i) => (
        <g key={i} style={{ cursor: 'crosshair' }} onPointerDown={(e) => (e.stopPropagation(), p.grab({ kind: 'corner', index: bay.index, corner: i, at: c }))}>
          <circle cx={X(c[0])} cy={Y(c[1])} r="14" fill="transparent" data-corner={`${bay.index}-${i}`} />
          <rect x={X(c[0]) - 3.5} y={Y(c[1]) - 3.5} width="7" height="7" fill={paint('sheet')} stroke={paint('ink')} strokeWidth="1.4" />
        </g>
      ))}
    </g>
  )
}

function Ground({ d, X, Y, k, w }: { d: D; X: (x: number) => number; Y: (y: number) => number; k: number; w: number }) {
  return (
    <>
      <path d={`M0 ${Y(0)}H${w}`} stroke={paint('ink')} strokeWidth="1.5" />
      <BikeFigure d={d} X={X} Y={Y} k={k} />
    </>
  )
}

function Axles({ d, X, h }: { d: D; X: (x: number) => number; h: number }) {
  const { prefs } = useWorkshop()
  return (
    <g style={{ fontSize: 14, fontWeight: 600 }} fill={paint('ink')} textAnchor="middle">
      {d.ridden_front_share !== null && (
        <>
          <T x={X(0)} y={h - 14}>
            rear {Math.round((1 - d.ridden_front_share) * 100)} %
          </T>
          <T x={X(d.wheelbase_m)} y={h - 14}>
            front {Math.round(d.ridden_front_share * 100)} %
          </T>
        </>
      )}
      <T x={X(d.wheelbase_m / 2)} y={h - 14} fontWeight="400" fill={paint('ink.soft')}>
        wheelbase {show(d.wheelbase_m, 'm', prefs).text}
      </T>
    </g>
  )
}

/** Fitted parts that weigh little are one weight: they sit where nobody has said yet. */
function gather(rows: Row[], under: number): Row[] {
  const small = rows.filter((r) => r.kind === 'fitted' && r.kg < under)
  if (small.length < 2) return rows
  const kg = small.reduce((sum, r) => sum + r.kg, 0)
  const one = { ...small[0]!, label: `${small.length} small parts`, kg, path: small[0]!.path }
  return [...rows.filter((r) => !small.includes(r)), one]
}

interface Laid {
  row: Row
  x: number
  y: number
  lx: number
  ly: number
  left: boolean
  bare?: boolean
}

const ELBOW = 128

/** Labels in two columns at the edges. Which weight takes which place is settled by exchanging pairs
 * until the leaders are as short as they get: then none crosses another. */
function layOut(spots: { row: Row; x: number; y: number }[], w: number, h: number): Laid[] {
  const half = Math.ceil(spots.length / 2)
  const gap = Math.max(22, Math.min(34, (h - 120) / Math.max(1, half)))
  const slots = spots.map((_, i) => {
    const left = i < half
    return { lx: left ? 12 : w - 12, ly: 34 + (left ? i : i - half) * gap, left }
  })
  const taken = [...spots].sort((a, b) => a.x - b.x)
  const far = (i: number, s: { x: number; y: number }) => {
    const slot = slots[i]!
    return Math.hypot(slot.lx + (slot.left ? ELBOW : -ELBOW) - s.x, slot.ly + 5 - s.y)
  }
  for (let again = true; again; ) {
    again = false
    for (let i = 0; i < taken.length; i++)
      for (let j = i + 1; j < taken.length; j++) {
        const [a, b] = [taken[i]!, taken[j]!]
        if (far(i, b) + far(j, a) < far(i, a) + far(j, b) - 1e-6) {
          taken[i] = b
          taken[j] = a
          again = true
        }
      }
  }
  return taken.map((s, i) => ({ ...s, ...slots[i]! }))
}

function Weight(props: Laid & { text: string; open: () => void; grab?: (() => void) | undefined }) {
  const { row, x, y, lx, ly, left } = props
  const colour = row.kg < 0 ? paint('ink.soft') : row.kind === 'fitted' ? paint('ink') : paint('choice')
  const anchor = left ? 'start' : 'end'
  return (
    <g
      role="button"
      tabIndex={0}
      aria-label={`${row.label} ${props.text}${props.grab ? ', drag to move' : ''}`}
      style={{ cursor: props.grab ? 'grab' : 'pointer' }}
      onClick={props.open}
      onKeyDown={(e) => e.key === 'Enter' && props.open()}
    >
      {!props.bare && <path d={`M${lx} ${ly + 5}H${left ? lx + ELBOW : lx - ELBOW}L${x} ${y}`} fill="none" stroke={colour} strokeWidth="0.8" opacity="0.7" pointerEvents="none" />}
      {!props.bare && <rect x={left ? lx - 6 : lx - 150} y={ly - 18} width="156" height="26" fill="transparent" />}
      {!props.bare && (
      <T x={lx} y={ly} textAnchor={anchor} fontSize={14} fill={colour} stroke={paint('sheet')} strokeWidth="4" paintOrder="stroke">
        {row.label} <TSpan fontWeight="600">{props.text}</TSpan>
      </T>
      )}
      <g onPointerDown={(e) => (e.stopPropagation(), props.grab?.())}>
        <circle cx={x} cy={y} r={props.grab ? 18 : 10} fill="transparent" />
        <rect x={x - 7} y={y - 7} width="14" height="14" fill={row.kg < 0 ? paint('sheet') : colour} stroke={colour} strokeWidth="2" strokeDasharray={row.kg < 0 ? '3 2' : undefined} />
      </g>
    </g>
  )
}

function Centre({ x, y, label }: { x: number; y: number; label: string }) {
  return (
    <g transform={`translate(${x},${y})`} pointerEvents="none">
      <circle r="11" fill={paint('sheet')} stroke={paint('choke')} strokeWidth="2.4" />
      <path d="M0-11A11 11 0 0 1 11 0H0zM0 11A11 11 0 0 1-11 0H0z" fill={paint('choke')} />
      <T x="0" y="-16" textAnchor="middle" fontSize={14} fontWeight="600" fill={paint('choke')} stroke={paint('sheet')} strokeWidth="4" paintOrder="stroke">
        {label}
      </T>
    </g>
  )
}
