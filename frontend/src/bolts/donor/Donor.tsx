import { Box } from '@chakra-ui/react'
import { useState } from 'react'
import type { Drawings } from '../../api/client'
import { show } from '../../lib/units'
import { paint } from '../../theme/paint'
import { useWorkshop } from '../../ui/bench'
import { Missing, Workbench } from '../../ui/Workbench'
import { useSize } from '../../ui/useSize'
import { T, TSpan } from '../../ui/svgtext'

type D = NonNullable<Drawings['donor']>
type Row = D['rows'][number]

/** Side view with the mass ledger on it: each mass is a weight that can be dragged. */
export function Donor() {
  const { bench } = useWorkshop()
  const d = bench.assessment.drawings.donor
  return <Workbench parts={['donor', 'road', 'goal']}>{d && d.bike_kg !== null ? <SideView d={d} /> : <Missing />}</Workbench>
}

function SideView({ d }: { d: D }) {
  const { ref, w, h } = useSize<HTMLDivElement>()
  const { open, change, prefs } = useWorkshop()
  const [drag, setDrag] = useState<{ index: number; x: number; y: number } | null>(null)
  const span = d.wheelbase_m + 2 * d.wheel_radius_m + 0.3
  const k = Math.min(w / span, (h - 54) / 1.35)
  const X = (x: number) => w / 2 + (x - d.wheelbase_m / 2) * k
  const Y = (y: number) => h - 40 - y * k
  const place = (e: React.PointerEvent) => {
    const box = e.currentTarget.getBoundingClientRect()
    return {
      x: Math.round(((e.clientX - box.left - w / 2) / k + d.wheelbase_m / 2) * 100) / 100,
      y: Math.max(0, Math.round(((h - 40 - (e.clientY - box.top)) / k) * 100) / 100),
    }
  }
  const drop = () => {
    if (!drag) return
    const base = `donor.items.${drag.index}`
    change(
      [
        { path: `${base}.x_m`, value: { amount: drag.x, origin: 'measured', tolerance: null } },
        { path: `${base}.y_m`, value: { amount: drag.y, origin: 'measured', tolerance: null } },
      ],
      'Moved a mass',
    )
    setDrag(null)
  }
  const r = d.wheel_radius_m * k
  const laid = layOut(
    gather(d.rows).map((row) => {
      const now = drag && row.index === drag.index ? drag : { x: row.x_m, y: row.y_m }
      return { row, x: X(now.x), y: Y(now.y) }
    }),
    w,
    h,
  )
  return (
    <Box ref={ref} flex="1" minH="inherit" position="relative">
      <svg
        width={w}
        height={h}
        aria-label="Side view of the bike with its masses"
        role="group"
        style={{ position: 'absolute', inset: 0, touchAction: 'none' }}
        onPointerMove={(e) => drag && setDrag({ ...drag, ...place(e) })}
        onPointerUp={drop}
        onPointerLeave={drop}
      >
        <path d={`M0 ${Y(0)}H${w}`} stroke={paint('ink')} strokeWidth="1.5" />
        <g fill="none" stroke={paint('ink')} strokeWidth="1.6">
          {[0, d.wheelbase_m].map((x) => (
            <g key={x}>
              <circle cx={X(x)} cy={Y(d.wheel_radius_m)} r={r} strokeWidth="2.4" />
              <circle cx={X(x)} cy={Y(d.wheel_radius_m)} r={r * 0.78} strokeWidth="0.8" />
              <path d={`M${X(x) - 6} ${Y(d.wheel_radius_m)}h12m-6-6v12`} />
            </g>
          ))}
          <Frame d={d} X={X} Y={Y} />
        </g>
        {d.bays.map((b) => (
          <g key={b.name}>
            <rect
              x={X(b.x_m - b.length_m / 2)}
              y={Y(b.y_m + b.height_m / 2)}
              width={b.length_m * k}
              height={b.height_m * k}
              fill={paint('well')}
              stroke={paint('ink')}
              strokeDasharray="7 4"
            />
            <T x={X(b.x_m - b.length_m / 2) + 5} y={Y(b.y_m - b.height_m / 2) + 16} fontSize={13} fill={paint('ink.soft')}>
              {b.name} {show(b.length_m, 'm', prefs).number} × {show(b.height_m, 'm', prefs).text}
            </T>
          </g>
        ))}
        {laid.map((l) => (
          <Weight
            key={l.row.path}
            {...l}
            text={show(l.row.kg, 'kg', prefs).text}
            open={() => open({ kind: 'part', path: l.row.path })}
            grab={l.row.index === null ? undefined : () => setDrag({ index: l.row.index!, x: l.row.x_m, y: l.row.y_m })}
          />
        ))}
        {d.bike_cg && <Centre x={X(d.bike_cg[0]!)} y={Y(d.bike_cg[1]!)} label="bike" />}
        {d.ridden_cg && <Centre x={X(d.ridden_cg[0]!)} y={Y(d.ridden_cg[1]!)} label="with rider" />}
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
      </svg>
    </Box>
  )
}

