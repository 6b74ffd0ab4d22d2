import { Box, Flex, Table, Text } from '@chakra-ui/react'
import type { Drawings } from '../../api/client'
import { at } from '../../lib/path'
import { sentence } from '../../lib/units'
import { paint } from '../../theme/paint'
import { Severity } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { Missing, Workbench } from '../../ui/Workbench'
import { useSize } from '../../ui/useSize'
import { T, TSpan } from '../../ui/svgtext'

type W = NonNullable<Drawings['wire']>

export function Wire() {
  const { bench } = useWorkshop()
  const d = bench.assessment.drawings.wire
  return (
    <Workbench parts={['wire']} under={d && <Under d={d} />}>
      {d ? <Diagram d={d} /> : <Missing />}
    </Workbench>
  )
}

/** Hook-up from the pack to the motor, drawn from the build; phases by letter. */
function Diagram({ d }: { d: W }) {
  const { ref, w, h } = useSize<HTMLDivElement>()
  const { open } = useWorkshop()
  const cols = w < 520 ? 2 : 4
  const bw = (w - 30) / cols - 34
  const rows = Math.ceil(d.nodes.length / cols)
  // The path takes the upper part of the sheet, the leads the lower one.
  const upper = h * (cols === 2 ? 0.62 : 0.52)
  const bh = Math.max(46, Math.min(76, (upper - 26) / rows - 24))
  const gap = rows > 1 ? Math.max(14, Math.min(90, (upper - 26 - rows * bh) / (rows - 1))) : 0
  // The path runs like a furrow: left to right, then back.
  const spot = (i: number) => {
    const row = Math.floor(i / cols)
    const col = row % 2 ? cols - 1 - (i % cols) : i % cols
    return { x: 20 + col * (bw + 34), y: 26 + row * (bh + gap), row }
  }
  const motor = spot(d.nodes.length - 1)
  const leads = [
    { title: 'phases', rows: d.phases.slice(0, 3), at: 0.03 },
    { title: 'halls', rows: d.halls.slice(0, 3), at: 0.53 },
  ]
  const py = motor.y + bh + 62
  const pitch = Math.max(26, Math.min(56, (h - py - 14) / 2.6))
  return (
    <Box ref={ref} flex="1" minH={{ base: 'panel', md: 'inherit' }} position="relative">
      <svg width={w} height={h} role="group" aria-label="Hook-up diagram" style={{ position: 'absolute', inset: 0 }}>
        {d.nodes.slice(1).map((n, i) => {
          const a = spot(i)
          const b = spot(i + 1)
          const same = a.row === b.row
          const y = a.y + bh / 2
          const forward = b.x > a.x
          const path = same
            ? `M${forward ? a.x + bw : a.x} ${y}H${forward ? b.x : b.x + bw}`
            : `M${a.x + bw / 2} ${a.y + bh}V${b.y}`
          return <path key={n.path} d={path} stroke={n.present ? paint('ink') : paint('rule.strong')} strokeWidth="5" strokeDasharray={n.present ? undefined : '6 5'} />
        })}
        {d.nodes.map((n, i) => {
          const p = spot(i)
          return (
            <g key={n.path} role="button" tabIndex={0} style={{ cursor: 'pointer' }} onClick={() => open({ kind: 'part', path: n.path })} onKeyDown={(e) => e.key === 'Enter' && open({ kind: 'part', path: n.path })}>
              <rect x={p.x} y={p.y} width={bw} height={bh} fill={paint('sheet')} stroke={n.present ? paint('ink') : paint('rule.strong')} strokeWidth="2" strokeDasharray={n.present ? undefined : '6 4'} />
              <T x={p.x + 10} y={p.y + bh / 2 - 5} fontSize={16} fontWeight="600" fill={paint('ink')}>
                {n.label}
              </T>
              <T x={p.x + 10} y={p.y + bh / 2 + 15} fontSize={13.5} fill={paint('ink.soft')}>
                {n.detail}
              </T>
            </g>
          )
        })}
        {leads.map((group) => {
          const [left, right] = [group.at * w + (w < 520 ? 50 : 82), (group.at + 0.44) * w - (w < 520 ? 44 : 62)]
          return (
            <g key={group.title} style={{ fontSize: 14 }}>
              <T x={group.at * w + 4} y={py - 26} fontSize={14} fontWeight="600" fill={paint('ink.soft')}>
                {group.title}, controller to motor
              </T>
              {group.rows.map((r, i) => {
                const y = py + i * pitch
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
              {group.rows.length === 0 && (
                <T x={group.at * w + 4} y={py + 4} fill={paint('ink.soft')}>
                  none written down
                </T>
              )}
            </g>
          )
        })}
      </svg>
    </Box>
  )
}

function Under({ d }: { d: W }) {
  const { bench, change, prefs } = useWorkshop()
  const done = (at(bench.doc, 'wire.done') as string[]) ?? []
  const toggle = (key: string) =>
    change([{ path: 'wire.done', value: done.includes(key) ? done.filter((k) => k !== key) : [...done, key] }], 'Hook-up step')
  return (
    <Flex gap="6" wrap="wrap" pb="3">
      <Box as="ol" flex="2 1 {sizes.panel}" aria-label="Hook-up steps" listStyleType="none">
        {d.steps.map((s, i) => (
          <Flex as="li" key={s.key} gap="3" py="1.5" borderBottomWidth="hair" borderColor="rule" align="flex-start">
            <label style={{ display: 'flex', minWidth: 44, minHeight: 44, alignItems: 'center', justifyContent: 'center' }}>
              <input type="checkbox" checked={s.done} onChange={() => toggle(s.key)} aria-label={s.title} style={{ width: 24, height: 24, accentColor: paint('choice') }} />
            </label>
            <Box>
              <Text fontWeight="600">
                {i + 1}. {s.title}
              </Text>
              <Text fontSize="small">{sentence(s.detail, prefs)}</Text>
              {s.live && (
                <Flex gap="1.5" align="center" color="stop" fontSize="small" fontWeight="600">
                  <Severity kind="caution" size={18} /> The pack is live from here on
                </Flex>
              )}
            </Box>
          </Flex>
        ))}
      </Box>
      <Box flex="1 1 {sizes.field}">
        <Text textStyle="title" fontSize="lead">
          Colour is not identity
        </Text>
        <Table.Root size="sm">
          <Table.Header>
            <Table.Row bg="transparent">
              {['mark', 'controller', 'motor', 'order'].map((t, i) => (
                <Table.ColumnHeader key={i} color="ink-soft">
                  {t}
                </Table.ColumnHeader>
              ))}
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {[...d.phases, ...d.halls].map((r, i) => (
              <Table.Row key={i} bg="transparent">
                <Table.Cell fontWeight="700">{r.controller_mark}</Table.Cell>
                <Table.Cell>{r.controller_colour}</Table.Cell>
                <Table.Cell>{r.motor_colour}</Table.Cell>
                <Table.Cell>{r.confirmed ? 'confirmed' : 'open'}</Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      </Box>
    </Flex>
  )
}
