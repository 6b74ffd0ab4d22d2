import { Box, Text } from '@chakra-ui/react'
import { refusal } from '../../api/hooks'
import { useLogFigures } from '../../api/traces'
import type { components } from '../../api/schema'
import { stringAt } from '../../lib/path'
import { halfOf, show, type UnitPrefs } from '../../lib/units'
import { Loading, Trouble } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { Rows } from '../../ui/Rows'

type Stretch = components['schemas']['Stretch']

/** What the chosen log shows in figures: of the whole ride, of the run in it, and energy for the way against speed. */
export function LogFigures() {
  const { bench, prefs } = useWorkshop()
  const log = stringAt(bench.doc, 'prove.log_id')
  const query = useLogFigures(bench.id, log, bench.version)
  const d = query.data
  if (!log) return <Text py="3">No log is chosen: import one, or choose one under Splits.</Text>
  const wrong = refusal(query)
  if (wrong) return <Trouble text={wrong} />
  if (!d) return <Loading what="Adding up the log …" />
  const keys = [...new Set([...d.run.figures, ...d.ride.figures].map((f) => f.key))]
  return (
    <Box py="3">
      <Rows
        label="What the log shows"
        heads={['figure', ...(d.launch ? [`start ${d.launch}, to the peak of its speed`] : []), 'the whole log', '']}
        left={[0, d.launch ? 3 : 2]}
        rows={keys.map((key) => {
          const [run, ride] = [of(d.run, key), of(d.ride, key)]
          const said = run?.note || ride?.note
          return [(run ?? ride)!.label, ...(d.launch ? [run ? <Figure key="run" f={run} prefs={prefs} /> : ''] : []), ride ? <Figure key="ride" f={ride} prefs={prefs} /> : '', said]
        })}
      />
      {[...new Set([...d.run.words, ...d.ride.words])].map((w) => (
        <Text key={w} mt="1">
          {w}
        </Text>
      ))}
      {d.ride.by_speed.length > 0 && (
        <Box mt="4" maxW="text">
          <Text textStyle="title" fontSize="lead">
            Energy for the way, where it was ridden steadily
          </Text>
          <Rows
            label="Energy for the way against speed"
            heads={['between', 'energy for the way', '± 95 %', 'seen for']}
            rows={d.ride.by_speed.map((b) => [
              `${show(b.from_m_s, 'm_s', prefs).text} – ${show(b.to_m_s, 'm_s', prefs).text}`,
              show(b.wh_km, 'wh_km', prefs).text,
              b.u95 === null ? '–' : halfOf(b.u95, b.wh_km, 'wh_km', prefs),
              show(b.seconds, 's', prefs).text,
            ])}
          />
        </Box>
      )}
      <Text color="ink-soft" mt="3" fontSize="small">
        ± holds 95 % of noise and sampling. What a meter itself reads too high or too low is not in it.
      </Text>
    </Box>
  )
}

const of = (part: Stretch, key: string) => part.figures.find((f) => f.key === key)

function Figure({ f, prefs }: { f: Stretch['figures'][number]; prefs: UnitPrefs }) {
  const { number, unit } = show(f.value, f.quantity, prefs, 4)
  return (
    <Text as="span" whiteSpace="nowrap">
      <Text as="span" fontWeight="600">
        {number}
      </Text>
      {f.u95 !== null && ` ± ${halfOf(f.u95, f.value, f.quantity, prefs)}`} {unit}
    </Text>
  )
}
