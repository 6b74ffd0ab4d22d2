import { Box, Flex } from '@chakra-ui/react'
import { scaleLinear } from 'd3-scale'
import { useState } from 'react'
import type { Drawings } from '../../api/client'
import { useThrustAt } from '../../api/hooks'
import { useTwist } from '../../api/link'
import { at as stored } from '../../lib/path'
import { curveShare, shareFor, thrustOf } from '../../lib/twist'
import { show } from '../../lib/units'
import { paint } from '../../theme/paint'
import { Act } from '../../ui/atoms'
import { Slide } from '../../ui/Slide'
import { useWorkshop } from '../../ui/bench'
import { useSize } from '../../ui/useSize'
import { T } from '../../ui/svgtext'
import { dragHandlers } from '../../ui/drag'

const MOST_POINTS = 11 // as many as the controller's own table holds

type T = NonNullable<Drawings['tune']>

/** Thrust over twist at a chosen speed, and at three others beside it; the points of the curve are dragged on it. */
export function Curve({ d }: { d: T }) {
  const { ref, w, h } = useSize<HTMLDivElement>()
  const { bench, change, prefs } = useWorkshop()
  const twist = useTwist(bench.id, bench.version).data ?? []
  const [speed, setSpeed] = useState(0)
  const at = useThrustAt(bench.id, bench.version, speed).data
  const [drag, setDrag] = useState<{ i: number; x: number; y: number } | null>(null)
  const [picked, setPicked] = useState(0)
  const m = { l: 64, r: 120, t: 30, b: 42 }
  const most = Math.max(1, ...d.thrust_n.flatMap(([, n]) => n as number[]))
  const points = (d.points as [number, number][]).map((p, i) => (drag?.i === i ? ([drag.x, drag.y] as [number, number]) : p))
  const X = (t: number) => m.l + t * (w - m.l - m.r)
  const Y = (s: number) => h - m.b - s * (h - m.b - m.t)
  const pushes = at?.thrust_n ?? [0, most]
  const save = (next: [number, number][]) => change([{ path: 'tune.throttle', value: next }], 'Throttle curve')
  /** One point of the curve as it is by then; all of it where it has other points by then. */
  const put = (i: number, p: [number, number]) =>
    change((doc) => {
      const kept = stored(doc, 'tune.throttle') as [number, number][]
      const fits = kept.length === points.length && (kept[i - 1]?.[0] ?? -1) < p[0] && p[0] < (kept[i + 1]?.[0] ?? 2)
      return [{ path: 'tune.throttle', value: (fits ? kept : points).map((q, k) => (k === i ? p : q)) }]
    }, 'Throttle curve')
  const clamp = (i: number, x: number, y: number) => {
    const lo = i === 0 ? 0 : points[i - 1]![0] + 0.02
    const hi = i === points.length - 1 ? 1 : points[i + 1]![0] - 0.02
    const fx = i === 0 ? 0 : i === points.length - 1 ? 1 : Math.min(Math.max(x, lo), hi)
    return { i, x: Math.round(fx * 100) / 100, y: Math.round(Math.min(Math.max(y, 0), 1) * 100) / 100 }
  }
  const move = (e: React.PointerEvent) => {
    if (!drag) return
    const box = e.currentTarget.getBoundingClientRect()
    setDrag(clamp(drag.i, (e.clientX - box.left - m.l) / (w - m.l - m.r), shareFor(pushes, most, (most * (h - m.b - (e.clientY - box.top))) / (h - m.b - m.t))))
  }
  const drop = () => {
    if (!drag) return
    setDrag(null)
    put(drag.i, [drag.x, drag.y])
  }
  const nudge = (i: number, e: React.KeyboardEvent) => {
    const by = { ArrowUp: [0, 0.02], ArrowDown: [0, -0.02], ArrowLeft: [-0.02, 0], ArrowRight: [0.02, 0] }[e.key]
    if (!by) return
    e.preventDefault()
    const p = clamp(i, points[i]![0] + by[0]!, points[i]![1] + by[1]!)
    put(i, [p.x, p.y])
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
    <Flex direction="column" flex="1" minH="inherit">
      <Box ref={ref} flex="1" minH="column" position="relative">
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
          {twist.map((share, i) => (
            <rect key={i} x={X(i / 10) + 2} width={X(0.1) - X(0) - 4} y={Y(0) - share * 0.35 * (Y(0) - m.t)} height={share * 0.35 * (Y(0) - m.t)} fill={paint('choice.wash')} stroke={paint('choice')} strokeWidth="1">
              <title>{`${i * 10} to ${i * 10 + 10} % of twist: ${(100 * share).toFixed(0)} % of the ride`}</title>
            </rect>
          ))}
          {twist.length > 0 && (
            <T x={X(0) + 6} y={m.t + 14} fill={paint('choice')} fontSize={13}>
              bars: where the rider was, by the log
            </T>
          )}
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
          <path d={d.twist.map((x, i) => `${i ? 'L' : 'M'}${X(x)} ${Y(thrustOf(pushes, curveShare(points, x)) / most)}`).join('')} fill="none" stroke={paint('choice')} strokeWidth="2.5" />
          {points.map(([x, y], i) => (
            <g key={i} role="slider" tabIndex={0} aria-label={`Curve point ${i + 1}`} aria-valuenow={Math.round(y * 100)} aria-valuemin={0} aria-valuemax={100} aria-valuetext={`twist ${Math.round(x * 100)} %, torque ${Math.round(y * 100)} %, ${show(thrustOf(pushes, y), 'n', prefs).text}`} style={{ cursor: 'move' }} onFocus={() => setPicked(i)} onPointerDown={() => setDrag({ i, x, y })} onKeyDown={(e) => nudge(i, e)}>
              <circle cx={X(x)} cy={Y(thrustOf(pushes, y) / most)} r="22" fill="transparent" />
              <circle cx={X(x)} cy={Y(thrustOf(pushes, y) / most)} r="8" fill={paint('choice')} stroke={paint('sheet')} strokeWidth="2.5" />
            </g>
          ))}
        </svg>
      </Box>
      <Flex px="3" pb="2" columnGap="4" rowGap="1" wrap="wrap" align="center" className="no-print">
        <Box flex="1 1 {sizes.field}">
          <Slide label="At a road speed of" name="Road speed" text={speed > 0 ? show(speed, 'm_s', prefs).text : 'rest'} lo={0} hi={Math.max(Math.floor(2 * (at?.top_m_s ?? 1)) / 2, 1)} step={0.5} value={speed} moved set={setSpeed} />
        </Box>
        <Flex gap="2" wrap="wrap">
          <Act onClick={add} disabled={points.length >= MOST_POINTS}>
            Add a point
          </Act>
          <Act disabled={picked <= 0 || picked >= points.length - 1} onClick={() => save(points.filter((_, i) => i !== picked))}>
            Take point {picked > 0 && picked < points.length - 1 ? picked + 1 : ''} out
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
      </Flex>
    </Flex>
  )
}

