import { Box, Flex, Text } from '@chakra-ui/react'
import { problemText, useUprate } from '../../api/hooks'
import { show } from '../../lib/units'
import { Trouble } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { NumberField, useNumber } from '../../ui/NumberField'
import { Rows } from '../../ui/Rows'

/** More line amps in small steps: what each is expected to do, and where it ends. */
export function Steps() {
  const { bench, prefs } = useWorkshop()
  const wanted = useNumber('a', 'A')
  const asked = wanted.si
  const got = useUprate(bench.id, bench.version, asked && asked > 0 ? asked : null)
  const d = got.data
  return (
    <Box>
      <Flex gap="2" align="center" wrap="wrap">
        <NumberField label="Line amps wanted" field={wanted} />
        {d && (
          <Text fontWeight="600">
            From {show(d.from_a, 'a', prefs).text} to {show(d.to_a, 'a', prefs).text}
            {d.ends && <Text as="span" color="caution"> – {d.ends}</Text>}
          </Text>
        )}
      </Flex>
      {got.error && <Trouble text={problemText(got.error)} />}
      {d && d.steps.length === 0 && <Text mt="2">There is no step to take: {d.ends || 'it is there already'}.</Text>}
      {d && d.steps.length > 0 && (
        <>
          <Text my="2">
            One step, one pull of ten seconds, then read: line amps by a clamp, volts at the controller, the winding by its sensor or the case by a thermometer, each against its own column. A volt or a kelvin worse than expected ends it. Wheel in the air first, road after.
          </Text>
          {d.unread && (
            <Text my="2" fontWeight="600" color="caution">
              {d.unread}
            </Text>
          )}
          <Rows
            label="Steps"
            heads={['step', 'line amps', 'phase amps, peak', 'volts not under', 'winding rises by', 'case rises by', 'winding: stop at']}
            rows={d.steps.map((s, i) => [
              String(i + 1),
              show(s.line_a, 'a', prefs).text,
              show(s.phase_a, 'a', prefs).text,
              show(s.lowest_v, 'v', prefs).text,
              show(s.winding_rise_k, 'k', prefs).text,
              show(s.case_rise_k, 'k', prefs, 2).text,
              show(s.stop_c, 'c', prefs).text,
            ])}
          />
        </>
      )}
    </Box>
  )
}
