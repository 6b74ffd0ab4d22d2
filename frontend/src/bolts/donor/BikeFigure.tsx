import type { ReactNode } from 'react'
import { paint } from '../../theme/paint'

export interface Shape {
  wheelbase_m: number
  wheel_radius_m: number
  frame: string
}
type Place = (n: number) => number

/** A motorcycle with its front to the right, in proportion to wheelbase and wheels:
 * what masses and bays sit in. Nothing here is measured; the frame follows its type. */
export function BikeFigure({ d, X, Y, k }: { d: Shape; X: Place; Y: Place; k: number }) {
  const L = d.wheelbase_m
  const r = d.wheel_radius_m
  const p = (x: number, y: number) => `${X(x)} ${Y(y)}`
  const tube = Math.max(4, 0.032 * k)
  const head = [0.785 * L, r + 0.62] as const
  const clamp = [0.765 * L, r + 0.74] as const
  const pivot = [0.375 * L, r + 0.07] as const
  const tail = [-0.03 * L, r + 0.64] as const
  const soft = paint('rule.strong')
  // The fork's lower legs: the last 45 % of the way from the clamp to the axle.
  const leg = (t: number): [number, number] => [clamp[0] + (L - clamp[0]) * t, clamp[1] + (r - clamp[1]) * t]
  return (
    <g strokeLinecap="round" strokeLinejoin="round" pointerEvents="none">
      <Wheel x={X(0)} y={Y(r)} r={r * k} disc={0.1 * k} />
      <Wheel x={X(L)} y={Y(r)} r={r * k} disc={0.125 * k} />
      <Fenders p={p} L={L} r={r} tail={tail} />
      {/* Chain and sprockets */}
      <g fill="none" stroke={soft} strokeWidth="1.2">
        <circle cx={X(0)} cy={Y(r)} r={0.105 * k} strokeDasharray="3 2" />
        <circle cx={X(pivot[0] + 0.09)} cy={Y(pivot[1])} r={0.035 * k} />
        <path d={`M${p(0, r + 0.105)}L${p(pivot[0] + 0.09, pivot[1] + 0.035)}M${p(0, r - 0.105)}L${p(pivot[0] + 0.09, pivot[1] - 0.035)}`} />
      </g>
      <path d={`M${p(-0.03, r + 0.02)}L${p(pivot[0], pivot[1] + 0.045)}L${p(pivot[0], pivot[1] - 0.045)}L${p(-0.03, r - 0.025)}Z`} fill={paint('well')} stroke={soft} strokeWidth="1.6" />
      <Spring from={[X(0.24 * L), Y(r + 0.08)]} to={[X(0.4 * L), Y(r + 0.42)]} />
      <Frame frame={d.frame} p={p} L={L} r={r} head={head} pivot={pivot} tail={tail} tube={tube} />
      {/* Fork: tubes, then the thicker legs, then the clamps */}
      <Tube d={`M${p(...clamp)}L${p(L, r)}`} width={tube * 0.8} />
      <Tube d={`M${p(...leg(0.52))}L${p(L, r)}`} width={tube * 1.35} />
      <path d={`M${p(clamp[0] - 0.03, clamp[1] - 0.01)}l${0.07 * k} ${0.012 * k}M${p(leg(0.2)[0] - 0.035, leg(0.2)[1] - 0.01)}l${0.075 * k} ${0.014 * k}`} stroke={paint('ink.soft')} strokeWidth={tube * 0.7} />
      {/* Bars with a grip, and the plate before them */}
      <path d={`M${p(clamp[0] - 0.005, clamp[1])}L${p(clamp[0] - 0.02, clamp[1] + 0.09)}L${p(clamp[0] - 0.1, clamp[1] + 0.13)}`} fill="none" stroke={paint('ink.soft')} strokeWidth={tube * 0.6} />
      <path d={`M${p(clamp[0] - 0.1, clamp[1] + 0.13)}L${p(clamp[0] - 0.21, clamp[1] + 0.12)}`} stroke={paint('ink')} strokeWidth={tube * 0.9} />
      <path d={`M${p(clamp[0] + 0.03, clamp[1] + 0.06)}L${p(clamp[0] + 0.075, clamp[1] + 0.05)}L${p(clamp[0] + 0.11, clamp[1] - 0.12)}L${p(clamp[0] + 0.065, clamp[1] - 0.13)}Z`} fill={paint('sheet')} stroke={soft} strokeWidth="1.5" />
      <Seat p={p} L={L} r={r} tail={tail} />
      {/* Peg and the swing arm's pivot */}
      <path d={`M${p(pivot[0] - 0.05, r + 0.005)}h${0.12 * k}`} stroke={paint('ink')} strokeWidth={tube * 0.8} />
      <circle cx={X(pivot[0])} cy={Y(pivot[1])} r={tube * 0.8} fill={paint('sheet')} stroke={paint('ink.soft')} strokeWidth="2" />
      <path d={`M${X(0) - 6} ${Y(r)}h12m-6-6v12M${X(L) - 6} ${Y(r)}h12m-6-6v12`} stroke={paint('ink')} strokeWidth="1.6" />
    </g>
  )
}

