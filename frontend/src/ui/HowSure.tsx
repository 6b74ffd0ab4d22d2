import { Box, Flex, Text } from '@chakra-ui/react'
import { useQueryClient } from '@tanstack/react-query'
import { http, ok } from '../api/client'
import { useJob } from '../api/job'
import { show } from '../lib/units'
import { Act, Trouble, Wrapped } from './atoms'
import { useWorkshop, wordsFor } from './bench'
import type { components } from '../api/schema'

type Sampled = components['schemas']['SampledView']
const NAMES: Record<string, [string, string]> = {
  peak_wheel_w: ['Peak at the wheel', 'w'],
  top_speed_m_s: ['Top speed', 'm_s'],
  to_time_s: ['Time to speed', 's'],
  range_m: ['Range', 'm'],
}

/** Thousands of rides with every uncertain input drawn at once: how far each figure moves, whose fault it is, and
 * what to measure next and how. */
export function HowSure() {
  const { bench, prefs, fields, open } = useWorkshop()
  const client = useQueryClient()
  const { result: d, problem, running } = useJob<Sampled>(
    `${bench.id}:${bench.version}`,
    () => ok(http.POST('/api/builds/{build_id}/sampling', { params: { path: { build_id: bench.id } } })),
    () => void client.invalidateQueries({ queryKey: ['band', bench.id] }),
  )
  if (problem) return <Trouble text={problem} />
  return (
    <Box py="3">
      <Text>
        Every uncertain input is drawn at once within its tolerance, the same draws each time; 19 of 20 rides lie between the bounds (JCGM 101).
      </Text>
      <Text color="ink-soft" role="status">
        {d ? `${d.rides} of ${d.of} rides${running ? ' …' : ''}` : 'Riding …'}
      </Text>
      {d && d.next.length > 0 && (
        <>
          <Text fontWeight="600" mt="3" mb="1">
            Measure this next
          </Text>
          {d.next.map((m, i) => (
            <Box key={m.path} mb="2">
              <Act w="100%" justifyContent="space-between" tone={i === 0 ? 'choice' : 'plain'} onClick={() => open({ kind: 'part', path: m.path.split('.').slice(0, -1).join('.') })}>
                <Wrapped>{wordsFor(fields, m.path)}</Wrapped>
                <Text whiteSpace="nowrap">{Math.round(m.share * 100)} %</Text>
              </Act>
              <Text fontSize="small" color="ink-soft">
                {m.how}
              </Text>
            </Box>
          ))}
        </>
      )}
      {d?.figures.map((f) => {
        const [label, q] = NAMES[f.key] ?? [f.key, 'ratio']
        return (
          <Box key={f.key} mt="3" role="group" aria-label={label}>
            <Text fontWeight="600">
              {label}: {show(f.low, q, prefs, 3, f.high).number} to {show(f.high, q, prefs).text}
            </Text>
            {f.shares.slice(0, 4).map((s) => (
              <Flex key={s.path} gap="2" align="center">
                <Box w="figure" h="dot" bg="well" flexShrink="0">
                  <Box h="dot" bg="choice" style={{ width: `${s.share * 100}%` }} />
                </Box>
                <Text fontSize="small">
                  {Math.round(s.share * 100)} % {s.label}
                </Text>
              </Flex>
            ))}
          </Box>
        )
      })}
      {d && d.figures.length === 0 && !running && <Text color="ink-soft">Nothing here is uncertain.</Text>}
    </Box>
  )
}
