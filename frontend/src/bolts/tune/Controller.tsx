import { Box, Flex, NativeSelect, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { after, isHeld } from '../../api/client'
import { problemText } from '../../api/hooks'
import { type Adapter, adapterUsed, type SourceIn, useComparison, useLink, useLinkCall } from '../../api/link'
import { at } from '../../lib/path'
import { Act, Severity, Trouble } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { Tick } from '../../ui/Tick'
import { OtherBike } from '../../ui/OtherBike'
import { AdapterForm, useAdapterForm } from './AdapterForm'
import { CONTROLLER, Differences, FREE, Verdict, Write } from './Sets'

/** No channel: the server knows where its bench bike is, before this page does. */
const BENCH: Adapter = { interface: 'slcan', channel: null, bitrate: 250000, node: 16, more: {}, profile: 'bench' }

/** Connect, compare, write, off and on, look again: the guarded write, one step after the other. */
export function Controller() {
  const { bench, prefs } = useWorkshop()
  const link = useLink().data
  const call = useLinkCall()
  const [set, setSet] = useState('')
  const profiles = (at(bench.doc, 'tune.profiles') as { name: string }[] | undefined) ?? []
  const source: SourceIn = { kind: 'set', name: set, text: '' }
  const connected = !!link?.connected
  const found = useComparison(bench.id, `${bench.version}:${link?.device?.serial ?? ''}`, connected ? CONTROLLER : null, source)
  const again = () => void found.refetch()
  return (
    <Flex direction="column" gap="3" py="3">
      <Connect />
      {call.error && <Trouble text={problemText(call.error)} />}
      {call.data && (
        <Text role="status" fontWeight="600">
          {call.data.words}
        </Text>
      )}
      {link?.pending && (
        <Pending
          words={`${link.pending.build_id === bench.id ? '' : `of ${link.pending.build}, `}${link.pending.sentence}`}
          held={isHeld(call.error) && call.variables?.do === 'settle'}
          waiting={link.pending.state === 'waiting' || (link.pending.state === 'stored' && link.pending.old === 0)}
          look={() => after(call.mutateAsync({ do: 'look', id: link.pending!.id }), again)}
          settle={(finish, free, anyway) => after(call.mutateAsync({ do: 'settle', id: link.pending!.id, finish, free, anyway }), again)}
        />
      )}
      {connected && (
        <Flex gap="2" align="center" wrap="wrap">
          <Text as="label">
            Set to write{' '}
            <NativeSelect.Root w="field" display="inline-block">
              <NativeSelect.Field aria-label="Set to write" value={set} onChange={(e) => setSet(e.target.value)}>
                <option value="">this build&apos;s own</option>
                {profiles.map((p) => (
                  <option key={p.name}>{p.name}</option>
                ))}
              </NativeSelect.Field>
              <NativeSelect.Indicator />
            </NativeSelect.Root>
          </Text>
          <Act onClick={() => call.mutate({ do: 'read', build: bench.id, why: 'read by hand' })}>Read and keep all</Act>
          <Act onClick={again}>Compare again</Act>
        </Flex>
      )}
      {found.error && <Trouble text={problemText(found.error)} />}
      {connected && found.data && (
        <>
          {found.data.belongs && <Trouble text={found.data.belongs} />}
          <Verdict judged={found.data.firsts} whose="What the controller holds now" />
          <Verdict judged={found.data.seconds} whose="The set" />
          <Differences found={found.data} prefs={prefs} heads={['in the controller', 'in the set']} />
          <Write key={set} source={source} found={found.data} call={call} done={again} />
        </>
      )}
    </Flex>
  )
}

/** Which adapter; without one the bench bike, which runs beside this server. */
function Connect() {
  const link = useLink().data
  const call = useLinkCall()
  const form = useAdapterForm(adapterUsed(localStorage))
  const [own, setOwn] = useState(false)
  const adapter = own ? form.adapter : BENCH
  if (link?.connected && link.device) {
    return (
      <Flex gap="3" align="center" wrap="wrap">
        <OtherBike />
        <Text fontSize="title" fontWeight="600">
          {link.device.device || 'Controller'}, serial {link.device.serial}
        </Text>
        <Text color="ink-soft">
          maker 0x{link.device.vendor.toString(16).toUpperCase()}, product {link.device.product}, revision {link.device.revision}, hardware {link.device.hardware || '?'}, firmware {link.device.firmware || '?'}, at {link.adapter}
        </Text>
        <Act onClick={() => call.mutate({ do: 'disconnect' })}>Disconnect</Act>
      </Flex>
    )
  }
  return (
    <Box>
      <Flex gap="2" align="center" wrap="wrap">
        <Act tone="choice" disabled={call.isPending || !adapter} onClick={() => adapter && call.mutate({ do: 'connect', adapter })}>
          {call.isPending ? 'Connecting …' : own ? 'Connect' : 'Connect the bench bike'}
        </Act>
        <Act aria-pressed={own} onClick={() => setOwn(!own)}>
          {own ? 'Back to the bench bike' : 'Another adapter'}
        </Act>
        {!own && (
          <Act asChild>
            <a href="/bench" target="_blank" rel="noreferrer">
              Ride the bench bike
            </a>
          </Act>
        )}
        <Text color="ink-soft" flex="1 1 {sizes.field}">
          {own ? 'Names as the CAN library calls them: socketcan with can0, slcan with a serial port. Node: the controller’s own number, from its sheet.' : 'A simulated controller on this machine: nothing here can hurt.'}
        </Text>
      </Flex>
      {own && <AdapterForm form={form} />}
      {call.error && (
        <Box mt="2">
          <Trouble text={problemText(call.error)} />
        </Box>
      )}
    </Box>
  )
}

/** A write that did not come to its end: what stands where, and both ways out. held: finishing it was refused. */
function Pending(props: { words: string; waiting: boolean; held: boolean; look: () => void; settle: (finish: boolean, free: boolean, anyway: boolean) => void }) {
  const [free, setFree] = useState(false)
  const [anyway, setAnyway] = useState(false)
  return (
    <Flex role="alert" gap="3" p="3" borderLeftWidth="bar" borderColor="caution" bg="sheet" align="center" wrap="wrap">
      <Severity kind="caution" />
      <Text flex="1 1 {sizes.field}" fontWeight="600">
        A write is open: {props.words}.
      </Text>
      <Tick checked={free} set={setFree}>
        {FREE}
      </Tick>
      {(props.held || anyway) && (
        <Tick checked={anyway} set={setAnyway}>
          I have read why: finish it all the same
        </Tick>
      )}
      {props.waiting ? (
        <Act tone="choice" onClick={props.look}>
          It was off and on: look again
        </Act>
      ) : (
        <Act tone="choice" disabled={!free || (props.held && !anyway)} onClick={() => props.settle(true, free, anyway)}>
          Finish it
        </Act>
      )}
      <Act disabled={!free} onClick={() => props.settle(false, free, anyway)}>
        Put the old values back
      </Act>
    </Flex>
  )
}
