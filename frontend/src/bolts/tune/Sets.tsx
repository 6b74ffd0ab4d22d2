import { Box, Flex, Input, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { after } from '../../api/client'
import { problemText } from '../../api/hooks'
import { type Comparison, type SourceIn, useComparison, useLink, type useLinkCall } from '../../api/link'
import { sentence, show, type UnitPrefs } from '../../lib/units'
import { Act, Severity, Trouble } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { NumberField, useNumber } from '../../ui/NumberField'
import { Rows } from '../../ui/Rows'
import { Tick } from '../../ui/Tick'

type Judged = Comparison['seconds']
type Effect = Comparison['all']

export const FREE = 'The wheel is free or the chain is off, nobody touches the throttle'
export const CONTROLLER: SourceIn = { kind: 'controller', name: '', text: '' }

const words = (value: number | string | null, quantity: string, prefs: UnitPrefs) =>
  value === null ? '–' : typeof value === 'string' ? value : show(value, quantity, prefs, 4).text

/** What a set would bring into the build, the gravest first, and what nothing in the build can say of it. */
export function Verdict({ judged, whose }: { judged: Judged; whose: string }) {
  const { prefs } = useWorkshop()
  const [all, setAll] = useState(false)
  const shown = all ? judged.remarks : judged.remarks.filter((r) => r.severity === 'stop')
  const rest = judged.remarks.length - shown.length
  if (judged.remarks.length === 0 && judged.open.length === 0) return null
  return (
    <Box role="group" aria-label={`${whose}, judged`}>
      {judged.remarks.length > 0 && <Text fontWeight="600">{whose} in this bike:</Text>}
      {shown.map((r) => (
        <Flex key={`${r.title}${r.name}`} gap="2" align="start" my="1">
          <Severity kind={r.severity as 'stop' | 'caution'} />
          <Text>
            <Text as="span" fontWeight="600">
              {r.title}.
            </Text>{' '}
            {sentence(r.reason, prefs)}
          </Text>
        </Flex>
      ))}
      {rest > 0 && (
        <Act onClick={() => setAll(true)}>
          {rest} caution{rest > 1 ? 's' : ''}
        </Act>
      )}
      {judged.open.length > 0 && (
        <Text color="ink-soft">
          Nothing in the build says whether {judged.open.length > 1 ? 'these are' : 'this is'} right: {judged.open.join(', ')}.
        </Text>
      )}
    </Box>
  )
}

const moves = (effect: Effect, prefs: UnitPrefs) =>
  effect.figures.map((f) => (
    <Text key={f[0] as string} as="span" display="block">
      {f[0] as string}: {never(f[1] as number | null, f[3] as string, prefs)} → {never(f[2] as number | null, f[3] as string, prefs)}
    </Text>
  ))

/** A figure that is not there: the speed is not reached, nothing opens, it holds for good. */
const never = (value: number | null, quantity: string, prefs: UnitPrefs) => (value === null ? 'never' : words(value, quantity, prefs))

/** Two sets in numbers, and what each difference does to the bike. */
export function Differences(props: { found: Comparison; prefs: UnitPrefs; heads: [string, string] }) {
  const { prefs } = props
  const { rows, same, all } = props.found
  if (rows.length === 0) return <Text fontWeight="600">Nothing differs; {same} values are the same.</Text>
  return (
    <>
      <Text fontWeight="600">
        {rows.length} value{rows.length > 1 ? 's differ' : ' differs'}, {same} are the same.
      </Text>
      {rows.length > 1 && all.figures.length > 0 && (
        <Box role="group" aria-label="All differences together">
          <Text color="ink-soft">All of them together:</Text>
          {moves(all, prefs)}
        </Box>
      )}
      <Rows
        label="Differences"
        heads={['parameter', props.heads[0], props.heads[1], `what it does alone, the rest as ${props.heads[0]}`, '']}
        left={[0, 3, 4]}
        rows={rows.map((r) => [
          r.label,
          words(r.first, r.quantity, prefs),
          words(r.second, r.quantity, prefs),
          <>
            {r.effect.sentence}
            {moves(r.effect, prefs)}
          </>,
          r.power ? 'after off and on' : '',
        ])}
      />
    </>
  )
}

/** The press that writes: behind the caution that matters, and a hand that says the wheel is free. */
export function Write(props: { source: SourceIn; why?: string; found: Comparison; call: ReturnType<typeof useLinkCall>; done: () => void }) {
  const { bench } = useWorkshop()
  const [free, setFree] = useState(false)
  const [anyway, setAnyway] = useState(false)
  const [typed, setTyped] = useState('')
  const meter = useNumber('v', 'V')
  const written = props.call.data?.written
  const { stops, rows, may, belongs } = props.found
  const [count, asks] = [rows.length, may && !!belongs]
  const go = () =>
    after(props.call.mutateAsync({ do: 'write', build: bench.id, source: props.source, why: props.why ?? '', free, typed, volts: meter.si, anyway, seen: props.found.seen }), props.done ?? (() => {}))
  return (
    <Box borderTopWidth="hair" borderColor="rule" pt="3">
      <Text mb="2">
        A wrong set can destroy a controller or start the wheel by itself. Everything is read and kept first; values that ask for less are written before those that ask for more; each is read back.
      </Text>
      {stops.length > 0 && (
        <Flex gap="2" align="start" mb="2" role="alert">
          <Severity kind="stop" />
          <Text>With this set a stop stands: {stops.join('; ')}.</Text>
        </Flex>
      )}
      <Flex gap="3" align="center" wrap="wrap">
        <Tick checked={free} set={setFree}>
          {FREE}
        </Tick>
        {stops.length > 0 && (
          <Tick checked={anyway} set={setAnyway}>
            {stops.length} stop{stops.length > 1 ? 's stand' : ' stands'}: write all the same
          </Tick>
        )}
        <NumberField label="Pack by a meter, V" field={meter} placeholder="as shown" />
        {asks && (
          <Text as="label">
            Type the controller&apos;s name <Input display="block" w="pick" value={typed} onChange={(e) => setTyped(e.target.value)} />
          </Text>
        )}
        <Act tone="choice" disabled={!free || meter.problem !== '' || count === 0 || props.call.isPending || (stops.length > 0 && !anyway)} onClick={go}>
          {props.call.isPending ? 'Writing …' : `Write ${count} values`}
        </Act>
      </Flex>
      {written?.cycle && <Text mt="2">Now switch it off and on, wheel still free; then look again above.</Text>}
    </Box>
  )
}

/** A set that is not the build's goes in the way every set goes: beside what the controller holds now, judged, behind
 * the same hand. */
export function WriteFrom(props: { source: SourceIn; words: string; label: string; call: ReturnType<typeof useLinkCall>; close: () => void }) {
  const { bench, prefs } = useWorkshop()
  const link = useLink().data
  const found = useComparison(bench.id, `${bench.version}:${link?.device?.serial ?? ''}`, link?.connected ? CONTROLLER : null, props.source)
  return (
    <Box role="group" aria-label={props.label} p="3" bg="sheet" borderWidth="hair" borderColor="choice">
      <Flex gap="2" align="center">
        <Text fontWeight="600" flex="1">
          {props.words[0]!.toUpperCase() + props.words.slice(1)}, beside what the controller holds now
        </Text>
        <Act onClick={props.close}>Close</Act>
      </Flex>
      {!link?.connected && <Text>Connect the controller first, on the tab Controller.</Text>}
      {found.error && <Trouble text={problemText(found.error)} />}
      {link?.connected && found.data && (
        <>
          {found.data.belongs && <Trouble text={found.data.belongs} />}
          <Verdict judged={found.data.seconds} whose="What would be written" />
          <Differences found={found.data} prefs={prefs} heads={['in the controller', 'would be written']} />
          <Write source={props.source} why={props.words} found={found.data} call={props.call} done={() => void found.refetch()} />
        </>
      )}
    </Box>
  )
}
