import { Box, Flex, Text } from '@chakra-ui/react'
import type { Drawings } from '../../api/client'
import { percentChange, show } from '../../lib/units'
import { paint } from '../../theme/paint'
import { useWorkshop } from '../../ui/bench'
import { Plot } from '../../ui/Plot'
import { Rows } from '../../ui/Rows'
import { Tabs } from '../../ui/Tabs'
import { Missing, Workbench } from '../../ui/Workbench'
import { Propose } from './Propose'

type G = NonNullable<Drawings['goal']>
const WORDS: Record<string, string> = { yes: 'met', close: 'close', no: 'short', unknown: 'open' }
const VERDICT: Record<string, [string, string]> = {
  met: ['The build meets the goal', 'ink'],
  close: ['Close: within a twentieth', 'caution'],
  'not met': ['The build falls short of the goal', 'stop'],
  'not with this bay': ['Not with this bay', 'stop'],
  open: ['Open: not all of it computes yet', 'ink-soft'],
}

export function Goal() {
  const { bench, prefs } = useWorkshop()
  const d = bench.assessment.drawings.goal
  const dot = (x: number | null, y: number | null, label: string) => (x !== null && y !== null ? [{ x, y, label }] : [])
  const dots = d
    ? [
        ...dot(d.target_m_s, d.target_w, 'wanted top speed'),
        ...dot(d.hill_m_s, d.hill_need_w, 'wanted on the hill'),
        ...dot(d.to_speed_m_s, d.time_need_w, 'for the standing start'),
      ]
    : []
  return (
    <Workbench bare={!d} parts={['goal', 'road', 'pack', 'donor']} under={<Under d={d} />}>
      {d ? (
        <>
          <Text px="3" pt="2" textStyle="title" fontSize="sub" color={VERDICT[d.verdict]![1]} role="status" aria-label="Verdict">
            {VERDICT[d.verdict]![0]}
          </Text>
          <Takes d={d} />
          <Wishes d={d} />
          <Box flex="1" minH="wide" display="flex">
            <Plot
              prefs={prefs}
              label="Power over road speed: what the road takes and what the wheel has"
              x={{ quantity: 'm_s', label: 'road speed' }}
              y={{ quantity: 'w', label: 'power at the wheel' }}
              lines={[
                { label: 'road takes', x: d.speed_m_s, y: d.flat_w, colour: paint('ink'), labelAt: 0.9 },
                ...(d.hill_w ? [{ label: 'hill takes', x: d.speed_m_s, y: d.hill_w, colour: paint('ink.soft'), dash: '7 4', labelAt: 0.82 }] : []),
                ...(d.have_w ? [{ label: 'this build has', x: d.speed_m_s, y: d.have_w.map((w, i) => (w > 0 || i === 0 ? w : NaN)), colour: paint('choice'), width: 3, labelAt: 0.7 }] : []),
              ]}
              dots={dots}
            />
          </Box>
        </>
      ) : (
        <Missing />
      )}
    </Workbench>
  )
}

/** The answer in the words one shops with, for the volts of the pack or the cheapest there is. */
function Takes({ d }: { d: G }) {
  const { prefs } = useWorkshop()
  const a = d.answer
  const tiles: [string, string][] = [
    ['volts', show(a.nominal_v, 'v', prefs).text],
    ['energy in the pack', show(a.need_wh, 'wh', prefs).text],
    ['amps out of the pack', show(a.line_a, 'a', prefs).text],
    ['peak amps in a phase', show(a.phase_a, 'a', prefs).text],
    [a.priced.join(' and ') || 'cells and controller', a.money === null ? 'no prices' : show(a.money, 'money', prefs, 4).text],
  ]
  return (
    <Flex px="3" gap="1" wrap="wrap" role="group" aria-label="What the goal takes">
      {tiles.map(([label, text]) => (
        <Box key={label} flex="1 1 {sizes.figure}" px="2" py="1" borderLeftWidth="bar" borderColor="choice">
          <Text textStyle="label">{label}</Text>
          <Text textStyle="digits" fontSize="sub">
            {text}
          </Text>
        </Box>
      ))}
    </Flex>
  )
}

