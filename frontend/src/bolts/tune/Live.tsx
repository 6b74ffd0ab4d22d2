import { Box, Flex, Input, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { problemText } from '../../api/hooks'
import { type LiveSample, useLink, useLinkCall, useLive } from '../../api/link'
import { show } from '../../lib/units'
import { paint } from '../../theme/paint'
import { Act, Severity, Trouble } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { OtherBike } from '../../ui/OtherBike'
import { Codes } from './Codes'
import { DisplaySpeed } from './DisplaySpeed'
import { GroupsNow } from './GroupsNow'

const SHOWN: [string, string, string][] = [
  ['bus_v', 'volts', 'v'],
  ['line_a', 'line amps', 'a'],
  ['phase_a', 'phase amps', 'a'],
  ['rpm', 'motor', 'rpm'],
  ['speed_m_s', 'speed by its settings', 'm_s'],
  ['throttle_v', 'throttle signal', 'v'],
  ['throttle_pct', 'twist as read', 'pct'],
  ['motor_c', 'winding', 'c'],
  ['controller_c', 'controller', 'c'],
]

/** What the controller shows while it runs, large enough for a glance from the bench. */
export function Live() {
  const { bench, prefs } = useWorkshop()
  const link = useLink().data
  const { now, past, problem } = useLive(!!link?.connected)
  const call = useLinkCall()
  const [gps, setGps] = useState('')
  if (!link?.connected)
    return (
      <Flex direction="column" gap="3" py="3">
        <Text>Nothing is connected: under Controller, connect the bench bike or an adapter.</Text>
        <Codes />
        <DisplaySpeed />
      </Flex>
    )
  return (
    <Flex direction="column" gap="3" py="3">
      <OtherBike />
      {problem && <Trouble text={problem} />}
      {now && (
        <Flex gap="2" align="center" role="status">
          {now.fault ? <Severity kind="stop" /> : null}
          <Text textStyle="digits" fontSize="sub">
            {now.fault || now.state}
          </Text>
          {now.fault && (
            <Text color="ink-soft">
              {now.blinks[0] + now.blinks[1] > 0 && `${now.blinks[0]} long, ${now.blinks[1]} short flashes. `}
              {now.expected && `Expected during ${now.expected}; otherwise: `}
              {now.causes.length > 0 && `Look in this order: ${now.causes.join('; ')}.`}
            </Text>
          )}
        </Flex>
      )}
      {link.unseen.length > 0 && <Text color="ink-soft">This kind of controller does not show: {link.unseen.join(', ')}. Where they stand in it can be said under Controller, with its dictionary file.</Text>}
      <Flex wrap="wrap" gap="3" role="group" aria-label="Live values">
        {SHOWN.map(([key, label, quantity]) => {
          const s = now?.values[key]
          const text = s === undefined ? null : show(s, quantity, prefs, 3)
          return (
            <Box key={key} minW="amount">
              <Text color="ink-soft" fontSize="small">
                {label}
              </Text>
              <Text textStyle="digits" fontSize="large" lineHeight="1.1">
                {text ? text.text : '–'}
              </Text>
              <Spark past={past} of={key} />
            </Box>
          )
        })}
      </Flex>
      <GroupsNow />
      <Flex gap="2" align="center" wrap="wrap">
        <Act tone={link.recording ? 'choice' : 'plain'} aria-pressed={link.recording} onClick={() => call.mutate({ do: 'record', on: !link.recording, gps: gps.trim() })}>
          {link.recording ? 'End the recording' : 'Record'}
        </Act>
        <Input aria-label="Receiver" placeholder="GPS receiver: a port, or none" w="wide" value={gps} disabled={link.recording} onChange={(e) => setGps(e.target.value)} />
        {!gps && (
          <Act disabled={link.recording} onClick={() => setGps(link.bench_gps)}>
            The bench bike's
          </Act>
        )}
        <Act disabled={link.recording || link.samples < 10 || call.isPending} onClick={() => call.mutate({ do: 'log', build: bench.id })}>
          Keep it as a log
        </Act>
        <Text color="ink-soft">{link.samples > 0 ? `${(link.samples / 10).toFixed(0)} s recorded${link.heard > 0 ? `, ${link.heard} sentences of the receiver` : ''}` : 'Stand a second or two before the run, and after it.'}</Text>
        {call.data && <Text role="status">{call.data.words}</Text>}
      </Flex>
      {call.error && <Trouble text={problemText(call.error)} />}
      <Codes />
      <DisplaySpeed />
    </Flex>
  )
}

/** The last thirty seconds of one value. */
function Spark({ past, of }: { past: LiveSample[]; of: string }) {
  const values = past.map((p) => p.values[of] ?? 0)
  const low = Math.min(0, ...values)
  const high = Math.max(1e-6, ...values)
  const path = values.map((v, i) => `${i ? 'L' : 'M'}${(i / 299) * 130} ${30 - ((v - low) / (high - low)) * 28}`).join('')
  return (
    <svg width="132" height="32" aria-hidden="true">
      <path d={path} fill="none" stroke={paint('ink')} strokeWidth="1.5" />
    </svg>
  )
}
