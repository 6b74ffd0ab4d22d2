import { Box, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import type { Change } from '../../api/client'
import { problemText, useLogs } from '../../api/hooks'
import { useCalibrate } from '../../api/prove'
import { stringAt } from '../../lib/path'
import { show } from '../../lib/units'
import { Act, Trouble } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { Rows } from '../../ui/Rows'

/** The model learns from runs: what they say, how sure, and a run held back to try it on. */
export function Learn() {
  const { bench, prefs, change, busy } = useWorkshop()
  const logs = useLogs(bench.id, stringAt(bench.doc, 'prove.log_id')).data ?? []
  const [chosen, setChosen] = useState<string[]>([])
  const fit = useCalibrate(bench.id)
  const d = fit.data
  const toggle = (id: string) => setChosen(chosen.includes(id) ? chosen.filter((x) => x !== id) : [...chosen, id])
  return (
    <Flex direction="column" gap="3" py="3">
      <Text>Runs from rest of this very setup, full twist. With two or more the last one chosen is held back, and the fit is tried on it.</Text>
      <Flex gap="2" wrap="wrap">
        {logs.map((l) => (
          <Act key={l.id} aria-pressed={chosen.includes(l.id)} bg={chosen.includes(l.id) ? 'choice-wash' : 'sheet'} onClick={() => toggle(l.id)}>
            {chosen.includes(l.id) ? `${chosen.indexOf(l.id) + 1}. ` : ''}
            {l.name}
          </Act>
        ))}
        {logs.length === 0 && <Text color="ink-soft">No log yet: import one, or record a ride under Tune, Live.</Text>}
      </Flex>
      <Flex>
        <Act tone="choice" disabled={chosen.length === 0 || fit.isPending} onClick={() => fit.mutate(chosen)}>
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
              show(v.half95, v.quantity, prefs, 2).text,
              v.told ? '' : 'not told by these runs: it stays what it was',
            ])}
          />
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