/** Each wish in one line: met or short, what it comes to. */
function Wishes({ d }: { d: G }) {
  const { prefs } = useWorkshop()
  return (
    <Flex px="3" py="1" columnGap="4" wrap="wrap" role="list" aria-label="Wishes">
      {d.checks.map((c) => (
        <Text key={c.label} role="listitem" fontSize="body" color={c.met === 'no' ? 'stop' : c.met === 'close' ? 'caution' : 'ink'}>
          {c.label} {show(c.have, c.quantity, prefs, 3, c.want).text} of {show(c.want, c.quantity, prefs).text}: <b>{WORDS[c.met]}</b>
        </Text>
      ))}
    </Flex>
  )
}

function Under({ d }: { d: G | null }) {
  const whole = { key: 'propose', label: 'Whole builds', body: <Propose /> }
  return (
    <Tabs
      key={d ? 'known' : 'open'}
      label="Behind the goal"
      tabs={[
        ...(d
          ? [
              { key: 'checks', label: 'Wanted against computed', body: <Checks d={d} /> },
              { key: 'volts', label: '60, 72, 84 and 96 V', body: <Volts d={d} /> },
            ]
          : []),
        whole,
      ]}
    />
  )
}

/** Each wish, and what would have to give where it falls short. */
function Checks({ d }: { d: G }) {
  const { prefs } = useWorkshop()
  const gap = (c: G['checks'][number]) => percentChange(c.have === null || !c.want ? null : c.have / c.want - 1)
  return (
    <Flex gap="6" wrap="wrap">
      <Box flex="1 1 {sizes.column}" minW="0">
        <Rows
          label="Wanted against computed"
          heads={['', 'wanted', 'computed', 'against the goal', '']}
          rows={d.checks.map((c) => [
            c.label,
            show(c.want, c.quantity, prefs).text,
            show(c.have, c.quantity, prefs).text,
            gap(c),
            <Text key="m" as="span" fontWeight="700" color={c.met === 'no' ? 'stop' : c.met === 'close' ? 'caution' : 'ink'}>
              {WORDS[c.met]}
            </Text>,
          ])}
        />
      </Box>
      {d.gives.length > 0 && (
        <Box flex="1 1 {sizes.column}" minW="0">
          <Rows
            label="What would have to give"
            heads={['what would have to give', 'for', 'from', 'to', '']}
            left={[0, 1]}
            rows={d.gives.map((g) => [
              g.what,
              g.wish.toLowerCase(),
              show(g.was, g.quantity, prefs).text,
              show(g.to, g.quantity, prefs).text,
              g.possible ? '' : <Text key="n" as="span" color="stop" fontWeight="600">{g.cells ? 'no room in the bay' : 'the ground does not take it'}</Text>,
            ])}
          />
        </Box>
      )}
    </Flex>
  )
}

/** The same power and energy at each voltage, and what is to be had for it. */
function Volts({ d }: { d: G }) {
  const { prefs } = useWorkshop()
  return (
    <>
      <Rows
        label="Voltage classes"
        heads={['nominal', 'full', 'cells', 'line amps', 'pack', 'charge', 'cells weigh', 'cells cost', 'per kWh', 'cable', 'controllers that stand it', 'the lightest']}
        left={[0, 11]}
        rows={d.volts.map((v) => [
          show(v.nominal_v, 'v', prefs).text,
          show(v.full_v, 'v', prefs).text,
          v.series && v.parallel ? `${v.series}s${v.parallel}p` : (v.series ?? '–'),
          show(v.line_a, 'a', prefs).text,
          show(v.need_wh, 'wh', prefs).text,
          show(v.need_ah, 'ah', prefs).text,
          show(v.pack_kg, 'kg', prefs).text,
          show(v.pack_money, 'money', prefs, 4).text,
          show(v.money_per_kwh, 'money', prefs).text,
          v.cable_mm2 ? `${v.cable_mm2} mm²` : 'over 95 mm²',
          String(v.controllers),
          v.controller ? `${v.controller}, ${show(v.controller_kg, 'kg', prefs).text}` : 'none on the shelf',
        ])}
      />
      <Text fontSize="note" color="ink-soft" mt="1">
        For the largest power that any wish asks, 84 % from pack to tyre, volts under load a tenth down, and the cell of this build; common practice where no source is named.
      </Text>
    </>
  )
}
