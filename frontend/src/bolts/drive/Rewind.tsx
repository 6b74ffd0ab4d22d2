import { Box, Flex, Text } from '@chakra-ui/react'
import { problemText, useRewind } from '../../api/hooks'
import { show } from '../../lib/units'
import { Act, Trouble } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { NumberField, useNumber } from '../../ui/NumberField'
import { Rows } from '../../ui/Rows'

/** The same motor with other turns: what changes, what the bike then does, tried in one press. */
export function Rewind() {
  const { bench, prefs, change, send } = useWorkshop()
  const [now, wanted] = [useNumber('ratio', ''), useNumber('ratio', '')]
  const [a, b] = [now.si, wanted.si]
  const got = useRewind(bench.id, bench.version, a && b && a > 0 && b > 0 ? [a, b] : null)
  const d = a && b ? got.data : undefined
  const tryIt = () => {
    if (!d) return
    const go = () => change(d.changes as { path: string; value: unknown }[], `Rewound from ${a} to ${b} turns`)
    if (bench.trial) go()
    else send({ do: 'try' }, go)
  }
  const then = d?.then.headline
  return (
    <Box>
      <Flex gap="3" align="end" wrap="wrap">
        <NumberField label="Turns now" field={now} />
        <NumberField label="Turns wanted" field={wanted} />
        <Act tone="choice" disabled={!d} onClick={tryIt}>
          Try it
        </Act>
      </Flex>
      {got.error && a && b && <Trouble text={problemText(got.error)} />}
      {d && (
        <>
          <Rows label="What a rewind changes" heads={['value', 'now', 'then']} rows={d.rows.map((r) => [r.label, show(r.before, r.quantity, prefs, 4).text, show(r.after, r.quantity, prefs, 4).text])} />
          {then && (
            <Text mt="2" fontWeight="600">
              Then: top speed {show(then.top_speed_m_s, 'm_s', prefs).text}, {show(then.to_time_s, 's', prefs).text} to {show(then.to_speed_m_s, 'm_s', prefs).text}, {show(then.peak_wheel_w, 'w', prefs).text} at the wheel
              {d.then.stops > 0 && `; ${d.then.stops} ${d.then.stops === 1 ? 'stop stands' : 'stops stand'}`}.
            </Text>
          )}
          {d.missing.length > 0 && <Text color="caution">Not known, and it would move too: {d.missing.join(', ')}.</Text>}
          {d.words.map((t) => (
            <Text key={t} mt="1" fontSize="small">
              {t}
            </Text>
          ))}
        </>
      )}
    </Box>
  )
}
