import { Box } from '@chakra-ui/react'
import type { Drawings } from '../../api/client'
import { sentence } from '../../lib/units'
import { paint } from '../../theme/paint'
import { useWorkshop } from '../../ui/bench'
import { T, TSpan } from '../../ui/svgtext'
import { useSize } from '../../ui/useSize'

type W = NonNullable<Drawings['wire']>
type Node = W['nodes'][number]
interface Spot {
  x: number
  y: number
  w: number
  h: number
}

const GAP = 34
const SMALL = { gap: 8, head: 22 }
// A box of two lines, and one of three: what hangs on the path says where.
const TWO = 46
const THREE = 62
const PITCH = 26
const LEADS = 3

/** Where all of it goes: the path above, what hangs on it, then the leads. Rooms grow with the sheet. */
export function plan(w: number, h: number, d: Pick<W, 'nodes' | 'branches' | 'inputs'>) {
  const cols = w < 520 ? 2 : 4
  const rows = Math.ceil(d.nodes.length / cols)
  const deep = (nodes: Node[], each: number) => SMALL.head + Math.ceil(nodes.length / cols) * (each + SMALL.gap) + 4
  const side = deep(d.branches, THREE) + deep(d.inputs, TWO)
  const leads = 34 + LEADS * PITCH
  const least = 20 + rows * TWO + (rows - 1) * 16 + 12 + side + leads
  const spare = Math.max(0, h - least)
  const bh = TWO + Math.min(24, (spare * 0.5) / rows)
  const gap = rows > 1 ? 16 + Math.min(40, Math.max(0, spare * 0.5 - (bh - TWO) * rows) / (rows - 1)) : 0
  const bw = (w - 40 - (cols - 1) * GAP) / cols
  // The path runs like a furrow: left to right, then back.
  const path = d.nodes.map((_, i): Spot & { row: number } => {
    const row = Math.floor(i / cols)
    const col = row % 2 ? cols - 1 - (i % cols) : i % cols
    return { x: 20 + col * (bw + GAP), y: 20 + row * (bh + gap), w: bw, h: bh, row }
  })
  let y = 20 + rows * bh + (rows - 1) * gap + 12
  const sw = (w - 40 - (cols - 1) * SMALL.gap) / cols
  const group = (title: string, nodes: Node[], each: number) => {
    const head = y + 16
    const spots = nodes.map((_, i): Spot => ({
      x: 20 + (i % cols) * (sw + SMALL.gap),
      y: y + SMALL.head + Math.floor(i / cols) * (each + SMALL.gap),
      w: sw,
      h: each,
    }))
    y += deep(nodes, each)
    return { title, head, nodes, spots }
  }
  const groups = [group('off the path', d.branches, THREE), group('into the controller', d.inputs, TWO)]
  const first = y + 48
  return { path, groups, first, pitch: Math.max(PITCH, Math.min(50, (h - first - 12) / (LEADS - 0.5))), least }
}

/** Hook-up from the pack to the motor, drawn from the build; phases by letter. */
export function Diagram({ d }: { d: W }) {
  const { ref, w, h } = useSize<HTMLDivElement>()
  const { path, groups, first, pitch, least } = plan(w, h, d)
  const leads = [
    { title: 'phases', rows: d.phases.slice(0, 3), at: 0.03 },
    { title: 'halls', rows: d.halls.slice(0, 3), at: 0.53 },
  ]
  return (
    <Box ref={ref} flex="1" minH={`${least}px`} position="relative">
      <svg width={w} height={h} role="group" aria-label="Hook-up diagram" style={{ position: 'absolute', inset: 0 }}>
        {path.slice(1).map((b, i) => {
          const a = path[i]!
          const n = d.nodes[i + 1]!
          const y = a.y + a.h / 2
          const forward = b.x > a.x
          const line =
            a.row === b.row ? `M${forward ? a.x + a.w : a.x} ${y}H${forward ? b.x : b.x + b.w}` : `M${a.x + a.w / 2} ${a.y + a.h}V${b.y}`
          const whole = n.state === 'fitted'
          return <path key={n.path} d={line} stroke={paint(whole ? 'ink' : 'rule.strong')} strokeWidth="5" strokeDasharray={whole ? undefined : '6 5'} />
        })}
        {d.nodes.map((n, i) => (
          <NodeBox key={n.path} node={n} at={path[i]!} size={16} />
        ))}
        {groups.map((g) => (
          <g key={g.title}>
            <T x={20} y={g.head} fontSize={14} fontWeight="600" fill={paint('ink.soft')}>
              {g.title}
            </T>
            {g.nodes.map((n, i) => (
              <NodeBox key={n.label} node={n} at={g.spots[i]!} size={14} />
            ))}
          </g>
        ))}
        {leads.map((group) => (
          <Leads key={group.title} {...group} w={w} first={first} pitch={pitch} />
        ))}
      </svg>
    </Box>
  )
}

