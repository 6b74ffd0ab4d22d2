import { Box, Flex, Text } from '@chakra-ui/react'
import { sentence } from '../../lib/units'
import { Act, Severity } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import type { G } from './Guard'

/** What the key must do, in order, with the times of this build; and how to make it safe to touch. */
export function KeySequence({ d }: { d: G }) {
  const { prefs, open } = useWorkshop()
  return (
    <Flex gap="6" wrap="wrap">
      {d.sequences.map((s) => (
        <Box key={s.title} flex="1 1 {sizes.column}">
          <Text textStyle="title" fontSize="lead">
            {s.title}
          </Text>
          <Box as="ol" listStyleType="none" aria-label={s.title}>
            {s.steps.map((step, i) => (
              <Text as="li" key={step} py="1" borderBottomWidth="hair" borderColor="rule">
                <b>{i + 1}.</b> {sentence(step, prefs)}
              </Text>
            ))}
          </Box>
        </Box>
      ))}
      <Box w="100%">
        <Flex gap="2" color="caution" align="flex-start">
          <Severity kind="caution" />
          <Text>The pack itself stays live whatever the key does. Believe the meter, not the switch; local codes and licensed practice decide who works on it.</Text>
        </Flex>
        <Flex gap="2" mt="2">
          <Act onClick={() => open({ kind: 'part', path: 'guard.precharge' })}>Precharge</Act>
          <Act onClick={() => open({ kind: 'part', path: 'guard.isolator' })}>Isolator</Act>
        </Flex>
      </Box>
    </Flex>
  )
}
