import { Box } from '@chakra-ui/react'
import { useState } from 'react'
import type { Drawings } from '../../api/client'
import { amountAt, at } from '../../lib/path'
import { show } from '../../lib/units'
import { chokePaint, DIGITS, hatchFill, paint } from '../../theme/paint'
import { Act } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { Tabs } from '../../ui/Tabs'
import { Missing, Workbench } from '../../ui/Workbench'
import { useSize } from '../../ui/useSize'
import { T } from '../../ui/svgtext'
import { Feed } from './Feed'
import { Isolation } from './Isolation'
import { KeySequence } from './KeySequence'
import { LinkTable } from './LinkTable'
import { dragHandlers } from '../../ui/drag'

export type G = NonNullable<Drawings['guard']>

const PARTS = ['bms', 'stand_for', 'fuse', 'isolator', 'plug', 'cable', 'phase_cable', 'precharge', 'dcdc', 'charger', 'isolation'].map((p) => `guard.${p}`)

export function Guard() {
  const { bench } = useWorkshop()
  const d = bench.assessment.drawings.guard
  const bypassed = at(bench.doc, 'guard.bms.discharge') === 'bypassed'
  const [power, setPower] = useState(false)
  const tools = d?.nominal_v ? (
    <Act aria-pressed={power} onClick={() => setPower(!power)}>
      {power ? 'In amps' : 'In kW'}
    </Act>
  ) : undefined
  const parts = PARTS.filter((p) => bypassed || p !== 'guard.stand_for')
  return (
    <Workbench parts={parts} tools={tools} under={d && <Under d={d} />}>
      {d?.links.some((l) => l.present) ? <LoadPath d={d} power={power} /> : <Missing />}
    </Workbench>
  )
}

function Under({ d }: { d: G }) {
  return (
    <Tabs
      label="Behind the guard"
      tabs={[
        { key: 'links', label: 'Links and margins', body: <LinkTable d={d} /> },
        { key: 'key', label: 'Key and precharge', body: <KeySequence d={d} /> },
        { key: 'feed', label: 'Charger and lights', body: <Feed d={d} /> },
        { key: 'isolation', label: 'Isolation, measured', body: <Isolation d={d} /> },
      ]}
    />
  )
}

/** Where digits stand so that the level does not run through them: just below it, or above. */
function beside(y: number, level: number | null, floor: number) {
  if (level === null || level < y - 21 || level > y + 6) return y
  return level + 24 < floor - 4 ? level + 24 : level - 8
}

/** The load path as a row of gates: the taller, the more it carries. The line amps are a level that
 * can be dragged across all of them. */
