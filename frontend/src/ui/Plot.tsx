import { Box } from '@chakra-ui/react'
import { scaleLinear } from 'd3-scale'
import { line } from 'd3-shape'
import { useId, useState } from 'react'
import type { RibbonPart } from '../api/client'
import { type Anchor, type Flat, settle } from '../lib/labels'
import { show, shownUnit, toUnit, type UnitPrefs } from '../lib/units'
import { chokePaint, chokeWord, DIGITS, hatchFill, paint } from '../theme/paint'
import { useSize } from './useSize'
import { T } from './svgtext'

export interface PlotLine {
  label: string
  x: number[]
  y: number[]
  colour: string
  dash?: string
  width?: number
  labelAt?: number
  quiet?: boolean // not read out at the cursor
}
export interface PlotMark {
  at: number
  label: string
  colour?: string
}

interface Props {
  prefs: UnitPrefs
  label: string
  x: { quantity: string; label: string }
  y: { quantity: string; label: string }
  lines: PlotLine[]
  ribbon?: RibbonPart[]
  ribbonLabel?: string
  verticals?: PlotMark[]
  horizontals?: PlotMark[]
  dots?: { x: number; y: number; label: string }[]
  minH?: string
  from?: number // of x, where it does not begin at zero
  most?: number // of y; what lies above is cut
  onCursor?: (at: number | null) => void
}

const M = { left: 62, right: 18, top: 26, bottom: 40 }
const RIBBON = 34

/** The one chart: lines with labels on them, units on the axes, a choke ribbon beneath, and a
 * reading line that follows pointer, tap or arrow keys. */
