import { Flex, Text } from '@chakra-ui/react'
import { Severity } from '../../ui/atoms'
import { useWorkshop, wordsFor } from '../../ui/bench'

/** Stops of the other bolts, and what nobody looked at, where somebody is about to connect a pack or to ride. */
export function Standing() {
  const { bench, fields } = useWorkshop()
  const stops = bench.assessment.bolts.filter((b) => b.bolt !== 'prove').flatMap((b) => b.findings.filter((f) => f.severity === 'stop'))
  const open = bench.assessment.bolts.find((b) => b.bolt === 'guard')?.missing ?? []
  return (
    <>
      {stops.length > 0 && (
        <Flex gap="2" my="2" align="center" role="note">
          <Severity kind="stop" size={24} />
          <Text fontWeight="600">
            No power, no ride before this is cleared: {stops.map((f) => `${f.title} (${f.bolt})`).join('; ')}.
          </Text>
        </Flex>
      )}
      {open.length > 0 && (
        <Flex gap="2" my="2" align="center" role="note">
          <Severity kind="caution" size={24} />
          <Text fontWeight="600">To be known before first power: {open.map((path) => wordsFor(fields, path)).join('; ')}.</Text>
        </Flex>
      )}
    </>
  )
}
