import { Box } from '@chakra-ui/react'
import { type PointerEvent, useState } from 'react'
import type { Drawings } from '../../api/client'
import { type Flat, settle } from '../../lib/labels'
import { at } from '../../lib/path'
import { show } from '../../lib/units'
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

/** A ladder of sprocket pairs: to the right top speed, to the left thrust from rest. Step on a rung
 * to take it. */
function Ladder({ d: whole }: { d: G }) {
  const now = whole.rungs.find((r) => r.current)
  // The nearest ones; all of them stand in the table beneath.
  const near = [...whole.rungs].sort((a, b) => Math.abs(a.ratio - (now?.ratio ?? 0)) - Math.abs(b.ratio - (now?.ratio ?? 0))).slice(0, DRAWN)
  const d = { ...whole, rungs: whole.rungs.filter((r) => near.includes(r)) }
  const { ref, w, h } = useSize<HTMLDivElement>()
  const { change, prefs, was } = useWorkshop()
  const rows = d.rungs.length
  const rh = Math.min((h - 70) / rows, 64)
  const mid = w * 0.46
  const half = 52
  const topV = Math.max(...d.rungs.map((r) => r.top_speed_m_s), d.target_m_s ?? 0, d.tyre_m_s && d.tyre_m_s < 80 ? d.tyre_m_s : 0) * 1.08
  const topN = Math.max(...d.rungs.map((r) => r.launch_n), d.wheelie_n ?? 0) * 1.08
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
    const r = over === null ? undefined : d.rungs[over]
    if (held && r && r.front > 0 && !r.current) take(r)
    setHeld(false)
    setOver(null)
  }
  const old = was('gear.ratio')
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
            sprockets
          </T>
          <T x={mid + half + 6} y="18">
            top speed →
          </T>
        </g>
        {d.rungs.map((r, i) => {
          const y = 40 + i * rh
          const known = r.front > 0
          return (
            <g
              key={`${r.front}-${r.rear}-${i}`}
              role="button"
              tabIndex={0}
              aria-pressed={r.current}
              onPointerDown={() => r.current && known && setHeld(true)}
              style={{ cursor: r.current && known ? 'ns-resize' : known ? 'pointer' : 'default' }}
              onClick={() => known && !r.current && take(r)}
              onKeyDown={(e) => e.key === 'Enter' && known && !r.current && take(r)}
            >
              <rect x="0" y={y - 4} width={w} height={rh} fill={(over === null ? r.current : i === over) ? paint('choice.wash') : 'transparent'} />
              {old != null && !r.current && Math.abs(old - r.ratio) < 1e-9 && (
                <T x={mid + half - 6} y={y + rh - 6} textAnchor="end" fontSize={12} fill={paint('choice')}>
                  was
                </T>
              )}
              <rect x={XL(r.launch_n)} y={y + 4} width={mid - half - XL(r.launch_n)} height={rh - 18} fill={paint('well')} stroke={paint('ink')} strokeWidth="1.3" />
              <rect x={mid + half} y={y + 4} width={XR(r.top_speed_m_s) - mid - half} height={rh - 18} fill={paint('sheet')} stroke={paint(r.why ? 'caution' : 'ink')} strokeDasharray={r.why ? '4 3' : undefined} strokeWidth="1.3" />
              <T x={mid} y={y + rh / 2} textAnchor="middle" fontSize={Math.min(24, rh * 0.5)} fontWeight="600" fontFamily={DIGITS} style={{ fontStretch: '75%' }} fill={r.current ? paint('choice') : paint('ink')}>
                {known ? `${r.front}/${r.rear}` : r.ratio.toFixed(2)}
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
          const spots = (['middle', 'end', 'start'] as const).map((anchor) => ({ px: anchor === 'middle' ? mid : anchor === 'end' ? x - 4 : x + 4, py: 54 + rows * rh, anchor }))
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