/** A tyre with knobs, its rim, spokes and brake disc. */
function Wheel({ x, y, r, disc }: { x: number; y: number; r: number; disc: number }) {
  const rim = r * 0.76
  return (
    <g fill="none">
      <circle cx={x} cy={y} r={r - 1} stroke={paint('ink')} strokeWidth="3.4" strokeDasharray="5.5 3.5" strokeLinecap="butt" />
      <circle cx={x} cy={y} r={(r + rim) / 2 - 1.5} stroke={paint('ink')} strokeOpacity="0.78" strokeWidth={r - rim - 3} />
      <circle cx={x} cy={y} r={rim - 2} stroke={paint('rule.strong')} strokeWidth="3" />
      <g stroke={paint('rule.strong')} strokeWidth="0.7">
        {Array.from({ length: 18 }, (_, i) => {
          const a = (i * Math.PI) / 9
          const b = a + (i % 2 ? 0.55 : -0.55)
          return <path key={i} d={`M${x + Math.cos(b) * r * 0.13} ${y + Math.sin(b) * r * 0.13}L${x + Math.cos(a) * (rim - 3)} ${y + Math.sin(a) * (rim - 3)}`} />
        })}
      </g>
      <circle cx={x} cy={y} r={disc} stroke={paint('ink.soft')} strokeWidth="2.6" strokeDasharray="7 2.5" strokeLinecap="butt" />
      <circle cx={x} cy={y} r={r * 0.13} fill={paint('sheet')} stroke={paint('ink.soft')} strokeWidth="1.6" />
    </g>
  )
}

/** A round tube: a dark edge, a light middle. */
function Tube({ d, width }: { d: string; width: number }) {
  return (
    <>
      <path d={d} fill="none" stroke={paint('ink.soft')} strokeWidth={width} />
      <path d={d} fill="none" stroke={paint('well')} strokeWidth={Math.max(1, width - 2.6)} />
    </>
  )
}

type At = readonly [number, number]
interface FrameProps {
  frame: string
  p: (x: number, y: number) => string
  L: number
  r: number
  head: At
  pivot: At
  tail: At
  tube: number
}

