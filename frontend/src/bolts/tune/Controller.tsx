import { Box, Flex, Input, NativeSelect, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { problemText } from '../../api/hooks'
import { type Adapter, adapterUsed, type DifferenceRow, type SourceIn, useComparison, useLink, useLinkCall } from '../../api/link'
import { at } from '../../lib/path'
import { show, type UnitPrefs } from '../../lib/units'
import { Act, Severity, Trouble } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { Rows } from '../../ui/Rows'
import { Tick } from '../../ui/Tick'
import { AdapterForm, useAdapterForm } from './AdapterForm'
import { NumberField, useNumber } from '../../ui/NumberField'

/** No channel: the server knows where its bench bike is, before this page does. */
const BENCH: Adapter = { interface: 'slcan', channel: null, bitrate: 250000, node: 16, more: {}, profile: 'bench' }
const FREE = 'The wheel is free or the chain is off, nobody touches the throttle'
export const CONTROLLER: SourceIn = { kind: 'controller', name: '', text: '' }

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
          words={link.pending.sentence}
          waiting={link.pending.state === 'waiting' || (link.pending.state === 'stored' && link.pending.old === 0)}
          look={() => call.mutate({ do: 'look', id: link.pending!.id }, { onSuccess: again })}
          settle={(finish, free) => call.mutate({ do: 'settle', id: link.pending!.id, finish, free }, { onSuccess: again })}
        />
      )}
      {connected && (
        <Flex gap="2" align="center" wrap="wrap">
          <Text as="label">
            Set to write{' '}
            <NativeSelect.Root w="220px" display="inline-block">
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
          <Differences rows={found.data.rows} prefs={prefs} same={found.data.same} heads={['in the controller', 'in the set']} />
          <Write key={set} source={source} count={found.data.rows.length} stops={found.data.stops} call={call} done={again} asks={found.data.may && !!found.data.belongs} />
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
        <Text fontSize="title" fontWeight="600">
          {link.device.device || 'Controller'}, serial {link.device.serial}
        </Text>
        <Text color="ink-soft">
          hardware {link.device.hardware || '?'}, firmware {link.device.firmware || '?'}, at {link.adapter}
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
        <Text color="ink-soft" flex="1 1 200px">
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

/** A write that did not come to its end: what stands where, and both ways out. */
function Pending(props: { words: string; waiting: boolean; look: () => void; settle: (finish: boolean, free: boolean) => void }) {
  const [free, setFree] = useState(false)
  return (
    <Flex role="alert" gap="3" p="3" borderLeftWidth="4px" borderColor="caution" bg="sheet" align="center" wrap="wrap">
      <Severity kind="caution" />
      <Text flex="1 1 220px" fontWeight="600">
        A write is open: {props.words}.
      </Text>
      <Tick checked={free} set={setFree}>
        {FREE}
      </Tick>
      {props.waiting ? (
        <Act tone="choice" onClick={props.look}>
          It was off and on: look again
        </Act>
      ) : (
        <Act tone="choice" disabled={!free} onClick={() => props.settle(true, free)}>
          Finish it
        </Act>
      )}
      <Act disabled={!free} onClick={() => props.settle(false, free)}>
        Put the old values back
      </Act>
    </Flex>
  )
}

const words = (value: number | string | null, quantity: string, prefs: UnitPrefs) =>
  value === null ? '–' : typeof value === 'string' ? value : show(value, quantity, prefs, 4).text

/** Two sets in numbers, and what each difference does to the bike. */
export function Differences(props: { rows: DifferenceRow[]; prefs: UnitPrefs; same: number; heads: [string, string] }) {
  const { rows, prefs } = props
  if (rows.length === 0) return <Text fontWeight="600">Nothing differs; {props.same} values are the same.</Text>
  return (
    <>
      <Text fontWeight="600">
        {rows.length} value{rows.length > 1 ? 's differ' : ' differs'}, {props.same} are the same.
      </Text>
      <Rows
        label="Differences"
        heads={['parameter', props.heads[0], props.heads[1], 'what it does, all else as in the build', '']}
        left={[0, 3, 4]}
        rows={rows.map((r) => [
          r.label,
          words(r.first, r.quantity, prefs),
          words(r.second, r.quantity, prefs),
          <>
            {r.effect.sentence}
            {r.effect.figures.map((f) => (
              <Text key={f[0] as string} as="span" display="block">
                {f[0] as string}: {words(f[1] as number | null, f[3] as string, prefs)} → {words(f[2] as number | null, f[3] as string, prefs)}
              </Text>
            ))}
          </>,
          r.power ? 'after off and on' : '',
        ])}
      />
    </>
  )
}

/** The press that writes: behind the caution that matters, and a hand that says the wheel is free. */
export function Write(props: { source: SourceIn; why?: string; count: number; stops: string[]; call: ReturnType<typeof useLinkCall>; done: () => void; asks: boolean }) {
  const { bench } = useWorkshop()
  const [free, setFree] = useState(false)
  const [anyway, setAnyway] = useState(false)
  const [typed, setTyped] = useState('')
  const meter = useNumber('v', 'V')
  const written = props.call.data?.written
  const go = () =>
    props.call.mutate(
      { do: 'write', build: bench.id, source: props.source, why: props.why ?? '', free, typed, volts: meter.si, anyway },
      { onSuccess: props.done },
    )
  return (
    <Box borderTopWidth="1px" borderColor="rule" pt="3">
      <Text mb="2">
        A wrong set can destroy a controller or start the wheel by itself. Everything is read and kept first; values that ask for less are written before those that ask for more; each is read back.
      </Text>
      <Flex gap="3" align="center" wrap="wrap">
        <Tick checked={free} set={setFree}>
          {FREE}
        </Tick>
        {props.stops.length > 0 && (
          <Tick checked={anyway} set={setAnyway}>
            {props.stops.length} stop{props.stops.length > 1 ? 's stand' : ' stands'} in the build: write all the same
          </Tick>
        )}
        <NumberField label="Pack by a meter, V" field={meter} placeholder="as shown" />
        {props.asks && (
          <Text as="label">
            Type the controller&apos;s name <Input display="block" w="190px" value={typed} onChange={(e) => setTyped(e.target.value)} />
          </Text>
        )}
        <Act tone="choice" disabled={!free || meter.problem !== '' || props.count === 0 || props.call.isPending || (props.stops.length > 0 && !anyway)} onClick={go}>
          {props.call.isPending ? 'Writing …' : `Write ${props.count} values`}
        </Act>
      </Flex>
      {written?.cycle && <Text mt="2">Now switch it off and on, wheel still free; then look again above.</Text>}
    </Box>
  )
}
