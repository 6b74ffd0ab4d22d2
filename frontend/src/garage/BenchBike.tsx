import { Box, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { problemText, useCards, useRegisters } from '../api/hooks'
import { type BenchAnswer, useBenchBike } from '../api/link'
import { show, type UnitPrefs } from '../lib/units'
import { NamePick } from '../ui/NamePick'
import { Act, Loading, Severity, Trouble } from '../ui/atoms'
import { Slide } from '../ui/Slide'
import { Rows } from '../ui/Rows'

/** The simulated bike: ride it, break it, find what is wrong with it. */
export function BenchBike({ prefs }: { prefs: UnitPrefs }) {
  const navigate = useNavigate()
  const { state, things, call, load } = useBenchBike()
  const [score, setScore] = useState<BenchAnswer | null>(null)
  const [readings, setReadings] = useState<NonNullable<BenchAnswer['reading']>[]>([])
  const cards = useCards().data ?? []
  const states = useRegisters().data?.bms_states ?? []
  const s = state.data?.state
  // By its own promise: a callback of the press is dropped when the next press comes before its answer, and a recorded ride with it.
  const act = (what: string, more?: Record<string, unknown>, then?: (a: BenchAnswer) => void) =>
    void call.mutateAsync({ what, more }).then(then, () => undefined)
  const heading = (
    <Flex align="center" gap="3" wrap="wrap" px={{ base: '3', md: '6' }} pt="4">
      <Text as="h1" id="work" textStyle="title" fontSize="large">
        Bench bike
      </Text>
      <Text color="ink-soft" flex="1 1 {sizes.wide}">
        Simulated, on this machine: program it, ride it, break it. It has no tyres that slide, no rider who falls, no ripple in its leads.
      </Text>
      <Act onClick={() => navigate('/')}>Garage</Act>
    </Flex>
  )
  if (state.error && !s) {
    return (
      <Box as="main">
        {heading}
        <Box p="6">
          <Trouble text={problemText(state.error)}>
            <Act onClick={() => void state.refetch()}>Try again</Act>
          </Trouble>
          <Text mt="3">It runs as a process of its own. In a shell: ninebolt bench --live</Text>
        </Box>
      </Box>
    )
  }
  if (!s) return <Loading what="Looking for the bench bike …" />
  const faults = things.data?.faults ?? []
  return (
    <Box as="main">
      {heading}
      {call.error && (
        <Box px="6" pt="2">
          <Trouble text={problemText(call.error)} />
        </Box>
      )}
      <Flex wrap="wrap" gap="5" px={{ base: '3', md: '6' }} py="4" align="start">
        <Box flex="1 1 {sizes.panel}" minW="0" bg="sheet" borderWidth="hair" borderColor="rule" p="4">
          <Flex gap="2" wrap="wrap" align="center" mb="3">
            <Text as="label">
              On the bench{' '}
              <NamePick label="On the bench" rows={cards} value="" none={s.build} w="field" pick={(id) => id && load.mutate(id)} />
            </Text>
            <Act onClick={() => act('key', { on: !s.key })} aria-pressed={s.key}>
              Key {s.key ? 'on' : 'off'}
            </Act>
            <Act onClick={() => act('cycle')}>Off and on</Act>
            <Act onClick={() => act('rest')}>As it stood</Act>
          </Flex>
          {load.error && <Trouble text={problemText(load.error)} />}
          <Flex wrap="wrap" gap="4" role="group" aria-label="The bike now">
            <Big label="speed" text={show(s.speed_m_s, 'm_s', prefs, 3).text} />
            <Big label="volts" text={show(s.bus_v, 'v', prefs, 3).text} />
            <Big label="line amps" text={show(s.line_a, 'a', prefs, 3).text} />
            <Big label="phase amps" text={show(s.phase_a, 'a', prefs, 3).text} />
            <Big label="charge" text={`${(100 * s.soc).toFixed(0)} %`} />
            <Big label="winding" text={show(s.motor_c, 'c', prefs, 3).text} />
          </Flex>
          {(s.fault_code > 0 || s.bms > 0) && (
            <Flex role="status" gap="2" align="center" mt="2">
              <Severity kind="stop" />
              <Text fontWeight="600">{s.bms > 0 ? `BMS ${states[s.bms] ?? s.bms}` : `The controller stands: ${s.fault} (code ${s.fault_code})`}</Text>
            </Flex>
          )}
          <Box mt="4">
            <Hold label="Twist" value={s.hand.throttle} max={1} step={0.05} text={`${Math.round(100 * s.hand.throttle)} %`} set={(v) => act('hand', { throttle: v })} />
            <Hold label="Grade" value={s.hand.grade_pct} min={-15} max={25} step={1} text={`${s.hand.grade_pct} %`} set={(v) => act('hand', { grade_pct: v })} />
          </Box>
          <Flex gap="2" mt="3" wrap="wrap">
            <Act tone={s.hand.stand ? 'plain' : 'choice'} aria-pressed={!s.hand.stand} onClick={() => act('hand', { stand: !s.hand.stand })}>
              {s.hand.stand ? 'On its stand, wheel free' : 'On the ground'}
            </Act>
            <Act aria-pressed={s.hand.brake} bg={s.hand.brake ? 'choice-wash' : 'sheet'} onClick={() => act('hand', { brake: !s.hand.brake })}>
              Brake lever
            </Act>
            <Act onClick={() => act('hand', { throttle: 0, brake: true })}>Let go and brake</Act>
            <Act aria-pressed={s.recording} bg={s.recording ? 'choice-wash' : 'sheet'} onClick={() => act('record', { on: !s.recording }, (a) => a.columns && a.data && save(a.columns, a.data))}>
              {s.recording ? `End and save ${s.rows} rows` : 'Record'}
            </Act>
            <Act asChild>
              <a href="/">Program it: a build, Tune, Controller</a>
            </Act>
          </Flex>
          <Box mt="5">
            <Text textStyle="title" fontSize="head" mb="2">
              {s.hidden ? 'What is it? A repair is a guess' : 'Break it, mend it'}
            </Text>
            <Flex gap="2" wrap="wrap">
              {faults.map((f) => {
                const on = s.faults.includes(f.key)
                return (
                  <Act
                    key={f.key}
                    aria-pressed={on}
                    bg={on ? 'choke-wash' : 'sheet'}
                    title={f.shows}
                    onClick={() => (on || s.hidden ? act('repair', { name: f.key }, (a) => a.right !== undefined && setScore(a)) : act('fault', { name: f.key, on: true }))}
                  >
                    {s.hidden ? f.repair : f.label}
                  </Act>
                )
              })}
              <Act onClick={() => act('repair', { name: 'all' }, () => setScore(null))}>Everything mended</Act>
            </Flex>
          </Box>
        </Box>
        <Box flex="1 1 {sizes.panel}" minW="0">
          <Practice hidden={s.hidden} readings={s.readings} guesses={s.guesses} score={score} start={() => {
            setScore(null)
            setReadings([])
            act('practice')
          }} />
          <Text textStyle="title" fontSize="head" mt="4" mb="2">
            Measure
          </Text>
          <Flex gap="2" wrap="wrap">
            {(things.data?.points ?? []).map((p) => (
              <Act key={p.key} onClick={() => act('measure', { point: p.key }, (a) => a.reading && setReadings([a.reading, ...readings].slice(0, 12)))}>
                {p.label}
              </Act>
            ))}
          </Flex>
          {readings.length > 0 && (
            <Rows label="Readings" heads={['where', 'reads']} rows={readings.map((r) => [r.label, r.quantity === 'ratio' ? (r.value > 0.5 ? 'yes' : 'no') : show(r.value, r.quantity, prefs, 3).text])} />
          )}
        </Box>
      </Flex>
    </Box>
  )
}

/** What was recorded, as a CSV that Prove reads. */
function save(columns: string[], data: number[][]) {
  const text = [columns.join(','), ...data.map((r) => r.join(','))].join('\n')
  const link = document.createElement('a')
  link.href = URL.createObjectURL(new Blob([text], { type: 'text/csv' }))
  link.download = 'bench-ride.csv'
  link.click()
  URL.revokeObjectURL(link.href)
}

function Big({ label, text }: { label: string; text: string }) {
  return (
    <Box minW="figure">
      <Text color="ink-soft" fontSize="small">
        {label}
      </Text>
      <Text textStyle="digits" fontSize="large" lineHeight="1.1">
        {text}
      </Text>
    </Box>
  )
}

function Hold(props: { label: string; value: number; min?: number; max: number; step: number; text: string; set: (v: number) => void }) {
  const [held, setHeld] = useState<number | null>(null)
  return (
    <Box mb="3">
      <Slide
        big
        label={props.label}
        text={props.text}
        lo={props.min ?? 0}
        hi={props.max}
        step={props.step}
        value={held ?? props.value}
        set={(v) => {
          setHeld(v)
          props.set(v)
        }}
        end={() => setHeld(null)}
      />
    </Box>
  )
}

function Practice(props: { hidden: boolean; readings: number; guesses: number; score: BenchAnswer | null; start: () => void }) {
  const right = props.score?.score
  return (
    <Box bg="sheet" borderWidth="hair" borderColor="rule" p="4">
      <Text textStyle="title" fontSize="head">
        Practice
      </Text>
      <Text mb="2">
        {props.hidden
          ? `Something is wrong. Ride it, read the link, measure; then mend what you think it is. ${props.readings} readings, ${props.guesses} repairs so far.`
          : 'One fault is hidden. Fewer readings and no wrong repair give more points.'}
      </Text>
      <Act tone="choice" onClick={props.start}>
        {props.hidden ? 'Hide another' : 'Hide a fault'}
      </Act>
      {props.score && (
        <Text role="status" fontWeight="600" mt="2">
          {right ? `Found: ${right.fault.replace('-', ' ')}. ${right.points} points with ${right.readings} readings and ${right.wrong} wrong repairs.` : 'That was not it.'}
        </Text>
      )}
    </Box>
  )
}