/** The main frame by its type; where nobody has said, a cradle. */
function Frame({ frame, p, L, r, head, pivot, tail, tube }: FrameProps): ReactNode {
  const seat: At = [0.45 * L, r + 0.46]
  const rear = `M${p(...seat)}L${p(...tail)}M${p(0.385 * L, r + 0.22)}L${p(0.06 * L, r + 0.58)}`
  if (frame === 'perimeter')
    return (
      <>
        <Tube d={rear} width={tube * 0.75} />
        <path
          d={`M${p(head[0], head[1] + 0.05)}L${p(0.5 * L, r + 0.44)}L${p(pivot[0] - 0.02, pivot[1] + 0.2)}L${p(pivot[0] - 0.03, pivot[1] - 0.07)}L${p(pivot[0] + 0.06, pivot[1] - 0.07)}L${p(0.5 * L, r + 0.3)}L${p(head[0] + 0.02, head[1] - 0.1)}Z`}
          fill={paint('well')}
          stroke={paint('ink.soft')}
          strokeWidth="1.8"
        />
        <Tube d={`M${p(head[0], head[1] - 0.08)}L${p(0.66 * L, r + 0.02)}L${p(0.44 * L, r - 0.02)}L${p(...pivot)}`} width={tube * 0.7} />
      </>
    )
  if (frame === 'step_through')
    return (
      <>
        <Tube d={`M${p(0.4 * L, r + 0.2)}L${p(0.36 * L, r + 0.5)}M${p(0.36 * L, r + 0.5)}L${p(...tail)}`} width={tube * 0.8} />
        <Tube d={`M${p(...head)}C${p(0.72 * L, r + 0.4)} ${p(0.66 * L, r + 0.2)} ${p(0.5 * L, r + 0.17)}L${p(...pivot)}`} width={tube * 1.5} />
      </>
    )
  return (
    <>
      <Tube d={rear} width={tube * 0.75} />
      <Tube d={`M${p(...head)}L${p(...seat)}L${p(...pivot)}`} width={tube} />
      <Tube d={`M${p(head[0] + 0.005, head[1] - 0.05)}L${p(0.665 * L, r + 0.02)}Q${p(0.655 * L, r - 0.03)} ${p(0.6 * L, r - 0.03)}L${p(0.44 * L, r - 0.03)}Q${p(0.4 * L, r - 0.03)} ${p(...pivot)}`} width={tube} />
    </>
  )
}

function Seat({ p, L, r, tail }: { p: FrameProps['p']; L: number; r: number; tail: At }) {
  return (
    <path
      d={`M${p(0.66 * L, r + 0.585)}C${p(0.56 * L, r + 0.56)} ${p(0.5 * L, r + 0.515)} ${p(0.4 * L, r + 0.52)}C${p(0.25 * L, r + 0.53)} ${p(0.1 * L, r + 0.6)} ${p(tail[0] - 0.02, tail[1] + 0.04)}L${p(tail[0] + 0.02, tail[1] - 0.01)}C${p(0.14 * L, r + 0.555)} ${p(0.28 * L, r + 0.47)} ${p(0.42 * L, r + 0.465)}L${p(0.55 * L, r + 0.47)}L${p(0.665 * L, r + 0.53)}Z`}
      fill={paint('ink')}
      fillOpacity="0.82"
    />
  )
}

/** A high front fender, a rear one behind the seat, and the side panel under it. */
function Fenders({ p, L, r, tail }: { p: FrameProps['p']; L: number; r: number; tail: At }) {
  return (
    <g fill={paint('well')} stroke={paint('rule.strong')} strokeWidth="1.5">
      <path d={`M${p(0.82 * L, r + 0.5)}C${p(0.92 * L, r + 0.53)} ${p(1.04 * L, r + 0.49)} ${p(1.15 * L, r + 0.4)}C${p(1.04 * L, r + 0.45)} ${p(0.94 * L, r + 0.47)} ${p(0.83 * L, r + 0.455)}Z`} />
      <path d={`M${p(tail[0] + 0.16, tail[1] - 0.03)}C${p(tail[0] + 0.02, tail[1] + 0.01)} ${p(tail[0] - 0.1, tail[1])} ${p(tail[0] - 0.24, tail[1] - 0.07)}C${p(tail[0] - 0.1, tail[1] - 0.03)} ${p(tail[0], tail[1] - 0.06)} ${p(tail[0] + 0.12, tail[1] - 0.1)}Z`} />
    </g>
  )
}

/** A shock: its body, and the spring as a zigzag. */
function Spring({ from, to }: { from: At; to: At }) {
  const turns = 7
  const [dx, dy] = [to[0] - from[0], to[1] - from[1]]
  const long = Math.hypot(dx, dy) || 1
  const [nx, ny] = [(-dy / long) * 6, (dx / long) * 6]
  const points = Array.from({ length: 2 * turns + 1 }, (_, i) => {
    const t = 0.18 + (0.64 * i) / (2 * turns)
    const side = i % 2 ? 1 : -1
    return `${from[0] + dx * t + nx * side} ${from[1] + dy * t + ny * side}`
  })
  return (
    <g fill="none" stroke={paint('ink.soft')}>
      <path d={`M${from[0]} ${from[1]}L${to[0]} ${to[1]}`} strokeWidth="3" />
      <path d={`M${points.join('L')}`} strokeWidth="1.8" />
    </g>
  )
}
