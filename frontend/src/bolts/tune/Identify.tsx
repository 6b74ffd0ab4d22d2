import { Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { problemText, useRegisters } from '../../api/hooks'
import { useAdopt, useIdentify, useLink } from '../../api/link'
import { sentence, show } from '../../lib/units'
import { Act, Trouble } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { Rows } from '../../ui/Rows'
import { Tick } from '../../ui/Tick'

/** The controller's own identification: started, followed, compared with the build, adopted. */
export function Identify() {
  const { bench, prefs } = useWorkshop()
  const link = useLink().data
  const [free, setFree] = useState(false)
  const [anyway, setAnyway] = useState(false)
  const { seen, problem, held, start, stop, running } = useIdentify(link?.turned ?? '')
  const steps = useRegisters().data?.identifying ?? []
  const adopt = useAdopt(bench.id)
  if (!link?.connected) return <Text py="3">Nothing is connected: under Controller, connect the bench bike or an adapter.</Text>
  if (!link.identifies) return <Text py="3">How {link.profile} identifies a motor is not known here, and our routine written into it would be something else. Use its own way, wheel free and a hand on the disconnect; enter resistance, inductance, KV and the halls under Motor as measured.</Text>
  const at_ = steps.indexOf(seen?.step ?? 'not started')
  const rows = seen?.rows ?? []
  const left = (adopt.data ?? rows).filter((r) => r.left)
  const elsewhere = Boolean(seen?.build) && seen?.build !== bench.id
  return (
    <Flex direction="column" gap="3" py="3">
      <Text>The wheel turns by itself, slowly, and may jerk. Wheel off the ground or chain off; hand on the disconnect; hand off the throttle. A code for the throttle is expected while its plug is off; a code for a hall is real.</Text>
      <Flex gap="3" align="center" wrap="wrap">
        <Tick checked={free} set={setFree}>
          The wheel is free, my hand is on the disconnect
        </Tick>
        {(held || anyway) && (
          <Tick checked={anyway} set={setAnyway}>
            I have read what stands: turn it all the same
          </Tick>
        )}
        <Act tone="choice" disabled={!free || running || (held && !anyway)} onClick={() => start(bench.id, anyway)}>
          {running ? 'Identifying …' : 'Start'}
        </Act>
        {running && (
          <Act tone="stop" onClick={stop}>
            Stop the motor
          </Act>
        )}
      </Flex>
      <Flex as="ol" gap="2" wrap="wrap" listStyleType="none" aria-label="Steps of the identification">
        {steps.slice(1, steps.indexOf('done') + 1).map((s, i) => (
          <Text as="li" key={s} px="2" py="1" borderWidth="hair" borderColor={i + 1 === at_ ? 'choice' : 'rule'} bg={i + 1 <= at_ ? 'choice-wash' : 'sheet'} fontWeight={i + 1 === at_ ? '700' : '400'}>
            {s}
          </Text>
        ))}
      </Flex>
      <Text role="status">{running ? `Now: ${seen?.step ?? ''}` : seen?.state === 'done' ? 'Done.' : seen?.state === 'stopped' ? 'Stopped: the controller has let the motor go.' : ''}</Text>
      {problem && <Trouble text={problem} />}
      {seen?.state === 'done' && (
        <>
          {elsewhere && <Text>This was measured for another build, and is taken over there.</Text>}
          <Rows
            label="Identified"
            heads={['', 'in the build', 'measured', 'difference']}
            rows={rows.map((r) => [
              r.label,
              r.before === null ? '–' : show(r.before, r.quantity, prefs, 3).text,
              r.key === 'hall_order' ? String(Math.round(r.measured)) : r.key === 'direction' ? (r.measured < 0 ? 'turned round' : 'as wired') : show(r.measured, r.quantity, prefs, 3).text,
              r.before ? `${((r.measured / r.before - 1) * 100).toFixed(1)} %` : '',
            ])}
          />
          {left.map((r) => (
            <Text key={r.key} color="caution">
              {r.label}: {sentence(r.left, prefs)}
            </Text>
          ))}
          <Text color="ink-soft">A controller measures a phase through its lead, so the build's stands here with it. Where section and length of the phase leads are known, theirs comes off when it is taken.</Text>
          <Flex gap="2" align="center" wrap="wrap">
            <Act tone="choice" disabled={adopt.isPending || adopt.isSuccess || elsewhere} onClick={() => adopt.mutate(seen.id)}>
              Take into the build as measured
            </Act>
            {adopt.isSuccess && <Text role="status">Taken. Halls, offset and direction are in the set: write it under Controller.</Text>}
          </Flex>
          {adopt.error && <Trouble text={problemText(adopt.error)} />}
        </>
      )}
    </Flex>
  )
}
