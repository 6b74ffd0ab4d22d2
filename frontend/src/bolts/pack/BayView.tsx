import { Box, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import type { BayDrawing, Fitted } from '../../api/client'
import { amountAt, at, type Doc } from '../../lib/path'
import { type Faces, fitsIn, moved, overlap } from '../../lib/collide'
import { show } from '../../lib/units'
import { DIGITS, paint } from '../../theme/paint'
import { Act } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { useLines } from '../../ui/useLines'
import { T } from '../../ui/svgtext'
import { useSize } from '../../ui/useSize'
import { asBlocks } from './hand'

export type Face = 'side' | 'front' | 'top'
type Spot = [number, number, number]
// Which of x, y, z is drawn across and which up.
const AXES: Record<Face, [0 | 1 | 2, 0 | 1 | 2]> = { side: [0, 1], front: [2, 1], top: [0, 2] }
const KEYS = ['x', 'y', 'z'] as const
const FACE_OF: Record<string, Face> = { width: 'side', length: 'front', height: 'top' }
const SHEET_STEPS = 5 // further apart than this a sheet of its own belongs between (about 25 V)
const SIZE_WORDS = ['length', 'height', 'width']

const low = (f: Faces, axis: 0 | 1 | 2) => [f.x0, f.y0, f.z0][axis]!
const high = (f: Faces, axis: 0 | 1 | 2) => [f.x1, f.y1, f.z1][axis]!

/** The bays to scale, one at a time: from the side, the front or the top, layer by layer. Bodies put
 * down by hand are dragged or moved by arrow keys, and show what they stand in while they move. */
export function BayView({ fit }: { fit: Fitted }) {
  const [number, setNumber] = useState(0)
  const bay = fit.bays[Math.min(number, fit.bays.length - 1)]!
  const natural = FACE_OF[bay.axis] ?? 'side'
  const [chosen, setFace] = useState<Face | null>(null)
  const [layer, setLayer] = useState(0)
  const face = chosen ?? natural
  const flat = face === natural && bay.layers > 1
  return (
    <Flex direction="column" flex="1" minH="inherit">
      <Flex gap="1" px="2" pt="1" wrap="wrap" align="center" className="no-print">
        {fit.bays.length > 1 &&
          fit.bays.map((b, i) => (
            <Act key={b.index} tone={b === bay ? 'choice' : 'plain'} aria-pressed={b === bay} onClick={() => (setNumber(i), setLayer(0))}>
              {b.name}
            </Act>
          ))}
        {(['side', 'front', 'top'] as const).map((f) => (
          <Act key={f} tone="ghost" px="2" aria-pressed={f === face} fontWeight={f === face ? '700' : '400'} textDecoration={f === face ? 'underline' : 'none'} onClick={() => setFace(f)}>
            {f}
          </Act>
        ))}
        {flat && (
          <Flex align="center" gap="1" role="group" aria-label="Layers">
            <Text color="ink-soft">layer</Text>
            {Array.from({ length: bay.layers }, (_, i) => (
              <Act key={i} tone={i === layer ? 'choice' : 'plain'} px="2" aria-pressed={i === layer} aria-label={`layer ${i + 1}`} onClick={() => setLayer(i)}>
                {i + 1}
              </Act>
            ))}
          </Flex>
        )}
        <Box flex="1" />
        <HandTools fit={fit} bay={bay} />
      </Flex>
      <Canvas key={`${bay.index}-${face}`} fit={fit} bay={bay} face={face} layer={flat ? Math.min(layer, bay.layers - 1) : null} />
    </Flex>
  )
}

function HandTools({ fit, bay }: { fit: Fitted; bay: BayDrawing }) {
  const { bench, change } = useWorkshop()
  const placed = (at(bench.doc, 'pack.placed') as Record<string, unknown>[]) ?? []
  const lines = useLines('pack.placed', null, 'Put a body down')
  const add = (kind: 'body' | 'block' | 'bms') => lines.add({ kind, bay: bay.index + 1, turn: kind === 'block' ? 'whl' : 'lwh', cols: 4, rows: 2, layers: 1 })
  if (!fit.by_hand && !placed.length) {
    return <Act onClick={() => change([{ path: 'pack.placed', value: asBlocks(fit) }], 'Laid out by hand')}>Lay out by hand</Act>
  }
  return (
    <>
      <Act onClick={() => add(bay.round ? 'block' : 'body')}>{bay.round ? 'Add a block' : 'Add a module'}</Act>
      {!placed.some((p) => p.kind === 'bms') && <Act onClick={() => add('bms')}>Add the BMS</Act>}
      <Act onClick={() => change([{ path: 'pack.placed', value: [] }], 'Laid out by rule')}>By rule again</Act>
    </>
  )
}

function extent(bay: BayDrawing, face: Face): [number, number, number, number] {
  const xs = bay.corners.map((c) => c[0]!)
  const ys = bay.corners.map((c) => c[1]!)
  const spans = [
    [Math.min(...xs), Math.max(...xs)],
    [Math.min(...ys), Math.max(...ys)],
    [-bay.width_m / 2, bay.width_m / 2],
  ]
  const [u, v] = AXES[face]
  return [spans[u]![0]!, spans[u]![1]!, spans[v]![0]!, spans[v]![1]!]
}

function Canvas({ fit, bay, face, layer }: { fit: Fitted; bay: BayDrawing; face: Face; layer: number | null }) {
  const { ref, w, h } = useSize<HTMLDivElement>()
  const { prefs } = useWorkshop()
  const [u, v] = AXES[face]
  const [u0, u1, v0, v1] = extent(bay, face)
  const narrow = w < 560
  const top = narrow ? 50 : 30
  const k = Math.max(1, Math.min((w - 120) / (u1 - u0), (h - 46 - top) / (v1 - v0)))
  const X = (a: number) => w / 2 + (a - (u0 + u1) / 2) * k
  const Y = (b: number) => top + (v1 - b) * k
  const shape = face === 'side' ? bay.corners.map((c) => `${X(c[0]!)},${Y(c[1]!)}`).join(' ') : `${X(u0)},${Y(v0)} ${X(u1)},${Y(v0)} ${X(u1)},${Y(v1)} ${X(u0)},${Y(v1)}`
  const puts = bay.puts.filter((p) => layer === null || p.layer === layer)
  const first = new Map<number, number>()
  puts.forEach((p, i) => p.group >= 0 && !first.has(p.group) && first.set(p.group, i))
  const circle = bay.round && face === (FACE_OF[bay.axis] ?? 'side')
  const bw = bay.size_m[u]! * k
  const bh = bay.size_m[v]! * k
  const grown = bay.growth[0]
  const over = fit.short > 0
  return (
    <Box ref={ref} flex="1" minH="wide" position="relative">
      <svg width={w} height={h} role="group" aria-label={`${bay.name} to scale from the ${face}: ${bay.taken} bodies in ${bay.capacity} places, ${bay.layers} layers`} style={{ position: 'absolute', inset: 0, touchAction: 'pan-y' }}>
        <polygon points={shape} fill="none" stroke={paint('ink')} strokeWidth="2.5" />
        {bay.keep_free.map((b) => (
          <Blocked key={b.name + b.kind} x={X(Math.max(low(b.box, u), u0))} y={Y(Math.min(high(b.box, v), v1))} w={(Math.min(high(b.box, u), u1) - Math.max(low(b.box, u), u0)) * k} h={(Math.min(high(b.box, v), v1) - Math.max(low(b.box, v), v0)) * k} label={b.name || b.kind} />
        ))}
        {puts.map((p, i) => {
          const spot: Spot = [p.x_m, p.y_m, p.z_m]
          return <Body key={i} cx={X(spot[u])} cy={Y(spot[v])} w={bw} h={bh} round={circle} group={p.group} label={first.get(p.group) === i && p.group >= 0 ? String(p.group + 1) : ''} />
        })}
        {layer !== null && <Sides fit={fit} bay={bay} layer={layer} at={(p) => [X([p.x_m, p.y_m, p.z_m][u]!), Y([p.x_m, p.y_m, p.z_m][v]!)]} />}
        {bay.guest && <Blocked solid x={X(low(bay.guest, u))} y={Y(high(bay.guest, v))} w={(high(bay.guest, u) - low(bay.guest, u)) * k} h={(high(bay.guest, v) - low(bay.guest, v)) * k} label="BMS" />}
        {bay.hand.map((body) => (
          <Hand key={body.index} body={body} bay={bay} face={face} X={X} Y={Y} k={k} />
        ))}
        <g style={{ fontSize: 14, fontWeight: 600 }} fill={paint('ink')}>
          <path d={`M${X(u0)} ${Y(v0) + 14}H${X(u1)}M${X(u0)} ${Y(v0) + 9}v10M${X(u1)} ${Y(v0) + 9}v10`} stroke={paint('ink')} fill="none" />
          <T x={X((u0 + u1) / 2)} y={Y(v0) + 31} textAnchor="middle">
            {SIZE_WORDS[u]} {show(u1 - u0, 'm', prefs).text}
          </T>
          <T x={X(u0) - 9} y={Y((v0 + v1) / 2)} textAnchor="end">
            {SIZE_WORDS[v]}
          </T>
          <T x={X(u0) - 9} y={Y((v0 + v1) / 2) + 17} textAnchor="end">
            {show(v1 - v0, 'm', prefs).text}
          </T>
          <T x={12} y={20} fontSize={15} fill={over ? paint('stop') : paint('ink')}>
            {fit.needed} needed, {fit.capacity} places; here {bay.taken} of {bay.capacity}
          </T>
          <T x={narrow ? 12 : w - 12} y={narrow ? 39 : 20} textAnchor={narrow ? 'start' : 'end'} fontSize={14} fontWeight="400" fill={paint('ink.soft')}>
            {bay.pattern === 'by hand' ? 'put down by hand' : `${bay.pattern}, ${bay.round ? `lying along the ${bay.axis}` : bay.axis}`}
            {grown && grown.more > 0 ? `; 10 mm more ${grown.size}: +${grown.more}` : ''}
          </T>
        </g>
      </svg>
    </Box>
  )
}

/** Where neighbours in a layer are two or more groups apart: that is where a sheet belongs. */
function Sides(p: { fit: Fitted; bay: BayDrawing; layer: number; at: (put: BayDrawing['puts'][number]) => [number, number] }) {
  const number = p.fit.bays.indexOf(p.bay)
  const here = p.fit.sides.filter((s) => s.bay === number && !s.ends && s.a.layer === p.layer)
  return (
    <g stroke={paint('caution')} aria-label={`${here.length} neighbours two or more groups apart`} role="img">
      {here.map((s, i) => {
        const [ax, ay] = p.at(s.a)
        const [bx, by] = p.at(s.b)
        const mx = (ax + bx) / 2
        const my = (ay + by) / 2
        const dx = (bx - ax) * 0.42
        const dy = (by - ay) * 0.42
        return <path key={i} d={`M${mx - dy} ${my + dx}L${mx + dy} ${my - dx}`} strokeWidth={s.steps > SHEET_STEPS ? 5 : 2.5} />
      })}
    </g>
  )
}

function Body(p: { cx: number; cy: number; w: number; h: number; round: boolean; group: number; label: string }) {
  const taken = p.group >= 0
  const odd = p.group % 2 === 1
  const look = { fill: taken ? (odd ? paint('well') : paint('sheet')) : 'none', stroke: taken ? paint('ink') : paint('rule.strong'), strokeWidth: taken ? 1.1 : 0.7, strokeDasharray: taken ? undefined : '2 2' }
  const r = Math.min(p.w, p.h) / 2
  return (
    <g>
      {p.round ? <circle cx={p.cx} cy={p.cy} r={r} {...look} /> : <rect x={p.cx - p.w / 2} y={p.cy - p.h / 2} width={p.w} height={p.h} {...look} />}
      {taken && p.round && !p.label && (odd ? <path d={`M${p.cx - r * 0.55} ${p.cy}h${r * 1.1}`} stroke={paint('ink')} strokeWidth="1" /> : <circle cx={p.cx} cy={p.cy} r={r * 0.24} fill={paint('ink')} />)}
      {p.label && (
        <T x={p.cx} y={p.cy + Math.min(r, 13) * 0.38} textAnchor="middle" fontSize={Math.max(9, Math.min(r * 1.1, 17))} fontWeight="700" fontFamily={DIGITS} fill={paint('choice')} stroke={paint('sheet')} strokeWidth="3" paintOrder="stroke">
          {p.label}
        </T>
      )}
    </g>
  )
}

function Blocked(p: { x: number; y: number; w: number; h: number; label: string; solid?: boolean }) {
  if (p.w <= 0 || p.h <= 0) return null
  return (
    <g>
      <rect x={p.x} y={p.y} width={p.w} height={p.h} fill={p.solid ? paint('well') : 'none'} stroke={paint('ink')} strokeWidth="1.6" strokeDasharray={p.solid ? undefined : '5 3'} />
      <path d={`M${p.x} ${p.y}L${p.x + p.w} ${p.y + p.h}M${p.x + p.w} ${p.y}L${p.x} ${p.y + p.h}`} stroke={paint('ink.soft')} strokeWidth="0.8" />
      <T x={p.x + p.w / 2} y={p.y + p.h / 2 + 5} textAnchor="middle" fontSize={13} fontWeight="600" fill={paint('ink')} stroke={paint('sheet')} strokeWidth="4" paintOrder="stroke">
        {p.label}
      </T>
    </g>
  )
}

type HandBody = BayDrawing['hand'][number]

function Hand({ body, bay, face, X, Y, k }: { body: HandBody; bay: BayDrawing; face: Face; X: (a: number) => number; Y: (b: number) => number; k: number }) {
  const { change, open, prefs } = useWorkshop()
  const [drag, setDrag] = useState<{ px: number; py: number; du: number; dv: number } | null>(null)
  const [u, v] = AXES[face]
  const shift: Spot = [0, 0, 0]
  if (drag) {
    shift[u] = drag.du
    shift[v] = drag.dv
  }
  const now = moved(body.box, ...shift)
  const hit = drag ? stands(now, body, bay) : body.hits.map((x) => x.what)
  const path = `pack.placed.${body.index}`
  const put = (du: number, dv: number) => {
    const changes = (now: Doc) =>
      ([[u, du], [v, dv]] as const).map(([axis, by]) => {
        const field = `${path}.${KEYS[axis]}_m`
        return { path: field, value: { amount: Math.round(((amountAt(now, field) ?? 0) + by) * 1000) / 1000, origin: 'measured', tolerance: 0 } }
      })
    change(changes, 'Moved a body')
  }
  const key = (e: React.KeyboardEvent) => {
    const step = e.shiftKey ? 0.01 : 0.001
    const by = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, step], ArrowDown: [0, -step] }[e.key]
    if (by) {
      e.preventDefault()
      put(by[0]!, by[1]!)
    }
    if (e.key === 'Enter') open({ kind: 'part', path })
  }
  const x = X(low(now, u))
  const y = Y(high(now, v))
  const bw = (high(now, u) - low(now, u)) * k
  const bh = (high(now, v) - low(now, v)) * k
  const name = `${body.kind} ${body.index + 1}`
  return (
    <g
      role="button"
      tabIndex={0}
      aria-label={`${name}${hit.length ? `, stands in ${hit.join(', ')}` : ''}; drag, or arrow keys`}
      data-hits={hit.join(' ')}
      style={{ cursor: drag ? 'grabbing' : 'grab', touchAction: 'none' }}
      onKeyDown={key}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId)
        setDrag({ px: e.clientX, py: e.clientY, du: 0, dv: 0 })
      }}
      onPointerMove={(e) => drag && setDrag({ ...drag, du: Math.round((e.clientX - drag.px) / k * 1000) / 1000, dv: Math.round((drag.py - e.clientY) / k * 1000) / 1000 })}
      onPointerUp={() => {
        if (drag && (drag.du || drag.dv)) put(drag.du, drag.dv)
        else open({ kind: 'part', path })
        setDrag(null)
      }}
    >
      <rect x={x} y={y} width={bw} height={bh} fill={hit.length ? paint('choke.wash') : 'transparent'} fillOpacity="0.45" stroke={hit.length ? paint('stop') : paint('choice')} strokeWidth={hit.length ? 3 : 2} />
      <T x={x + bw / 2} y={y + Math.min(16, bh / 2 + 5)} textAnchor="middle" fontSize={13} fontWeight="600" fill={hit.length ? paint('stop') : paint('choice')} stroke={paint('sheet')} strokeWidth="4" paintOrder="stroke">
        {name}
        {hit.length ? `: in ${hit.join(', ')}` : drag ? ` ${show(shift[u], 'm', prefs).text}, ${show(shift[v], 'm', prefs).text}` : ''}
      </T>
    </g>
  )
}

/** What a body stands in while it is dragged. */
function stands(now: Faces, body: HandBody, bay: BayDrawing): string[] {
  const out = bay.hand.filter((o) => o.index !== body.index && overlap(now, o.box) > 1e-5).map((o) => `${o.kind} ${o.index + 1}`)
  out.push(...bay.keep_free.filter((b) => overlap(now, b.box) > 1e-5).map((b) => b.name || b.kind))
  if (!fitsIn(bay.corners as [number, number][], bay.width_m / 2, bay.clear_m, now)) out.push('wall')
  return out
}
