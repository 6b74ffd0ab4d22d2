import { Flex, Text } from '@chakra-ui/react'
import { Severity } from '../../ui/atoms'
import { useRegisters } from '../../api/hooks'
import { useWorkshop, wordsFor } from '../../ui/bench'

/** Stops of the other bolts, and what nobody looked at, where somebody is about to connect a pack or to ride. */
export function Standing() {
  const { bench, fields } = useWorkshop()
  const power = useRegisters().data?.power
  const stops = bench.assessment.bolts.filter((b) => b.bolt !== 'prove').flatMap((b) => b.findings.filter((f) => f.severity === 'stop'))
  const open = bench.assessment.bolts.find((b) => b.bolt === 'guard')?.missing ?? []
  // Until the list is there every stop is one of those that no pack is connected over.
  const [first, later] = [stops.filter((f) => power?.includes(f.bolt) ?? true), stops.filter((f) => power && !power.includes(f.bolt))]
  const rows = [
    { words: 'No power, no ride before this is cleared', found: first },
    { words: 'No ride before this is cleared', found: later },
  ]
  return (
    <>
      {rows.map(
        ({ words, found }) =>
          found.length > 0 && (
            <Flex key={words} gap="2" my="2" align="center" role="note">
              <Severity kind="stop" size={24} />
              <Text fontWeight="600">
                {words}: {found.map((f) => `${f.title} (${f.bolt})`).join('; ')}.
              </Text>
            </Flex>
          ),
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
