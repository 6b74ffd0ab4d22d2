import { Box, Flex, Input, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { http, ok } from '../../api/client'
import { useRegisters } from '../../api/hooks'
import { useAcceptance, useRideGate } from '../../api/prove'
import { stringAt } from '../../lib/path'
import { sentence, show } from '../../lib/units'
import { Act, Severity } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { Rows } from '../../ui/Rows'
import { Says, SumForm } from '../../ui/SumForm'
import { Tick } from '../../ui/Tick'

/** May it be ridden now; quarantine after a fall; was it what was wished. */
export function Ride() {
  const { bench, prefs, change } = useWorkshop()
  const worn = useRegisters().data?.gear ?? []
  const [gear, setGear] = useState<string[]>([])
  const [second, setSecond] = useState(false)
  const [closed, setClosed] = useState(false)
  const [loose, setLoose] = useState(false)
  const [why, setWhy] = useState('')
  const gate = useRideGate(bench.id, bench.version, gear, second, closed).data
  const wished = useAcceptance(bench.id, bench.version).data ?? []
  const quarantine = stringAt(bench.doc, 'prove.quarantine')
  return (
    <Flex direction="column" gap="4" py="3">
      {gate && (
        <Flex gap="3" align="center" role="status">
          <Severity kind={gate.go ? 'note' : 'stop'} size={30} />
          <Text fontSize="head" fontWeight="700">
            {sentence(gate.sentence, prefs)}
          </Text>
        </Flex>
      )}
      <Flex gap="4" wrap="wrap">
        {worn.map((g) => (
          <Tick key={g} checked={gear.includes(g)} set={(on) => setGear(on ? [...gear, g] : gear.filter((x) => x !== g))}>
            {g}
          </Tick>
        ))}
        <Tick checked={second} set={setSecond}>
          a second person is there
        </Tick>
        <Tick checked={closed} set={setClosed}>
          closed course, or allowed there
        </Tick>
      </Flex>
      <SumForm
        title="How fast at most, there"
        how="From that speed half of the way that is seen is enough to stop. Road law decides, whatever stands here."
        about={[closed, loose]}
        inputs={[
          { key: 'sight_m', label: 'm seen ahead', quantity: 'm', symbol: 'm' },
          { key: 'wanted_m_s', label: 'km/h wanted', quantity: 'm_s', symbol: 'km/h' },
          { key: 'limit_m_s', label: 'km/h allowed', quantity: 'm_s', symbol: 'km/h', optional: true },
        ]}
        ask={(query) => ok(http.GET('/api/sums/road-cap', { params: { query: { ...query, closed, loose } } }))}
        more={
          <Tick checked={loose} set={setLoose}>
            loose or wet
          </Tick>
        }
      >
        {(cap) => <Says bad={cap.refused !== ''}>{cap.sentence}</Says>}
      </SumForm>
      {gate && (
        <Rows label="Before a ride" heads={['looked at', '', 'why']} left={[0, 1, 2]} rows={gate.points.map((p) => [sentence(p.what, prefs), p.state === 'go' ? '✓' : p.state === 'stop' ? '✕ stop' : '· open', p.why])} />
      )}
      <Box>
        <Text textStyle="title" fontSize="title">
          After a fall or a failure
        </Text>
        {quarantine ? (
          <Flex gap="2" align="center" wrap="wrap">
            <Text fontWeight="600">In quarantine: {quarantine}</Text>
            <Act onClick={() => change([{ path: 'prove.quarantine', value: '' }], 'Inspected, quarantine lifted')}>It was inspected: lift it</Act>
          </Flex>
        ) : (
          <Flex gap="2" align="center" wrap="wrap">
            <Input aria-label="What happened" placeholder="what happened" w="wide" value={why} onChange={(e) => setWhy(e.target.value)} />
            <Act disabled={!why.trim()} onClick={() => change([{ path: 'prove.quarantine', value: why.trim() }], 'Quarantine')}>
              Quarantine the bike
            </Act>
          </Flex>
        )}
      </Box>
      {wished.length > 0 && (
        <Rows
          label="What was wished"
          heads={['wish', 'wished', 'measured', '± 95 %', 'before', '']}
          left={[0, 5]}
          rows={wished.map((w) => [
            w.what,
            show(w.wished, w.quantity, prefs, 3).text,
            w.measured === null ? '–' : show(w.measured, w.quantity, prefs, 3).text,
            w.u95 === null ? '–' : show(w.u95, w.quantity, prefs, 2).text,
            w.baseline === null ? '–' : show(w.baseline, w.quantity, prefs, 3).text,
            w.how ? `${w.state}: ${sentence(w.how, prefs)}` : w.state,
          ])}
        />
      )}
    </Flex>
  )
}