/** A light frame outline between the axles, so that the masses have a bike to sit on. */
function Frame({ d, X, Y }: { d: D; X: (x: number) => number; Y: (y: number) => number }) {
  const L = d.wheelbase_m
  const r = d.wheel_radius_m
  const p = (x: number, y: number) => `${X(x)} ${Y(y)}`
  return (
    <g stroke={paint('rule.strong')} strokeWidth="2">
      <path d={`M${p(0, r)}L${p(0.4 * L, r + 0.08)}L${p(0.42 * L, 0.32)}L${p(0.66 * L, 0.3)}L${p(0.77 * L, 0.84)}L${p(0.42 * L, 0.8)}L${p(0.4 * L, r + 0.08)}`} />
      <path d={`M${p(0.42 * L, 0.8)}L${p(0.02 * L, 0.92)}M${p(L, r)}L${p(0.75 * L, 0.98)}L${p(0.69 * L, 1.02)}`} />
      <path d={`M${p(0.05 * L, 0.93)}L${p(0.5 * L, 0.86)}L${p(0.72 * L, 0.92)}`} strokeWidth="4" />
    </g>
  )
}

/** Fitted parts that weigh little are one weight: they sit where nobody has said yet. */
function gather(rows: Row[]): Row[] {
  const small = rows.filter((r) => r.kind === 'fitted' && r.kg < 1.5)
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
}

/** Labels in two columns at the edges, in the order of height, so that none covers another. */
function layOut(spots: { row: Row; x: number; y: number }[], w: number, h: number): Laid[] {
  const order = [...spots].sort((a, b) => a.x - b.x)
  const half = Math.ceil(order.length / 2)
  const column = (list: typeof spots, left: boolean): Laid[] => {
    const sorted = [...list].sort((a, b) => a.y - b.y)
    const gap = Math.max(22, Math.min(34, (h - 120) / Math.max(1, sorted.length)))
    const first = 34
    return sorted.map((s, i) => ({ ...s, lx: left ? 12 : w - 12, ly: first + i * gap, left }))
  }
  return [...column(order.slice(0, half), true), ...column(order.slice(half), false)]
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
      <path d={`M${lx} ${ly + 5}H${left ? lx + 128 : lx - 128}L${x} ${y}`} fill="none" stroke={colour} strokeWidth="0.8" opacity="0.7" />
      <rect x={left ? lx - 6 : lx - 150} y={ly - 18} width="156" height="26" fill="transparent" />
      <T x={lx} y={ly} textAnchor={anchor} fontSize={14} fill={colour} stroke={paint('sheet')} strokeWidth="4" paintOrder="stroke">
        {row.label} <TSpan fontWeight="600">{props.text}</TSpan>
      </T>
      <g onPointerDown={props.grab}>
        <circle cx={x} cy={y} r="22" fill="transparent" />
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
