import { Box, Flex, Input, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { problemText } from '../../api/hooks'
import { type GateState, useGate } from '../../api/prove'
import { gateKey, isGone, useTaps } from '../../api/taps'
import { sentence, show, shownUnit, type UnitPrefs } from '../../lib/units'
import { Act, Severity, Trouble } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { NumberField, useNumber } from '../../ui/NumberField'
import { KeptGate } from './Kept'
import { Photos } from './Photos'
import { Standing } from './Standing'
import { minute } from '../../lib/when'

const MARK = { passed: '✓', failed: '✕', open: '·', blocked: '–' } as const

/** Commissioning in its order: what to do, what must be read, what was; one gate open at a time. */
export function Gates({ gates }: { gates: GateState[] }) {
  const { bench, prefs } = useWorkshop()
  const next = gates.find((g) => g.state === 'open' || g.state === 'failed')
  const [chosen, setChosen] = useState('')
  const passed = gates.filter((g) => g.state === 'passed').length
  return (
    <Box py="3">
      <Act asChild float="right">
        <a href={`/api/builds/${encodeURIComponent(bench.id)}/gates.pdf`} download>
          Sheet to print
        </a>
      </Act>
      <Text fontWeight="600" mb="2" role="status">
        {passed} of {gates.length} gates are passed{next ? `; next: ${next.gate.title}` : ''}.
      </Text>
      <Standing />
      {gates.map((g, i) => {
        const open = (chosen || next?.gate.key) === g.gate.key
        return (
          <Box key={g.gate.key}>
            {(i === 0 || gates[i - 1]!.gate.phase !== g.gate.phase) && (
              <Text textStyle="title" fontSize="title" mt="4" mb="1">
                {g.gate.phase}
              </Text>
            )}
            <Box borderWidth="hair" borderColor={open ? 'choice' : 'rule'} bg="sheet" mb="1">
              <Act tone="ghost" w="100%" justifyContent="flex-start" whiteSpace="normal" textAlign="start" aria-expanded={open} onClick={() => setChosen(open ? ' ' : g.gate.key)}>
                <Text as="span" textStyle="digits" fontSize="head" minW="glyph" color={g.state === 'failed' ? 'stop' : 'ink'}>
                  {MARK[g.state as keyof typeof MARK]}
                </Text>
                <Text as="span" flex="1" fontWeight={open ? '700' : '500'}>
                  {g.gate.title}
                </Text>
                <Text as="span" color="ink-soft" fontSize="small">
                  {g.value !== null && g.gate.quantity ? show(g.value, g.gate.quantity, prefs, 3).text : g.state}
                </Text>
              </Act>
              <Text display="none" _print={{ display: 'block' }} px="3">
                {g.state === 'passed' ? '☑' : '☐'} {g.gate.title}: {g.value !== null && g.gate.quantity ? `${show(g.value, g.gate.quantity, prefs, 3).text}, ` : ''}
                {g.state} {g.who} {g.note}
              </Text>
              {open && <One key={g.gate.key} g={g} prefs={prefs} done={() => setChosen('')} />}
            </Box>
          </Box>
        )
      })}
    </Box>
  )
}

/** What must be read: both bounds, one, or none. */
export function expected(low: number | null, high: number | null, quantity: string, prefs: UnitPrefs): string {
  const text = (x: number) => show(x, quantity, prefs, 3).text
  if (low !== null && high !== null) return `${text(low)} to ${text(high)}`
  return low !== null ? `at least ${text(low)}` : high !== null ? `at most ${text(high)}` : 'what the build does not say yet: no reading passes before it does'
}

function One({ g, prefs, done }: { g: GateState; prefs: UnitPrefs; done: () => void }) {
  const { bench } = useWorkshop()
  const call = useGate(bench.id)
  const taps = useTaps(bench.id)
  const [note, setNote] = useState(g.note)
  const [who, setWho] = useState(g.who)
  const gate = g.gate
  const unit = gate.quantity ? shownUnit(gate.quantity, gate.high ?? gate.low ?? 1, prefs) : null
  const reading = useNumber(gate.quantity, unit?.symbol ?? '')
  const send = (value: number | null, passed: boolean | null) => {
    const entry = { gate: gate.key, value, passed, note, who, seq: bench.seq }
    const entered = () => (taps.letGo(gateKey(gate.key)), done())
    const keep = () => taps.keepGate(entry)
    window.addEventListener('pagehide', keep) // closed before an answer came: it goes from the next page
    void call
      .mutateAsync(entry)
      .then(entered, (error: Error) => isGone(error) && keep())
      .finally(() => window.removeEventListener('pagehide', keep))
  }
  return (
    <Box px="3" pb="3">
      <Text>{gate.do}</Text>
      <Text color="ink-soft">With: {gate.tool}.</Text>
      {gate.quantity && (
        <Text fontWeight="600" mt="1">
          Must read {expected(gate.low, gate.high, gate.quantity, prefs)}
        </Text>
      )}
      {gate.caution && (
        <Flex gap="2" mt="2" align="flex-start">
          <Severity kind="caution" size={20} />
          <Text>{sentence(gate.caution, prefs)}</Text>
        </Flex>
      )}
      {g.state === 'failed' && (
        <Text mt="2" color="stop">
          Look in this order: {gate.causes.join('; ')}.
        </Text>
      )}
      {g.others.length > 0 && (
        <Text mt="2" fontWeight="600">
          Passed with another {g.others.join(', ')} than there is now: read it again.
        </Text>
      )}
      {g.state === 'blocked' ? (
        <Text mt="2" fontWeight="600">
          A gate before it is not passed; its order holds.
        </Text>
      ) : (
        <>
          <Flex gap="2" mt="3" wrap="wrap" align="end">
            {unit && (
              <NumberField label={`Reading, ${unit.symbol}`} field={reading} w="amount" />
            )}
            <Text as="label">
              Who
              <Input display="block" w="figure" value={who} onChange={(e) => setWho(e.target.value)} />
            </Text>
            <Text as="label" flex="1 1 {sizes.pick}">
              Note
              <Input display="block" w="100%" value={note} onChange={(e) => setNote(e.target.value)} />
            </Text>
          </Flex>
          <Flex gap="2" mt="2" wrap="wrap">
            {unit ? (
              <Act tone="choice" disabled={reading.si === null || call.isPending} onClick={() => send(reading.si, null)}>
                Enter
              </Act>
            ) : (
              <Act tone="choice" disabled={call.isPending} onClick={() => send(null, true)}>
                It is so
              </Act>
            )}
            <Act disabled={call.isPending || reading.problem !== ''} onClick={() => send(reading.si, false)}>
              It failed
            </Act>
            {g.at && (
              <Act disabled={call.isPending} onClick={() => send(null, null)}>
                Clear
              </Act>
            )}
          </Flex>
        </>
      )}
      <Photos place={`gate:${gate.key}`} title={gate.title} />
      {call.error && !isGone(call.error) && <Trouble text={problemText(call.error)} />}
      <KeptGate taps={taps} gate={gate.key} quantity={gate.quantity} />
      {g.at && (
        <Text fontSize="small" color="ink-soft" mt="1">
          {minute(g.at)} {g.who}
        </Text>
      )}
    </Box>
  )
}
