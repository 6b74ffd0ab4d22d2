import { Flex, Text } from '@chakra-ui/react'
import { Severity } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'

/** Stops of the other bolts, where somebody is about to connect a pack or to ride. */
export function Standing() {
  const { bench } = useWorkshop()
  const stops = bench.assessment.bolts.filter((b) => b.bolt !== 'prove').flatMap((b) => b.findings.filter((f) => f.severity === 'stop'))
  if (!stops.length) return null
  return (
    <Flex gap="2" my="2" align="center" role="note">
      <Severity kind="stop" size={24} />
      <Text fontWeight="600">
        No power, no ride before this is cleared: {stops.map((f) => `${f.title} (${f.bolt})`).join('; ')}.
      </Text>
    </Flex>
  )
}
