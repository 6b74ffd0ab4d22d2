import { Box, Flex, Text } from '@chakra-ui/react'
import { scaleLog } from 'd3-scale'
import type { ShelfItem } from '../api/client'
import { show, type UnitPrefs } from '../lib/units'
import { paint } from '../theme/paint'
import { Act } from './atoms'
import { Rows } from './Rows'
import { T } from './svgtext'
import { useSize } from './useSize'

const PAD = { left: 64, right: 16, top: 12, bottom: 42 }
const figure = (x: ShelfItem, key: string) => x.figures.find((f) => f.key === key)

/** All parts of a kind on one picture, to choose by eye: the two figures that decide, on logarithmic axes. */
export function ShelfPicture(p: { items: ShelfItem[]; picked: string | null; pick: (id: string) => void; prefs: UnitPrefs }) {
  const { ref, w } = useSize<HTMLDivElement>(700, 280)
  const h = 280
  const [ax, ay] = [p.items[0]?.across ?? '', p.items[0]?.up ?? '']
  const dots = p.items.flatMap((item) => {
    const [x, y] = [figure(item, ax)?.value, figure(item, ay)?.value]
    return x && y ? [{ item, x, y }] : []
  })
  if (dots.length < 2) return null
  const range = (values: number[]) => [Math.min(...values) / 1.25, Math.max(...values) * 1.25]
  const X = scaleLog(range(dots.map((d) => d.x)), [PAD.left, w - PAD.right])
  const Y = scaleLog(range(dots.map((d) => d.y)), [h - PAD.bottom, PAD.top])
  const [fx, fy] = [figure(dots[0]!.item, ax)!, figure(dots[0]!.item, ay)!]
  const ticks = (s: typeof X, n: number) => {
    const all = s.ticks(n)
    const few = all.filter((t) => /^[125]/.test(String(t / 10 ** Math.floor(Math.log10(t) + 1e-9))))
    return few.length > 1 ? few : all
  }
  return (
    <Box ref={ref} position="relative" h={`${h}px`} bg="sheet" borderWidth="hair" borderColor="rule" mb="3">
      <svg width={w} height={h} role="group" aria-label={`${fy.label} against ${fx.label}`} style={{ position: 'absolute', inset: 0 }}>
        {ticks(X, 5).map((t) => (
          <g key={t}>
            <path d={`M${X(t)} ${PAD.top}V${h - PAD.bottom}`} stroke={paint('rule')} />
            <T x={X(t)} y={h - PAD.bottom + 17} textAnchor="middle" fontSize={13} fill={paint('ink.soft')}>
              {show(t, fx.quantity, p.prefs).text}
            </T>
          </g>
        ))}
        {ticks(Y, 5).map((t) => (
          <g key={t}>
            <path d={`M${PAD.left} ${Y(t)}H${w - PAD.right}`} stroke={paint('rule')} />
            <T x={PAD.left - 6} y={Y(t) + 4} textAnchor="end" fontSize={13} fill={paint('ink.soft')}>
              {show(t, fy.quantity, p.prefs).text}
            </T>
          </g>
        ))}
        <T x={w - PAD.right} y={h - 6} textAnchor="end" fontSize={13} fontWeight="600" fill={paint('ink')}>
          {fx.label}
        </T>
        <T x={PAD.left + 6} y={PAD.top + 12} fontSize={13} fontWeight="600" fill={paint('ink')}>
          {fy.label}
        </T>
        {dots.map(({ item, x, y }) => {
          const here = item.id === p.picked
          return (
            <g
              key={item.id}
              role="button"
              tabIndex={0}
              aria-label={`${item.name}: ${show(x, fx.quantity, p.prefs).text}, ${show(y, fy.quantity, p.prefs).text}`}
              style={{ cursor: 'pointer' }}
              onClick={() => p.pick(item.id)}
              onKeyDown={(e) => e.key === 'Enter' && p.pick(item.id)}
            >
              <title>{item.name}</title>
              <circle cx={X(x)} cy={Y(y)} r="22" fill="transparent" />
              <rect x={X(x) - 6} y={Y(y) - 6} width="12" height="12" transform={`rotate(45 ${X(x)} ${Y(y)})`} fill={here ? paint('choice') : item.own ? paint('ink') : paint('sheet')} stroke={here ? paint('choice') : paint('ink')} strokeWidth="2" />
              {here && (
                <T x={X(x) > w / 2 ? X(x) - 14 : X(x) + 14} y={Y(y) - 10} textAnchor={X(x) > w / 2 ? 'end' : 'start'} fontSize={14} fontWeight="600" fill={paint('choice')} stroke={paint('sheet')} strokeWidth="4" paintOrder="stroke">
                  {item.name}
                </T>
              )}
            </g>
          )
        })}
      </svg>
    </Box>
  )
}

/** Two parts side by side, and how the second stands to the first. */
export function TwoParts({ two, heads, value, prefs, close }: { two: ShelfItem[]; heads: { key: string; label: string; quantity: string }[]; value: (x: ShelfItem, key: string) => number | null; prefs: UnitPrefs; close: () => void }) {
  const [a, b] = two
  return (
    <Box as="section" aria-label="Two parts side by side" mb="3" p="3" bg="sheet" borderWidth="hair" borderColor="rule" borderTopWidth="bar" borderTopColor="choice">
      <Flex align="center">
        <Text textStyle="title" fontSize="title" flex="1">
          Side by side
        </Text>
        <Act onClick={close}>Close</Act>
      </Flex>
      {!b ? (
        <Text color="ink-soft">{a!.name}: choose one more to put beside it.</Text>
      ) : (
        <Rows
          label="Two parts"
          heads={['', a!.name, b.name, 'second to first']}
          rows={heads.map((f) => {
            const [x, y] = [value(a!, f.key), value(b, f.key)]
            return [f.label, show(x, f.quantity, prefs).text, show(y, f.quantity, prefs).text, x && y ? `× ${(y / x).toFixed(2)}` : '–']
          })}
        />
      )}
    </Box>
  )
}
