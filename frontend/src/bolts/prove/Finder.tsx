import { Box, Flex, NativeSelect, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { problemText } from '../../api/hooks'
import { useLink } from '../../api/link'
import { useHunt, useKnown } from '../../api/prove'
import { show, shownUnit } from '../../lib/units'
import { Act, Trouble } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { Rows } from '../../ui/Rows'
import { expected } from './Gates'
import { NumberField, useNumber } from '../../ui/NumberField'
import { OtherBike } from '../../ui/OtherBike'

/** A reading's name without the number that a yes is. */
const bare = (label: string) => label.replace(/, 1 = (yes|right)/, '')

/** From a symptom to the cause: the reading that tells most is asked for, one after the other. */
export function Finder({ symptoms }: { symptoms: string[] }) {
  const { bench, prefs } = useWorkshop()
  const [symptom, setSymptom] = useState('')
  const [readings, setReadings] = useState<{ place: string; value: number | null }[]>([])
  const hunt = useHunt(bench.id, symptom, readings)
  const d = hunt.data
  const next = symptom && d?.next ? d.next : null
  const yes = next?.quantity === 'ratio'
  const unit = next && !yes ? shownUnit(next.quantity, next.high ?? next.low ?? 1, prefs) : null
  const reading = useNumber(next?.quantity ?? 'ratio', unit?.symbol ?? '')
  const connected = useLink().data?.connected ?? false
  const shown = useKnown(bench.id, bench.version, symptom, false, connected).data ?? []
  const set = useKnown(bench.id, bench.version, connected ? symptom : '', true, connected).data ?? []
  const known = [...shown, ...set]
  const offers = known
    .filter((o) => o.value !== null && !readings.some((r) => r.place === o.place))
    .sort((x, y) => Number(y.place === next?.key) - Number(x.place === next?.key))
  const take = (value: number | null, place = next!.key) => {
    setReadings([...readings, { place, value }])
    reading.set('')
  }
  const start = (s: string) => {
    setSymptom(s)
    setReadings([])
    reading.set('')
  }
  return (
    <Flex direction="column" gap="3" py="3">
      <Flex gap="3" wrap="wrap" align="center">
        <Text as="label">
          What it does{' '}
          <NativeSelect.Root w="field" display="inline-block">
            <NativeSelect.Field aria-label="What it does" value={symptom} onChange={(e) => start(e.target.value)}>
              <option value="">choose</option>
              {symptoms.map((s) => (
                <option key={s}>{s}</option>
              ))}
            </NativeSelect.Field>
            <NativeSelect.Indicator />
          </NativeSelect.Root>
        </Text>
        {readings.length > 0 && <Act onClick={() => setReadings(readings.slice(0, -1))}>Take the last reading back</Act>}
      </Flex>
      <OtherBike />
      {hunt.error && <Trouble text={problemText(hunt.error)} />}
      {next && (
        <Box bg="sheet" borderWidth="hair" borderColor="choice" p="3">
          <Text textStyle="title" fontSize="head">
            Read next: {bare(next.label)}
          </Text>
          <Text color="ink-soft">{next.how}.</Text>
          {!yes && <Text fontWeight="600">As it must be: {expected(next.low, next.high, next.quantity, prefs)}</Text>}
          <Flex gap="2" mt="2" wrap="wrap" align="end">
            {yes ? (
              <>
                <Act tone="choice" onClick={() => take(1)}>
                  Yes
                </Act>
                <Act onClick={() => take(0)}>No</Act>
              </>
            ) : (
              <>
                <NumberField label={`Reading, ${unit?.symbol ?? ''}`} field={reading} w="amount" />
                <Act tone="choice" disabled={reading.si === null} onClick={() => take(reading.si!)}>
                  Take it
                </Act>
              </>
            )}
            <Act tone="ghost" onClick={() => take(null)}>
              Cannot be read here
            </Act>
          </Flex>
        </Box>
      )}
      {symptom && d && !d.found && offers.length > 0 && (
        <Box role="group" aria-label="Known already">
          {offers.map((o) => (
            <Flex key={o.place + o.source} gap="2" mt="1" align="center" wrap="wrap">
              <Act onClick={() => take(o.value!, o.place)}>Take {o.quantity === 'ratio' ? (o.value ? 'yes' : 'no') : show(o.value, o.quantity, prefs).text}</Act>
              <Text>{bare(o.label)}</Text>
              <Text color="ink-soft">
                {o.source}: {o.words}
              </Text>
            </Flex>
          ))}
        </Box>
      )}
      {symptom && known.filter((o) => !o.place).map((o) => (
        <Text key={o.words} fontWeight="600" role="note">
          {o.words}
        </Text>
      ))}
      {symptom && d && d.found && d.suspects[0] && (
        <Text role="status" fontSize="head" fontWeight="700">
          {d.suspects[0].label}: {d.suspects[0].repair}.
        </Text>
      )}
      {symptom && d && !d.found && !d.next && (
        <Text role="status" fontWeight="600">
          {d.open.length > 0 ? 'Not found: what would tell could not be read.' : 'Every reading is as it must be: look at what is not in this list, or read again warm and under load.'}
        </Text>
      )}
      {symptom && d && !d.found && !d.next && d.open.map((o) => <Text key={o}>{bare(o)}.</Text>)}
      {symptom && d && d.suspects.length > 0 && (
        <Rows label="Suspects" heads={['suspect', 'how likely', 'repair']} left={[0, 2]} rows={d.suspects.map((s) => [s.label, `${(100 * s.share).toFixed(0)} %`, s.repair])} />
      )}
      {symptom && d && d.said.length > 0 && (
        <Box as="ul" pl="5" listStyleType="disc">
          {d.said.map((s, i) => (
            <Text as="li" key={`${s}${i}`}>
              {bare(s)}
            </Text>
          ))}
        </Box>
      )}
      {readings.length > 0 && (
        <Text fontSize="small" color="ink-soft">
          {readings.length} reading{readings.length > 1 ? 's' : ''}: {readings.map((r) => (r.value === null ? '–' : show(r.value, 'ratio', prefs, 3).text)).join(', ')}
        </Text>
      )}
    </Flex>
  )
}
