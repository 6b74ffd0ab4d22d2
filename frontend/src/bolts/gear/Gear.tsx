import { Box } from '@chakra-ui/react'
import { type KeyboardEvent, type PointerEvent, useState } from 'react'
import type { Drawings } from '../../api/client'
import { type Flat, settle } from '../../lib/labels'
import { at } from '../../lib/path'
import { show, type UnitPrefs } from '../../lib/units'
import { DIGITS, paint } from '../../theme/paint'
import { useWorkshop } from '../../ui/bench'
import { dragHandlers } from '../../ui/drag'
import { Tabs } from '../../ui/Tabs'
import { Missing, Workbench } from '../../ui/Workbench'
import { useSize } from '../../ui/useSize'
import { T, TSpan } from '../../ui/svgtext'
import { BrakeTable, ChainWords, PairTable, SpringTable, StanceView, WheelTable } from './Chassis'

type G = NonNullable<Drawings['gear']>
type Rung = G['rungs'][number]
/** A row of the ladder: a sprocket pair, or a wheel of a hub. pair: what is taken by a press on it. */
interface Row {
  name: string
  launch_n: number
  top_speed_m_s: number
  top_choke: string
  why: string
  current: boolean
  was: boolean
  pair: Rung | null
}

export function Gear() {
  const { bench } = useWorkshop()
  const d = bench.assessment.drawings.gear
  const hub = at(bench.doc, 'drive.motor.kind') === 'hub'
  const parts = ['gear', 'gear.tyre', 'gear.front_tyre', 'gear.front_brake', 'gear.rear_brake', 'gear.fork', 'gear.shock', 'gear.steering', hub ? 'gear.hub' : 'gear.run', 'gear.fit', 'road']
  return (
    <Workbench parts={parts} under={d && <Under d={d} />}>
      {d?.rungs.length ? <Ladder d={d} /> : <Missing />}
    </Workbench>
  )
}

function Under({ d }: { d: G }) {
  const { change } = useWorkshop()
  const c = d.chassis
  return (
    <Tabs
      label="Behind the gear"
      tabs={[
        ...(d.wheels.length ? [{ key: 'wheels', label: 'Wheel sizes', body: <WheelTable d={d} /> }] : []),
        ...(d.rungs.length ? [{ key: 'pairs', label: 'Pairs', body: <PairTable d={d} take={(front, rear) => change(pairOf(front, rear), `Sprockets ${front}/${rear}`)} /> }] : []),
        { key: 'brakes', label: 'Brakes and tyres', body: <BrakeTable c={c} /> },
        { key: 'springs', label: 'Springs and seat', body: <SpringTable c={c} /> },
        { key: 'stance', label: 'Stance', body: <StanceView c={c} /> },
        { key: 'chain', label: c.hub ? 'Axle' : c.chain?.belt ? 'Belt' : 'Chain', body: <ChainWords c={c} /> },
      ]}
    />
  )
}

const pairOf = (front: number, rear: number) => [
  { path: 'gear.front_teeth', value: front },
  { path: 'gear.rear_teeth', value: rear },
]

const DRAWN = 8

/** Sprocket pairs nearest to the one that is fitted; all of them stand in the table beneath. Of a hub its wheels. */
function rowsOf(d: G, prefs: UnitPrefs, old: number | null | undefined): Row[] {
  if (d.wheels.length && !d.rungs.some((r) => r.front > 0))
    return d.wheels.map((x) => ({ ...x, name: show(x.radius_m, 'm', prefs).text, why: '', was: false, pair: null }))
  const now = d.rungs.find((r) => r.current)?.ratio ?? 0
  const near = [...d.rungs].sort((a, b) => Math.abs(a.ratio - now) - Math.abs(b.ratio - now)).slice(0, DRAWN)
  return d.rungs
    .filter((r) => near.includes(r))
    .map((r) => ({
      ...r,
      name: r.front > 0 ? `${r.front}/${r.rear}` : r.ratio.toFixed(2),
      was: old != null && !r.current && Math.abs(old - r.ratio) < 1e-9,
      pair: r.front > 0 ? r : null,
    }))
}

