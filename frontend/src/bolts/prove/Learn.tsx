import { Box, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import type { Change } from '../../api/client'
import { problemText, useLogs } from '../../api/hooks'
import { useCalibrate } from '../../api/prove'
import { stringAt } from '../../lib/path'
import { halfOf, show } from '../../lib/units'
import { Act, Trouble } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { Rows } from '../../ui/Rows'

/** The model learns from runs: what they say, how sure, and a run held back to try it on. */
export function Learn() {
  const { bench, prefs, change, busy } = useWorkshop()
  const logs = useLogs(bench.id, stringAt(bench.doc, 'prove.log_id')).data ?? []
  const [chosen, setChosen] = useState<string[]>([])
  const [coasting, setCoasting] = useState<string[]>([])
  const [turns, setTurns] = useState(true)
  const fit = useCalibrate(bench.id)
  const d = fit.data
  const none = chosen.length + coasting.length === 0
  return (
    <Flex direction="column" gap="3" py="3">
      <Text>Runs from rest of this very setup, full twist. With two or more the last one chosen is held back, and the fit is tried on it.</Text>
      <Pick label="Runs from rest" logs={logs} chosen={chosen} onChange={setChosen} />
      <Text>Coast-downs: throttle shut, brakes off, from speed until it nearly stands, there and back on a level closed way. They part air from rolling as no run from rest does.</Text>
      <Flex gap="3" wrap="wrap" align="center">
        <Pick label="Coast-downs" logs={logs} chosen={coasting} onChange={setCoasting} />
        {coasting.length > 0 && (
          <Act aria-pressed={!turns} bg={turns ? 'sheet' : 'choice-wash'} onClick={() => setTurns(!turns)}>
            Chain was off
          </Act>
        )}
      </Flex>
      {logs.length === 0 && <Text color="ink-soft">No log yet: import one, or record a ride under Tune, Live.</Text>}
      <Flex>
        <Act tone="choice" disabled={none || fit.isPending} onClick={() => fit.mutate({ logs: chosen, coasting, motor_turns: turns })}>
          {fit.isPending ? 'Fitting …' : 'What do they say?'}
        </Act>
      </Flex>
      {fit.error && <Trouble text={problemText(fit.error)} />}
      {d && (
        <Box>
          <Text role="status" fontWeight="700">
            {d.sentence}
          </Text>
          <Rows
            label="Learned from runs"
            heads={['', 'in the build', 'by the runs', '± 95 %', '']}
            left={[0, 4]}
            rows={d.values.map((v) => [
              v.label,
              show(v.before, v.quantity, prefs, 4).text,
              show(v.value, v.quantity, prefs, 4).text,
              halfOf(v.half95, v.value, v.quantity, prefs),
              v.told ? '' : 'not told by these runs: it stays what it was',
            ])}
          />
          {d.coasts.map((c, i) => (
            <Text key={i}>
              Rolled in {c.name}: from {show(c.from_m_s, 'm_s', prefs).text} to {show(c.to_m_s, 'm_s', prefs).text} in {show(c.seconds, 's', prefs).text}
              {c.seen_shut ? '.' : ', shut by your word alone.'}
            </Text>
          ))}
          {d.left_open.map((t) => (
            <Text key={t}>{t}</Text>
          ))}
          {d.together.map((t) => (
            <Text key={t}>Cannot be told apart: {t}. A coast-down, or a scale, would.</Text>
          ))}
          <Text color="ink-soft" my="2">
            Left between model and runs: {show(d.rms_m_s, 'm_s', prefs, 2).text}.
          </Text>
          <Act tone="choice" disabled={busy || d.changes.length === 0} onClick={() => change(d.changes as unknown as Change[], 'Learned from runs')}>
            Take {d.changes.length} value{d.changes.length === 1 ? '' : 's'} into the build as measured
          </Act>
        </Box>
      )}
    </Flex>
  )
}

/** Logs to choose from, numbered in the order in which they were chosen. */
function Pick({ label, logs, chosen, onChange }: { label: string; logs: { id: string; name: string }[]; chosen: string[]; onChange: (ids: string[]) => void }) {
  return (
    <Flex gap="2" wrap="wrap" role="group" aria-label={label}>
      {logs.map((l) => {
        const at = chosen.indexOf(l.id)
        return (
          <Act
            key={l.id}
            aria-pressed={at >= 0}
            bg={at >= 0 ? 'choice-wash' : 'sheet'}
            onClick={() => onChange(at >= 0 ? chosen.filter((x) => x !== l.id) : [...chosen, l.id])}
          >
            {at >= 0 ? `${at + 1}. ` : ''}
            {l.name}
          </Act>
        )
      })}
    </Flex>
  )
}
