import { Box, Flex, Text } from '@chakra-ui/react'
import { problemText } from '../../api/hooks'
import { useGroups } from '../../api/link'
import { paint } from '../../theme/paint'
import { useWorkshop } from '../../ui/bench'

const W = 22
const H = 72

/** Volts of each group by the BMS on the bus, the lowest and the highest named. */
export function GroupsNow() {
  const { bench } = useWorkshop()
  const got = useGroups(bench.id, true)
  const g = got.data
  if (!g || got.error) return got.error ? <Text color="ink-soft">Groups: {problemText(got.error)}</Text> : null
  const [low, high] = [Math.min(...g.volts), Math.max(...g.volts)]
  const span = Math.max(high - low, 0.03) // a few millivolts are drawn as few
  return (
    <Box as="section" aria-label="Groups by the BMS">
      <Text fontWeight="600" color={g.sound ? 'ink' : 'caution'} role="status">
        {g.sentence}
      </Text>
      <Flex overflowX="auto">
        <svg width={g.volts.length * W + 2} height={H + 18} role="img" aria-label={g.volts.map((v, i) => `${i + 1}: ${v.toFixed(3)} V`).join(', ')}>
          {g.volts.map((v, i) => {
            const h = 14 + ((v - low) / span) * (H - 18)
            const odd = i + 1 === g.low || i + 1 === g.high
            return (
              <g key={i}>
                <rect x={i * W + 3} y={H - h} width={W - 6} height={h} fill={paint(odd ? 'choice.wash' : 'well')} stroke={paint(odd ? 'choice' : 'ink.soft')} />
                <text x={i * W + W / 2} y={H + 14} textAnchor="middle" fontSize={12} fill={paint('ink.soft')}>
                  {i + 1}
                </text>
              </g>
            )
          })}
        </svg>
      </Flex>
    </Box>
  )
}