function LoadPath({ d, power }: { d: G; power: boolean }) {
  const { ref, w, h } = useSize<HTMLDivElement>()
  const { open, change, prefs, bench } = useWorkshop()
  const [drag, setDrag] = useState<number | null>(null)
  const load = drag ?? d.load_a
  const volts = power ? d.nominal_v : null
  const say = (amps: number) => (volts ? show(amps * volts, 'w', prefs).text : show(amps, 'a', prefs).number)
  const amps = d.links.flatMap((l) => [l.cont_a ?? 0, l.peak_a ?? 0])
  const top = Math.max(60, ...amps.filter((a) => a < 4 * (d.load_a ?? 200)), (load ?? 0) * 1.25) * 1.05
  const floor = h - 84
  const Y = (a: number) => floor - (Math.min(a, top) / top) * (floor - 52)
  const step = (w - 70) / d.links.length
  const X = (i: number) => 62 + i * step
  const tight = step < 74 // on a phone names stand slanted and the small print stays on the part
  const bw = Math.min(step * 0.66, 92)
  const conts = d.links.filter((l) => l.cont_a !== null)
  const narrow = conts.length ? conts.reduce((a, b) => (a.cont_a! <= b.cont_a! ? a : b)) : null
  const setLine = (a: number) =>
    change([{ path: 'drive.controller.line_a', value: { amount: Math.round(a), origin: 'guess', tolerance: 0 } }], '')
  const place = (e: React.PointerEvent) => {
    const y = e.clientY - e.currentTarget.getBoundingClientRect().top
    return Math.max(5, Math.round((((floor - y) / (floor - 52)) * top) / 5) * 5)
  }
  const drop = () => {
    if (drag !== null && drag !== amountAt(bench.doc, 'drive.controller.line_a')) setLine(drag)
    setDrag(null)
  }
  return (
    <Box ref={ref} flex="1" minH="inherit" position="relative">
      <svg
        width={w}
        height={h}
        role="group"
        aria-label="Load path from the cells to the controller"
        style={{ position: 'absolute', inset: 0, touchAction: drag === null ? 'pan-y' : 'none' }}
        {...dragHandlers(drag !== null, (e) => setDrag(place(e)), drop)}
      >
        <T x="12" y="22" fontSize={13} fontWeight="600" fill={paint('ink.soft')}>
          {tight ? (volts ? 'kW' : 'amps') : `${volts ? `power at ${show(volts, 'v', prefs).text}` : 'amps'}: solid = continuous, open = peak`}
        </T>
        <path d={`M54 ${floor}H${w - 8}`} stroke={paint('ink')} strokeWidth="2" />
        {d.links.map((l, i) => {
          const small = load !== null && l.cont_a !== null && l.cont_a < load
          return (
            <g
              key={l.path}
              role="button"
              tabIndex={0}
              style={{ cursor: 'pointer' }}
              onClick={() => open({ kind: 'part', path: l.path })}
              onKeyDown={(e) => e.key === 'Enter' && open({ kind: 'part', path: l.path })}
            >
              <rect x={X(i)} y="44" width={step - 4} height={h - 60} fill="transparent" />
              {l.peak_a !== null && (
                <rect x={X(i)} y={Y(l.peak_a)} width={bw} height={floor - Y(l.peak_a)} fill="none" stroke={chokePaint(l.choke)} strokeWidth="1.5" strokeDasharray={l.peak_a > top ? '4 3' : undefined} />
              )}
              {l.cont_a !== null ? (
                <>
                  <rect x={X(i)} y={Y(l.cont_a)} width={bw} height={floor - Y(l.cont_a)} fill={hatchFill(l.choke)} stroke={small ? paint('choke') : chokePaint(l.choke)} strokeWidth={small ? 3 : 2} />
                  <T x={X(i) + bw / 2} y={beside(Math.min(Y(l.cont_a) + 22, floor - 6), load === null ? null : Y(load), floor)} textAnchor="middle" fontSize={20} fontWeight="600" fontFamily={DIGITS} style={{ fontStretch: '70%' }} fill={small ? paint('choke') : paint('ink')} stroke={paint('sheet')} strokeWidth="5" paintOrder="stroke">
                    {say(l.cont_a)}
                  </T>
                </>
              ) : (
                <T x={X(i) + bw / 2} y={floor - 10} textAnchor="middle" fontSize={22} fill={paint('ink.soft')}>
                  ?
                </T>
              )}
              <T
                x={X(i) + bw / 2}
                y={floor + 19}
                textAnchor={tight ? 'end' : 'middle'}
                transform={tight ? `rotate(-40 ${X(i) + bw / 2} ${floor + 19})` : undefined}
                fontSize={14}
                fontWeight="600"
                fill={l === narrow ? paint('choke') : paint('ink')}
              >
                {l.label}
              </T>
              <T x={X(i) + bw / 2} y={floor + 37} textAnchor="middle" fontSize={13} fill={paint('ink.soft')}>
                {l.peak_a && !tight ? `peak ${say(l.peak_a)}` : ''}
              </T>
              <T x={X(i) + bw / 2} y={floor + 54} textAnchor="middle" fontSize={13} fill={paint('ink.soft')}>
                {l.margin_a !== null && l.margin_a !== undefined && !tight ? (l.margin_a >= 0 ? `${say(l.margin_a)} spare` : `${say(-l.margin_a)} short`) : ''}
              </T>
              {l === narrow && !tight && (
                <T x={X(i) + bw / 2} y={floor + 71} textAnchor="middle" fontSize={13} fontWeight="600" fill={paint('choke')}>
                  narrowest
                </T>
              )}
            </g>
          )
        })}
        {load !== null && (
          <g
            role="slider"
            tabIndex={0}
            aria-label="Line amps, setting"
            aria-valuemin={5}
            aria-valuemax={Math.round(top)}
            aria-valuenow={Math.round(load)}
            aria-orientation="vertical"
            style={{ cursor: 'ns-resize' }}
            onPointerDown={() => setDrag(load)}
            onKeyDown={(e) => {
              if (e.key === 'ArrowUp') setLine(load + 5)
              if (e.key === 'ArrowDown') setLine(Math.max(5, load - 5))
            }}
          >
            <rect x="0" y={Y(load) - 22} width={w} height="44" fill="transparent" />
            <path d={`M46 ${Y(load)}H${w - 8}`} stroke={paint('choice')} strokeWidth="3" />
            <rect x="2" y={Y(load) - 17} width="50" height="34" rx="3" fill={paint('choice')} />
            <T x="27" y={Y(load) + 7} textAnchor="middle" fontSize={20} fontWeight="600" fontFamily={DIGITS} style={{ fontStretch: '70%' }} fill={paint('on-ink')}>
              {Math.round(load)}
            </T>
            {['line amps,', 'drag'].map((word, i) => (
              <T key={word} x="3" y={Y(load) + (Y(load) + 50 < floor ? 32 : -36) + 14 * i} fontSize={13} fontWeight="600" fill={paint('choice')}>
                {word}
              </T>
            ))}
          </g>
        )}
        {d.trip && (
          <T x={w - 10} y="22" textAnchor="end" fontSize={15} fontWeight="600" fill={paint('stop')}>
            opens after {show(d.trip.t_s, 's', prefs, 2).text} at {show(d.trip.speed_m_s, 'm_s', prefs).text}
          </T>
        )}
      </svg>
    </Box>
  )
}