export function Plot(props: Props) {
  const { ref, w, h } = useSize<HTMLDivElement>()
  const [cursor, put] = useState<number | null>(null)
  const clip = useId()
  const setCursor = (at: number | null) => {
    put(at)
    props.onCursor?.(at)
  }
  const { prefs, lines, ribbon } = props
  const foot = M.bottom + (ribbon ? RIBBON + 22 : 0)
  const xs = [...lines.flatMap((l) => [l.x[0] ?? 0, l.x.at(-1) ?? 0]), ...(ribbon?.map((r) => r.end) ?? [])]
  const ys = [...lines.flatMap((l) => l.y.filter(Number.isFinite).map((v) => Math.min(v, props.most ?? Infinity))), ...(props.horizontals?.map((m) => m.at) ?? []), 0]
  const x = scaleLinear([props.from ?? Math.min(0, ...xs), Math.max(1e-6, ...xs)], [M.left, w - M.right])
  const y = scaleLinear([Math.min(...ys), Math.max(1e-6, ...ys) * 1.06], [h - foot, M.top])
  const xUnit = shownUnit(props.x.quantity, x.domain()[1]!, prefs)
  const yUnit = shownUnit(props.y.quantity, y.domain()[1]!, prefs)
  const ticks = (s: typeof x, unit: typeof xUnit, n: number) => {
    const own = scaleLinear(s.domain().map((v) => toUnit(v, unit)), [0, 1])
    return own.ticks(n).map((t) => ({ text: own.tickFormat(n)(t).replaceAll(',', '\u202f'), v: t * unit.factor + unit.offset }))
  }
  const path = (l: PlotLine) =>
    line<number>()
      .defined((i) => Number.isFinite(l.y[i]!))
      .x((i) => x(l.x[i]!))
      .y((i) => y(l.y[i]!))(l.x.map((_, i) => i)) ?? ''
  const taken: Flat[] = [
    { x0: -w, y0: 0, x1: 0, y1: h },
    { x0: w, y0: 0, x1: 2 * w, y1: h },
    ...(props.dots ?? []).map((d) => ({ x0: x(d.x) - 8, y0: y(d.y) - 8, x1: x(d.x) + 8, y1: y(d.y) + 8 })),
  ]
  const dots = (props.dots ?? []).map((d) => {
    const anchors: Anchor[] = x(d.x) > w * 0.7 ? ['end', 'start'] : ['start', 'end']
    const spots = [-9, 20].flatMap((dy) => anchors.map((anchor) => ({ d, px: x(d.x) + (anchor === 'end' ? -9 : 9), py: y(d.y) + dy, anchor })))
    return settle(d.label, spots, taken)
  })
  const labelled = lines.filter((l) => l.label && l.x.length > 1).map((l) => {
    const spots = [l.labelAt ?? 0.7, 0.5, 0.85, 0.3, 0.15].map((share) => {
      const i = Math.round(share * (l.x.length - 1))
      const px = x(l.x[i]!)
      return { l, px, py: y(l.y[i]!) - 8, anchor: px > w * 0.75 ? ('end' as const) : ('middle' as const) }
    })
    const drawn = spots.filter((s) => Number.isFinite(s.py) && s.py > M.top - 4)
    return drawn.length ? settle(l.label, drawn, taken) : { ...spots[0]!, py: NaN }
  })
  const move = (clientX: number, el: Element) => {
    const at = x.invert(clientX - el.getBoundingClientRect().left)
    setCursor(Math.min(Math.max(at, x.domain()[0]!), x.domain()[1]!))
  }
  const key = (e: React.KeyboardEvent) => {
    const step = (x.domain()[1]! - x.domain()[0]!) / 60
    if (e.key === 'ArrowRight' || e.key === 'ArrowLeft') {
      e.preventDefault()
      setCursor(Math.min(Math.max((cursor ?? x.domain()[0]!) + (e.key === 'ArrowRight' ? step : -step), x.domain()[0]!), x.domain()[1]!))
    }
    if (e.key === 'Escape') setCursor(null)
  }
  const reading = cursor === null ? '' : readingAt(props, cursor)
  return (
    <Box ref={ref} w="100%" h="100%" minH={props.minH ?? 'wide'} position="relative">
      <svg
        width={w}
        height={h}
        role="img"
        tabIndex={0}
        aria-label={`${props.label}${reading ? `: ${reading}` : ''}`}
        onPointerMove={(e) => e.pointerType === 'mouse' && move(e.clientX, e.currentTarget)}
        onPointerDown={(e) => move(e.clientX, e.currentTarget)}
        onPointerLeave={(e) => e.pointerType === 'mouse' && setCursor(null)}
        onKeyDown={key}
        style={{ position: 'absolute', inset: 0, touchAction: 'pan-y' }}
      >
        <g style={{ fontSize: 13 }} fill={paint('ink.soft')}>
          {ticks(x, xUnit, w < 500 ? 5 : 9).map((t) => (
            <g key={t.text} transform={`translate(${x(t.v)},0)`}>
              <path d={`M0 ${M.top}V${h - foot}`} stroke={paint('rule')} strokeWidth="1" />
              <T y={h - foot + 17} textAnchor="middle">
                {t.text}
              </T>
            </g>
          ))}
          {ticks(y, yUnit, 6).map((t) => (
            <g key={t.text} transform={`translate(0,${y(t.v)})`}>
              <path d={`M${M.left} 0H${w - M.right}`} stroke={paint('rule')} strokeWidth={t.v === 0 ? 0 : 1} />
              <T x={M.left - 8} y="4.5" textAnchor="end">
                {t.text}
              </T>
            </g>
          ))}
          <T x={M.left - 8} y={14} textAnchor="start" fontWeight="600">
            {[props.y.label, yUnit.symbol].filter(Boolean).join(', ')}
          </T>
          <T x={w - M.right} y={h - foot + 34} textAnchor="end" fontWeight="600">
            {[props.x.label, xUnit.symbol].filter(Boolean).join(', ')}
          </T>
        </g>
        <path d={`M${M.left} ${M.top}V${y(0)}H${w - M.right}`} fill="none" stroke={paint('ink')} strokeWidth="1.5" />
        {props.horizontals?.map((m) => (
          <g key={m.label}>
            <path d={`M${M.left} ${y(m.at)}H${w - M.right}`} stroke={m.colour ?? paint('ink.soft')} strokeWidth="1.5" strokeDasharray="2 4" />
            <T x={w - M.right - 4} y={y(m.at) - 5} textAnchor="end" fontSize={13} fill={m.colour ?? paint('ink.soft')}>
              {m.label}
            </T>
          </g>
        ))}
        <clipPath id={clip}>
          <rect x={M.left} y={M.top - 4} width={Math.max(0, w - M.left - M.right)} height={Math.max(0, h - foot - M.top + 6)} />
        </clipPath>
        {lines.map((l) => (
          <path key={l.label} clipPath={`url(#${clip})`} d={path(l)} fill="none" stroke={l.colour} strokeWidth={l.width ?? 2} strokeDasharray={l.dash} strokeLinejoin="round" />
        ))}
        {labelled.filter(({ py }) => Number.isFinite(py)).map(({ l, px, py, anchor }) => (
          <T key={l.label} x={px} y={py} textAnchor={anchor} fontSize="14" fontWeight="600" fill={l.colour} stroke={paint('sheet')} strokeWidth="4" paintOrder="stroke">
            {l.label}
          </T>
        ))}
        {dots.map(({ d, px, py, anchor }) => (
          <g key={d.label}>
            <path d="M-6 0H6M0-6V6" transform={`translate(${x(d.x)},${y(d.y)})`} stroke={paint('choice')} strokeWidth="2.5" />
            <T x={px} y={py} textAnchor={anchor} fontSize="14" fontWeight="600" fill={paint('choice')} stroke={paint('sheet')} strokeWidth="4" paintOrder="stroke">
              {d.label}
            </T>
          </g>
        ))}
        {props.verticals?.map((m) => (
          <g key={m.label} transform={`translate(${x(m.at)},0)`}>
            <path d={`M0 ${M.top}V${h - foot}`} stroke={m.colour ?? paint('choice')} strokeWidth="2" strokeDasharray="6 3" />
            <T x={x(m.at) > w * 0.75 ? -6 : 6} y={M.top + 12} textAnchor={x(m.at) > w * 0.75 ? 'end' : 'start'} fontSize="14" fontWeight="600" fill={m.colour ?? paint('choice')} stroke={paint('sheet')} strokeWidth="4" paintOrder="stroke">
              {m.label}
            </T>
          </g>
        ))}
        {ribbon && (
          <g transform={`translate(0,${h - RIBBON - 12})`}>
            {ribbon.map((r) => (
              <g key={`${r.start}`}>
                <rect x={x(r.start)} y={0} width={Math.max(1, x(r.end) - x(r.start))} height={RIBBON} fill={hatchFill(r.choke)} stroke={chokePaint(r.choke)} strokeWidth="1.5" />
                {x(r.end) - x(r.start) > 34 && (
                  <T x={(x(r.start) + x(r.end)) / 2} y={RIBBON / 2 + 5} textAnchor="middle" fontSize={15} fontWeight="600" fill={chokePaint(r.choke)} stroke={paint('sheet')} strokeWidth="5" paintOrder="stroke">
                    {chokeWord(r.choke)}
                  </T>
                )}
              </g>
            ))}
            <T x={M.left - 8} y={RIBBON / 2 + 5} textAnchor="end" fontSize={13} fontWeight="600" fill={paint('choke')}>
              choke
            </T>
          </g>
        )}
        {cursor !== null && (
          <g transform={`translate(${x(cursor)},0)`}>
            <path d={`M0 ${M.top}V${ribbon ? h - 12 : h - foot}`} stroke={paint('ink')} strokeWidth="1" />
          </g>
        )}
        {reading && (
          <T x={w - M.right} y={14} textAnchor="end" fontSize={14} fontWeight="600" fill={paint('ink')} fontFamily={DIGITS} style={{ fontStretch: '75%', fontVariantNumeric: 'tabular-nums' }}>
            {reading}
          </T>
        )}
      </svg>
    </Box>
  )
}

export function interpolate(xs: number[], ys: number[], at: number): number | null {
  if (xs.length < 2 || at < xs[0]! || at > xs.at(-1)!) return null
  let i = xs.findIndex((v) => v >= at)
  i = Math.max(1, i)
  const span = xs[i]! - xs[i - 1]!
  const u = span > 0 ? (at - xs[i - 1]!) / span : 0
  return ys[i - 1]! * (1 - u) + ys[i]! * u
}

function readingAt(props: Props, at: number): string {
  const parts = [show(at, props.x.quantity, props.prefs).text]
  for (const l of props.lines.filter((x) => !x.quiet)) {
    const v = interpolate(l.x, l.y, at)
    if (v !== null) parts.push(`${l.label} ${show(v, props.y.quantity, props.prefs).text}`)
  }
  const choke = props.ribbon?.find((r) => at >= r.start && at <= r.end)
  if (choke) parts.push(chokeWord(choke.choke))
  return parts.join('   ')
}
