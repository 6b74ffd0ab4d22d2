import { Box, Flex, Input, Text } from '@chakra-ui/react'
import { useDeferredValue, useState } from 'react'
import { http, ok } from '../../api/client'
import { problemText, useLabel } from '../../api/hooks'
import { show } from '../../lib/units'
import { Act, Trouble } from '../../ui/atoms'
import { useWorkshop, wordsFor } from '../../ui/bench'
import { SumForm } from '../../ui/SumForm'

/** What stands on a case: each number as a guess to be confirmed, never silently as a rating. */
export function LabelReader() {
  const { prefs, change, fields } = useWorkshop()
  const [text, setText] = useState('')
  const got = useLabel(useDeferredValue(text))
  const rows = text.trim() ? (got.data ?? []) : []
  return (
    <Box>
      <Input aria-label="What is written on it" placeholder="as it stands on the case, such as 72V 150A phase 350A" value={text} maxLength={400} onChange={(e) => setText(e.target.value)} maxW="text" minH="touch" bg="sheet" />
      {text.trim() && got.error && <Trouble text={problemText(got.error)} />}
      {rows.map((r, i) => (
        <Flex key={i} gap="3" py="2" borderBottomWidth="hair" borderColor="rule" align="center" wrap="wrap">
          <Text fontWeight="600" w="figure">
            {r.text}
          </Text>
          <Box flex="1 1 {sizes.wide}">
            <Text>
              <b>{r.label}</b> {r.value == null ? '' : show(r.value, r.quantity, prefs).text}{' '}
              <Text as="span" color="ink-soft">
                {Math.round(r.sure * 100)} % – {r.why}
              </Text>
            </Text>
            <Text fontSize="small" color="caution">
              {r.ask}
            </Text>
          </Box>
          {r.path && r.value != null && (
            <Act aria-label={`Take ${r.text} as ${r.label}`} onClick={() => change([{ path: r.path, value: { amount: Number(r.value!.toPrecision(4)), origin: 'guess', tolerance: null } }], `${wordsFor(fields, r.path)} from a label`)}>
              Take as a guess
            </Act>
          )}
        </Flex>
      ))}
    </Box>
  )
}

interface Sum {
  key: 'spin' | 'drill' | 'phase-ohm' | 'phase-henry' | 'resistance'
  title: string
  how: string
  path: string
  quantity: string
  /** key, what stands beside the field, quantity, its unit, and what an empty field stands for */
  inputs: [string, string, string, string, number?][]
}
const SUMS: Sum[] = [
  { key: 'spin', title: 'KV, running free', how: 'Wheel in the air, no load, full throttle: count rpm, read the pack’s volts.', path: 'drive.motor.kv_rpm_v', quantity: 'rpm_v', inputs: [['rpm', 'rpm', 'rpm', 'rpm'], ['volts', 'V', 'v', 'V']] },
  { key: 'drill', title: 'KV, on a drill', how: 'Leads free. Turn it with a drill, read AC volts between two leads.', path: 'drive.motor.kv_rpm_v', quantity: 'rpm_v', inputs: [['rpm', 'rpm', 'rpm', 'rpm'], ['volts', 'V AC', 'v', 'V']] },
  { key: 'phase-ohm', title: 'Resistance of a phase', how: 'A known current through two leads; volts at the leads. Then the tips of the meter on one another at that current: those volts come off.', path: 'drive.motor.r_phase_ohm', quantity: 'ohm', inputs: [['volts', 'V', 'v', 'V'], ['amps', 'A', 'a', 'A'], ['lead_volts', 'V of the leads', 'v', 'V', 0], ['winding_c', '°C of the winding', 'c', '°C', 20]] },
  { key: 'phase-henry', title: 'Inductance of a phase', how: 'A step of volts over two leads; the current after so many seconds.', path: 'drive.motor.l_phase_henry', quantity: 'henry', inputs: [['volts', 'V', 'v', 'V'], ['amps', 'A', 'a', 'A'], ['seconds', 's', 's', 's'], ['ohm', 'Ω of a phase', 'ohm', 'Ω']] },
  { key: 'resistance', title: 'Resistance of the pack', how: 'Volts at two currents, both read at once; the further apart the amps, the better. Compare with the pack’s own on Pack.', path: '', quantity: 'ohm', inputs: [['v1', 'V', 'v', 'V'], ['a1', 'A', 'a', 'A'], ['v2', 'V', 'v', 'V'], ['a2', 'A', 'a', 'A']] },
]

export function MotorSums() {
  return (
    <Flex direction="column" gap="3">
      {SUMS.map((s) => (
        <SumRow key={s.key} s={s} />
      ))}
    </Flex>
  )
}

function SumRow({ s }: { s: Sum }) {
  const { prefs, change } = useWorkshop()
  return (
    <SumForm
      title={s.title}
      how={s.how}
      about={[s.key]}
      inputs={s.inputs.map(([key, label, quantity, symbol, empty]) => ({ key, label, quantity, symbol, ...(empty === undefined ? {} : { empty }) }))}
      ask={(query) => ok(http.GET(`/api/sums/${s.key}` as '/api/sums/spin', { params: { query: query as { rpm: number; volts: number } } }))}
    >
      {(found) => (
        <>
          <Text fontWeight="600">
            {show(found.value, s.quantity, prefs).text} ± {Math.round(found.spread * 100)} %
          </Text>
          {s.path && (
            <Act aria-label={`Take ${s.title}`} onClick={() => change([{ path: s.path, value: { amount: found.value, origin: 'measured', tolerance: found.spread } }], s.title)}>
              Take as measured
            </Act>
          )}
        </>
      )}
    </SumForm>
  )
}
