import { Box, Flex, Table, Text } from '@chakra-ui/react'
import type { Drawings } from '../../api/client'
import { show } from '../../lib/units'
import { paint } from '../../theme/paint'
import { useWorkshop } from '../../ui/bench'
import { Plot } from '../../ui/Plot'
import { Missing, Workbench } from '../../ui/Workbench'

type G = NonNullable<Drawings['goal']>
const WORDS: Record<string, string> = { yes: 'met', close: 'close', no: 'short', unknown: 'open' }

export function Goal() {
  const { bench, prefs } = useWorkshop()
  const d = bench.assessment.drawings.goal
  const dots = d
    ? [
        d.target_m_s !== null && d.target_w !== null ? { x: d.target_m_s, y: d.target_w, label: 'wanted top speed' } : null,
        d.hill_m_s !== null && d.hill_need_w !== null ? { x: d.hill_m_s, y: d.hill_need_w, label: 'wanted on the hill' } : null,
      ].filter((x) => x !== null)
    : []
  return (
    <Workbench parts={['goal', 'road']} under={d && <Under d={d} />}>
      {d ? (
        <Plot
          prefs={prefs}
          label="Power over road speed: what the road takes and what the wheel has"
          x={{ quantity: 'm_s', label: 'road speed' }}
          y={{ quantity: 'w', label: 'power at the wheel' }}
          lines={[
            { label: 'road takes', x: d.speed_m_s, y: d.flat_w, colour: paint('ink'), labelAt: 0.9 },
            ...(d.hill_w ? [{ label: 'hill takes', x: d.speed_m_s, y: d.hill_w, colour: paint('ink.soft'), dash: '7 4', labelAt: 0.82 }] : []),
            ...(d.have_w ? [{ label: 'this build has', x: d.speed_m_s, y: d.have_w.map((w, i) => (w > 0 || i === 0 ? w : NaN)), colour: paint('choice'), width: 3, labelAt: 0.5 }] : []),
          ]}
          dots={dots}
        />
      ) : (
        <Missing />
      )}
    </Workbench>
  )
}

function Under({ d }: { d: G }) {
  const { prefs } = useWorkshop()
  return (
    <Flex gap="6" wrap="wrap" pb="2">
      <Box flex="1 1 300px">
        <Text textStyle="title" fontSize="17px">
          Wanted against computed
        </Text>
        <Table.Root size="sm">
          <Table.Body>
            {d.checks.map((c) => (
              <Table.Row key={c.label} bg="transparent">
                <Table.Cell>{c.label}</Table.Cell>
                <Table.Cell textAlign="end">{show(c.want, c.quantity, prefs).text}</Table.Cell>
                <Table.Cell textAlign="end" fontWeight="600">
                  {show(c.have, c.quantity, prefs).text}
                </Table.Cell>
                <Table.Cell fontWeight="600" color={c.met === 'no' ? 'stop' : c.met === 'close' ? 'caution' : 'ink'}>
                  {WORDS[c.met]}
                </Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      </Box>
      <Box flex="1 1 300px">
        <Text textStyle="title" fontSize="17px">
          The same power at each voltage
        </Text>
        <Table.Root size="sm">
          <Table.Header>
            <Table.Row bg="transparent">
              {['nominal', 'cells', 'line amps', 'pack'].map((t) => (
                <Table.ColumnHeader key={t} textAlign="end" color="ink-soft">
                  {t}
                </Table.ColumnHeader>
              ))}
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {d.volts.map((v) => (
              <Table.Row key={v.nominal_v} bg="transparent">
                <Table.Cell textAlign="end" fontWeight="600">
                  {show(v.nominal_v, 'v', prefs).text}
                </Table.Cell>
                <Table.Cell textAlign="end">{v.series ?? '–'}</Table.Cell>
                <Table.Cell textAlign="end">{show(v.line_a, 'a', prefs).text}</Table.Cell>
                <Table.Cell textAlign="end">{show(v.need_wh, 'wh', prefs).text}</Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      </Box>
    </Flex>
  )
}