/** A box of the diagram: whole where it is fitted, broken where nobody looked or there is none. */
function NodeBox({ node: n, at, size }: { node: Node; at: Spot; size: number }) {
  const { open, prefs } = useWorkshop()
  const whole = n.state === 'fitted'
  const wrong = n.state === 'bypassed'
  const line = paint(wrong ? 'stop' : whole ? 'ink' : 'rule.strong')
  const go = () => open({ kind: 'part', path: n.path })
  const lines = [sentence(n.detail, prefs), ...(whole && n.at ? [n.at] : [])]
  const id = `clip-${Math.round(at.x)}-${Math.round(at.y)}`
  return (
    <g role="button" tabIndex={0} style={{ cursor: 'pointer' }} onClick={go} onKeyDown={(e) => e.key === 'Enter' && go()}>
      <clipPath id={id}>
        <rect x={at.x} y={at.y} width={at.w - 4} height={at.h} />
      </clipPath>
      <rect x={at.x} y={at.y} width={at.w} height={at.h} fill={paint('sheet')} stroke={line} strokeWidth="2" strokeDasharray={whole ? undefined : '6 4'} />
      <g clipPath={`url(#${id})`}>
        <T x={at.x + 10} y={at.y + at.h / 2 + 4 - 9 * lines.length} fontSize={size} fontWeight="600" fill={paint('ink')}>
          {n.label}
        </T>
        {lines.map((l, i) => (
          <T key={i} x={at.x + 10} y={at.y + at.h / 2 + 23 - 9 * lines.length + 17 * i} fontSize={13.5} fontWeight={wrong ? 600 : 400} fill={paint(wrong ? 'stop' : 'ink.soft')}>
            {l}
          </T>
        ))}
      </g>
    </g>
  )
}

function Leads({ title, rows, at, w, first, pitch }: { title: string; rows: W['phases']; at: number; w: number; first: number; pitch: number }) {
  const [left, right] = [at * w + (w < 520 ? 50 : 82), (at + 0.44) * w - (w < 520 ? 44 : 62)]
  return (
    <g style={{ fontSize: 14 }}>
      <T x={at * w + 4} y={first - 26} fontSize={14} fontWeight="600" fill={paint('ink.soft')}>
        {title}, controller to motor
      </T>
      {rows.map((r, i) => {
        const y = first + i * pitch
        return (
          <g key={i}>
            <path d={`M${left} ${y}H${right}`} stroke={paint('ink')} strokeWidth="3" strokeDasharray={r.confirmed ? undefined : '8 5'} />
            <T x={left - 8} y={y + 5} textAnchor="end" fill={paint('ink')}>
              <TSpan fontWeight="700" fontSize={17}>
                {r.controller_mark || '?'}
              </TSpan>{' '}
              {r.controller_colour}
            </T>
            <T x={right + 8} y={y + 5} fill={paint('ink')}>
              {r.motor_colour}
            </T>
            <T x={(left + right) / 2} y={y - 5} textAnchor="middle" fontSize={13} fill={r.confirmed ? paint('choice') : paint('ink.soft')} fontWeight={r.confirmed ? 600 : 400}>
              {r.confirmed ? 'confirmed' : w < 520 ? 'open' : 'not confirmed'}
            </T>
          </g>
        )
      })}
      {rows.length === 0 && (
        <T x={at * w + 4} y={first + 4} fill={paint('ink.soft')}>
          none written down
        </T>
      )}
    </g>
  )
}
