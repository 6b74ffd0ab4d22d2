import { Box, Flex, NativeSelect, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { problemText, useLogs } from '../../api/hooks'
import { useOver } from '../../api/traces'
import { stringAt } from '../../lib/path'
import { sentence } from '../../lib/units'
import { paint } from '../../theme/paint'
import { Trouble } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { Plot } from '../../ui/Plot'
import { Tick } from '../../ui/Tick'

const DASH = [undefined, '8 3', '3 3', '12 3 3 3', '2 5', '14 4']
const COLOUR = ['ink', 'choice', 'choke', 'ink.soft', 'caution', 'note'] as const

/** Runs over one another: a channel of each, and the time lost along the way. */
export function OverRuns() {
  const { bench, prefs } = useWorkshop()
  const logs = useLogs(bench.id, stringAt(bench.doc, 'prove.log_id')).data ?? []
  const [chosen, setChosen] = useState<string[] | null>(null)
  const [channel, setChannel] = useState('speed_m_s')
  const picked = (chosen ?? logs.slice(0, 2).map((l) => l.id)).filter((id) => logs.some((l) => l.id === id))
  const query = useOver(bench.id, picked)
  const over = picked.length > 1 ? query.data : undefined
  const toggle = (id: string) => setChosen(picked.includes(id) ? picked.filter((x) => x !== id) : [...picked, id].slice(-6))
  const channels = [...new Map((over?.runs ?? []).flatMap((r) => r.channels).map((c) => [c.key, c])).values()]
  const shown = channels.find((c) => c.key === channel) ?? channels[0]
  return (
    <Box py="3">
      <Flex gap="4" wrap="wrap" align="center" mb="2" role="group" aria-label="Runs laid over one another">
        {logs.map((l) => (
          <Tick key={l.id} checked={picked.includes(l.id)} set={() => toggle(l.id)}>
            {l.name}
          </Tick>
        ))}
      </Flex>
      {logs.length < 2 && <Text>Two logs are needed. Import another run.</Text>}
      {picked.length < 2 && logs.length > 1 && <Text>Choose two or more.</Text>}
      {query.error && picked.length > 1 && <Trouble text={problemText(query.error)} />}
      {over && shown && (
        <>
          {over.losses.map((l) => (
            <Text key={l.second} fontWeight="600">
              {l.second}: {sentence(l.sentence, prefs)}
            </Text>
          ))}
          {over.missing.map((t) => (
            <Text key={t} fontSize="small" color="ink-soft">
              {t}
            </Text>
          ))}
          <Flex gap="4" wrap="wrap" mt="2">
            <Box flex="1 1 {sizes.panel}" minW="0">
              <NativeSelect.Root w="field">
                <NativeSelect.Field aria-label="Channel" value={shown.key} onChange={(e) => setChannel(e.target.value)}>
                  {channels.map((c) => (
                    <option key={c.key} value={c.key}>
                      {c.label}
                    </option>
                  ))}
                </NativeSelect.Field>
                <NativeSelect.Indicator />
              </NativeSelect.Root>
              <Box h="wide">
                <Plot
                  prefs={prefs}
                  label={`${shown.label} of each run over time`}
                  x={{ quantity: 's', label: 'time from the start' }}
                  y={{ quantity: shown.quantity, label: shown.label }}
                  lines={over.runs.flatMap((r, i) => {
                    const own = r.channels.find((c) => c.key === shown.key)
                    return own ? [{ label: r.name, x: r.t_s, y: own.y.map((v) => v ?? NaN), colour: paint(COLOUR[i]!), dash: DASH[i], width: 2.2, labelAt: 0.45 + 0.15 * i }] : []
                  })}
                />
              </Box>
            </Box>
            <Box flex="1 1 {sizes.column}" minW="0" pt="11">
              <Box h="wide">
                <Plot
                  prefs={prefs}
                  label="Time lost to the first run over the way"
                  x={{ quantity: 'm', label: 'way' }}
                  y={{ quantity: 's', label: 'later than the first' }}
                  lines={over.losses.map((l, i) => ({ label: l.second, x: l.distance_m, y: l.lost_s, colour: paint(COLOUR[i + 1]!), dash: DASH[i + 1], width: 2.2 }))}
                />
              </Box>
            </Box>
          </Flex>
        </>
      )}
    </Box>
  )
}
