import { Box, Checkbox, Flex, Text } from '@chakra-ui/react'
import type { Drawings } from '../../api/client'
import { ticked } from '../../lib/path'
import { sentence, show } from '../../lib/units'
import { Act, Severity } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { Rows } from '../../ui/Rows'

type A = NonNullable<NonNullable<Drawings['pack']>['assembly']>

/** The order of assembly with its hold points, and what each balance lead must read. */
export function Assembly({ d }: { d: A }) {
  const { change, prefs, open } = useWorkshop()
  const tick = (key: string, on: boolean) => change(ticked('pack.done', key, on), on ? 'Assembly step done' : 'Assembly step open again')
  const { steps, taps } = d
  const next = steps.find((s) => !s.done)
  return (
    <Flex gap="6" wrap="wrap" align="flex-start" className="assembly">
      <Box flex="1 1 {sizes.panel}">
        <Box as="ol" listStyleType="none" aria-label="Assembly">
        {steps.map((s, i) => (
          <Flex as="li" key={s.key} gap="3" py="2" borderBottomWidth="hair" borderColor="rule" bg={s === next ? 'choice-wash' : 'transparent'} px="2">
            <Checkbox.Root checked={s.done} onCheckedChange={(e) => tick(s.key, e.checked === true)} minW="touch" minH="touch" alignItems="flex-start" pt="1">
              <Checkbox.HiddenInput aria-label={s.title} />
              <Checkbox.Control boxSize="6" borderColor="rule-strong" borderWidth="line" bg={s.done ? 'choice' : 'sheet'} color="on-ink" />
            </Checkbox.Root>
            <Box flex="1">
              <Flex gap="2" align="baseline" wrap="wrap">
                <Text fontWeight="600">
                  {i + 1}. {s.title}
                </Text>
                {s.hold && (
                  <Text fontSize="note" fontWeight="600" color="stop">
                    hold: measure before going on
                  </Text>
                )}
              </Flex>
              <Text>{sentence(s.detail, prefs)}</Text>
              {s.caution && (
                <Flex gap="2" mt="1" align="flex-start" color="caution">
                  <Severity kind="caution" size={18} />
                  <Text fontSize="small">{sentence(s.caution, prefs)}</Text>
                </Flex>
              )}
            </Box>
          </Flex>
        ))}
        </Box>
        <Text fontSize="note" color="ink-soft" mt="2">
          Opening, welding and joining packs is work for people who have been shown how; local codes and licensed practice decide what you may do yourself.
        </Text>
      </Box>
      <Box flex="1 1 {sizes.wide}" maxW="panel">
        <Flex align="center" gap="2" mb="1" wrap="wrap">
          <Text textStyle="title" fontSize="lead" flex="1">
            Balance leads against minus
          </Text>
          <Act onClick={() => open({ kind: 'part', path: 'pack' })}>Enter readings</Act>
          <Act className="no-print" onClick={() => window.print()}>
            Print
          </Act>
        </Flex>
        <Rows
          label="Balance leads"
          heads={['lead', 'expected', 'read', '']}
          rows={taps.map((t) => [
            String(t.lead),
            show(t.expected_v, 'v', prefs, 4).text,
            t.read_v === null ? '' : show(t.read_v, 'v', prefs, 4).text,
            t.fits === null ? '' : t.fits ? 'fits' : <b key="no">wrong</b>,
          ])}
        />
      </Box>
    </Flex>
  )
}