/** A ladder: to the right top speed, to the left thrust from rest. Step on a rung to take it. */
function Ladder({ d }: { d: G }) {
  const { ref, w, h } = useSize<HTMLDivElement>()
  const { change, prefs, was } = useWorkshop()
  const old = was('gear.ratio') as number | null | undefined
  const list = rowsOf(d, prefs, old)
  const rows = list.length
  const rh = Math.min((h - 84) / rows, 64)
  const mid = w * 0.46
  const half = 52
  const topV = Math.max(...list.map((r) => r.top_speed_m_s), d.target_m_s ?? 0, d.tyre_m_s && d.tyre_m_s < 80 ? d.tyre_m_s : 0) * 1.08
  const topN = Math.max(...list.map((r) => r.launch_n), d.wheelie_n ?? 0) * 1.08
  const XR = (v: number) => mid + half + (v / topV) * (w - mid - half - 16)
  const XL = (n: number) => mid - half - (n / topN) * (mid - half - 16)
  const take = (r: Rung) => change(pairOf(r.front, r.rear), `Sprockets ${r.front}/${r.rear}`)
  // Dragged: the rung under the pointer, taken where it is let go.
  const [over, setOver] = useState<number | null>(null)
  const [held, setHeld] = useState(false)
  const follow = (e: PointerEvent<SVGSVGElement>) => {
    const row = Math.floor((e.clientY - e.currentTarget.getBoundingClientRect().top - 36) / rh)
    setOver(Math.min(Math.max(row, 0), rows - 1))
  }
  const drop = () => {
    const r = over === null ? undefined : list[over]
    if (held && r?.pair && !r.current) take(r.pair)
    setHeld(false)
    setOver(null)
  }
  const lines: [number, string, string][] = d.wheelie_n === null ? [] : [[XL(d.wheelie_n), 'front wheel lifts', paint('choke')]]
  if (d.target_m_s) lines.push([XR(d.target_m_s), 'wanted', paint('choice')])
  if (d.tyre_m_s && d.tyre_m_s <= topV) lines.push([XR(d.tyre_m_s), 'tyre', paint('stop')])
  const taken: Flat[] = []
  return (
    <Box ref={ref} flex="1" minH="inherit" position="relative">
      <svg width={w} height={h} role="group" aria-label="Gear ladder" {...dragHandlers(held, follow, drop)} style={{ position: 'absolute', inset: 0, touchAction: held ? 'none' : 'pan-y' }}>
        <g style={{ fontSize: 13, fontWeight: 600 }} fill={paint('ink.soft')}>
          <T x={mid - half - 6} y="18" textAnchor="end">
            ← thrust from rest
          </T>
          <T x={mid} y="18" textAnchor="middle">
            {list.some((r) => r.pair) ? 'sprockets' : d.wheels.length ? 'rolling radius' : 'ratio'}
          </T>
          <T x={mid + half + 6} y="18">
            top speed →
          </T>
        </g>
        {list.map((r, i) => {
          const y = 40 + i * rh
          const { pair } = r
          const go = () => pair && !r.current && take(pair)
          const pressed = pair && {
            role: 'button',
            tabIndex: 0,
            'aria-pressed': r.current,
            onPointerDown: () => r.current && setHeld(true),
            style: { cursor: r.current ? 'ns-resize' : 'pointer' },
            onClick: go,
            onKeyDown: (e: KeyboardEvent) => e.key === 'Enter' && go(),
          }
          return (
            <g key={`${r.name}-${i}`} {...pressed}>
              <rect x="0" y={y - 4} width={w} height={rh} fill={(over === null ? r.current : i === over) ? paint('choice.wash') : 'transparent'} />
              {r.was && (
                <T x={mid + half - 6} y={y + rh - 6} textAnchor="end" fontSize={12} fill={paint('choice')}>
                  was
                </T>
              )}
              <rect x={XL(r.launch_n)} y={y + 4} width={mid - half - XL(r.launch_n)} height={rh - 18} fill={paint('well')} stroke={paint('ink')} strokeWidth="1.3" />
              <rect x={mid + half} y={y + 4} width={XR(r.top_speed_m_s) - mid - half} height={rh - 18} fill={paint('sheet')} stroke={paint(r.why ? 'caution' : 'ink')} strokeDasharray={r.why ? '4 3' : undefined} strokeWidth="1.3" />
              <T x={mid} y={y + rh / 2} textAnchor="middle" fontSize={pair ? Math.min(24, rh * 0.5) : 18} fontWeight="600" fontFamily={DIGITS} style={{ fontStretch: '75%' }} fill={r.current ? paint('choice') : paint('ink')}>
                {r.name}
              </T>
              <T x={XL(r.launch_n) + 8} y={y + rh / 2 - 1} fontSize={14} fill={paint('ink')}>
                {show(r.launch_n, 'n', prefs).text}
              </T>
              <T x={mid + half + 8} y={y + rh / 2 - 1} fontSize={16} fontWeight="600" fill={paint('ink')}>
                {show(r.top_speed_m_s, 'm_s', prefs).text}{' '}
                <TSpan fontWeight="400" fontSize={13} fill={paint(r.why ? 'caution' : 'ink.soft')}>
                  {r.why ? `– ${r.why.split(';')[0]}` : w > 500 ? `held by ${r.top_choke}` : ''}
                </TSpan>
              </T>
            </g>
          )
        })}
        {[...lines].reverse().map(([x, label, colour]) => {
          const mid = Math.min(Math.max(x, 58), w - 40)
          // On the sheet, and beneath each other where two lines lie too close for both.
          const wide = label.length * 8
          const anchors = (['middle', 'end', 'start'] as const).filter((a) => a === 'middle' || (a === 'end' ? x > wide : x + wide < w))
          const spots = [54, 70].flatMap((y) =>
            anchors.map((anchor) => ({ px: anchor === 'middle' ? mid : anchor === 'end' ? x - 4 : x + 4, py: y + rows * rh, anchor })),
          )
          const spot = settle(label, spots, taken)
          return (
            <g key={label} pointerEvents="none">
              <path d={`M${x} 30V${40 + rows * rh}`} stroke={colour} strokeWidth="2.5" strokeDasharray="6 3" />
              <T x={spot.px} y={spot.py} textAnchor={spot.anchor} fontSize={14} fontWeight="600" fill={colour}>
                {label}
              </T>
            </g>
          )
        })}
      </svg>
    </Box>
  )
}
