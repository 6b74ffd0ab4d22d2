import { Box, Flex, Table, Text } from '@chakra-ui/react'
import type { Drawings } from '../../api/client'
import { at, ticked } from '../../lib/path'
import { sentence } from '../../lib/units'
import { paint } from '../../theme/paint'
import { Severity } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { Missing, Workbench } from '../../ui/Workbench'
import { Diagram } from './Diagram'

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

function Under({ d }: { d: W }) {
  const { bench, change, prefs } = useWorkshop()
  const done = (at(bench.doc, 'wire.done') as string[]) ?? []
  const toggle = (key: string) => change(ticked('wire.done', key, !done.includes(key)), 'Hook-up step')
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
