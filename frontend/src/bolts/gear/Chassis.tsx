import { Box, Flex, Text } from '@chakra-ui/react'
import type { Drawings } from '../../api/client'
import { show, signOf } from '../../lib/units'
import { chokeWord, paint } from '../../theme/paint'
import { Act } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { Rows } from '../../ui/Rows'
import { T } from '../../ui/svgtext'
import { useSize } from '../../ui/useSize'

type G = NonNullable<Drawings['gear']>
type C = G['chassis']

const THERE: Record<string, string> = { true: 'fitted', false: 'not there', null: 'not looked at' }

/** Every pair in figures, and taken from here. */
export function PairTable({ d, take }: { d: G; take: (front: number, rear: number) => void }) {
  const { prefs } = useWorkshop()
  const now = d.rungs.find((r) => r.current)
  const pct = (a: number, b?: number) => (b ? `${signOf(a - b)}${Math.abs((a / b - 1) * 100).toFixed(1)} %` : '–')
  return (
    <Rows
      label="Sprocket pairs"
      heads={['pair', '', 'ratio', 'top speed, as it runs', 'at the same rpm', 'thrust from rest', 'off the line', `to ${show(d.to_speed_m_s, 'm_s', prefs).text}`, 'at the ride’s speed', 'motor', 'chain', 'axle goes back', 'same link']}
      strong={d.rungs.findIndex((r) => r.current)}
      rows={d.rungs.map((r) => [
        r.front ? `${r.front}/${r.rear}` : r.ratio.toFixed(2),
        r.why ? (
          <Text key="w" color="caution" fontSize="small" minW="pick">
            {r.why}
          </Text>
        ) : r.current || !r.front ? null : (
          <Act key="t" px="2" aria-label={`Take ${r.front}/${r.rear}`} onClick={() => take(r.front, r.rear)}>
            take
          </Act>
        ),
        r.ratio.toFixed(2),
        `${show(r.top_speed_m_s, 'm_s', prefs).text}, ${chokeWord(r.top_choke)}`,
        show(r.same_rpm_m_s, 'm_s', prefs).text,
        `${show(r.launch_n, 'n', prefs).text}${r.current ? '' : `, ${pct(r.launch_n, now?.launch_n)}`}`,
        `${show(r.accel_m_s2, 'm_s2', prefs).text}, ${chokeWord(r.launch_choke)}`,
        show(r.to_time_s, 's', prefs).text,
        show(r.wh_m == null ? null : r.wh_m * 1000, 'wh_km', prefs).text,
        show(r.motor_rpm, 'rpm', prefs).text,
        show(r.chain_m_s, 'm_s', prefs).text,
        r.move_m == null ? '–' : `${signOf(r.move_m)}${show(Math.abs(r.move_m), 'm', prefs).text}`,
        r.meets ? `every ${r.meets} turns` : '–',
      ])}
    />
  )
}

/** A hub has no sprockets: the wheel is its ratio. */
export function WheelTable({ d }: { d: G }) {
  const { prefs } = useWorkshop()
  return (
    <Rows
      label="Wheel sizes"
      heads={['rolling radius', 'top speed', 'held by', 'thrust from rest', `to ${show(d.to_speed_m_s, 'm_s', prefs).text}`]}
      strong={d.wheels.findIndex((x) => x.current)}
      rows={d.wheels.map((x) => [show(x.radius_m, 'm', prefs).text, show(x.top_speed_m_s, 'm_s', prefs).text, chokeWord(x.top_choke), show(x.launch_n, 'n', prefs).text, show(x.to_time_s, 's', prefs).text])}
    />
  )
}

/** Brakes, tyres and springs against this mass and speed. */
export function BrakeTable({ c }: { c: C }) {
  const { prefs } = useWorkshop()
  const b = c.braking
  if (!b) return null
  return (
    <Box>
      <Text mb="2">
        A stop from top speed is <b>{show(b.stop_j, 'j', prefs).text}</b>; hardest braking {show(b.hardest_m_s2, 'm_s2', prefs).text}, {b.lifts ? 'where the rear wheel lifts' : 'where the tyres let go'}.{' '}
        {c.top_mode && c.top_mode.why.length > 0 ? (
          <Text as="span" color="caution" fontWeight="600">
            Top mode locked: fit for {show(c.top_mode.speed_m_s, 'm_s', prefs).text} – {c.top_mode.why.join('; ')}.
          </Text>
        ) : (
          <b>Brakes and tyres are fit for the top speed.</b>
        )}
      </Text>
      <Rows
        label="Brakes"
        heads={['brake', '', 'of the braking', 'after one stop', 'after five', 'down the hill']}
        rows={b.ends.map((e) => [e.drum ? `${e.end}, drum` : e.end, THERE[String(e.there)], `${Math.round(e.share * 100)} %`, show(e.one_c, 'c', prefs).text, show(e.many_c, 'c', prefs).text, show(e.hill_c, 'c', prefs).text])}
      />
      <Rows label="Tyres" heads={['tyre', 'on the axle', 'its index carries', 'taller at top speed']} rows={c.axles.map((a) => [a.end, show(a.kg, 'kg', prefs).text, a.carries_kg == null ? 'not read' : show(a.carries_kg, 'kg', prefs).text, show(a.grown_m, 'm', prefs, 2).text])} />
    </Box>
  )
}

export function SpringTable({ c }: { c: C }) {
  const { prefs } = useWorkshop()
  return (
    <Box>
      <Rows
        label="Springs"
        heads={['end', 'on its spring', 'of the donor’s', 'sag, rider on', 'of the travel', 'rate for 30 %', 'rebound']}
        rows={c.springs.map((s) => [
          s.end,
          show(s.load_n, 'n', prefs).text,
          s.more == null ? '–' : `${s.more.toFixed(2)} x`,
          show(s.sag_m, 'm', prefs).text,
          s.share == null ? '–' : `${Math.round(s.share * 100)} %`,
          show(s.rate_n_m, 'n_m', prefs).text,
          s.damping == null ? '–' : `${s.damping.toFixed(2)} x`,
        ])}
      />
      <Text mt="2" color="ink-soft">
        Front lifts at {show(c.lifts_m_s2, 'm_s2', prefs).text}. What a turn has to lift, mass times height: {show(c.roll_kg_m, 'kg_m', prefs).text}
        {c.was_roll_kg_m == null ? '' : `, the donor’s ${show(c.was_roll_kg_m, 'kg_m', prefs).text}`}.{c.seat ? ` Seat ${show(c.seat.seat_m, 'm', prefs).text}, ${show(c.seat.ridden_m, 'm', prefs).text} with the rider on${c.seat.spare_m == null ? '' : c.seat.spare_m >= 0 ? ', both feet flat' : `, the leg ${show(-c.seat.spare_m, 'm', prefs).text} short`}.` : ''}
      </Text>
    </Box>
  )
}

export function ChainWords({ c }: { c: C }) {
  const { prefs } = useWorkshop()
  const k = c.chain
  return (
    <Box>
      {k ? (
        <Rows
          label={k.belt ? 'Belt' : 'Chain'}
          heads={['', '']}
          rows={[
            ['hardest pull', show(k.pull_n, 'n', prefs).text],
            ['it is sure to stand', k.stands_n == null ? "what its maker's tables say" : `${show(k.stands_n, 'n', prefs).text}, ${(k.stands_n / k.pull_n).toFixed(1)} times`],
            ...(k.belt ? [['teeth of the front pulley in the belt', k.mesh == null ? 'measure from shaft to axle' : k.mesh.toFixed(1)]] : []),
            [`${k.belt ? 'teeth' : 'links'}, as the axle stands`, k.links_exact == null ? 'measure from shaft to axle' : k.links_exact.toFixed(2)],
            [`${k.belt ? 'belt' : 'chain'} to fit`, k.links == null ? '–' : `${k.links} ${k.belt ? 'teeth' : 'links'}, axle ${signOf(k.move_m ?? 0)}${show(Math.abs(k.move_m ?? 0), 'm', prefs).text}, both sides alike`],
            ...(k.belt ? [] : [['slack, rider off, up and down', k.slack_m == null ? '–' : `${show(k.slack_m[0], 'm', prefs).text} to ${show(k.slack_m[1], 'm', prefs).text}`]]),
          ]}
        />
      ) : (
        <Text color="ink-soft">No chain, or its size is not given.</Text>
      )}
      {c.hub && (
        <Text mt="2">
          The hub pulls <b>{show(c.hub.torque_nm, 'nm', prefs).text}</b> against its dropouts; they hold {c.hub.alone_nm == null ? 'what nobody has measured' : `${show(c.hub.alone_nm, 'nm', prefs).text}, with the torque arms ${show(c.hub.holds_nm, 'nm', prefs).text}`}.
        </Text>
      )}
    </Box>
  )
}

/** Side view: how it stood, dashed, and how it stands. */
export function StanceView({ c }: { c: C }) {
  const { prefs, open } = useWorkshop()
  const { ref, w, h } = useSize<HTMLDivElement>()
  const s = c.standing
  if (!s)
    return (
      <Flex direction="column" gap="2" align="start">
        <Text>Measure the rake, and the front wheel or its tyre’s size, to see what fork and shock do.</Text>
        <Act tone="choice" onClick={() => open({ kind: 'part', path: 'gear.steering' })}>
          Steering and stance
        </Act>
      </Flex>
    )
  const long = Math.max(s.before.wheelbase_m, s.after.wheelbase_m)
  const k = Math.min((w - 40) / (long + s.front_m + s.rear_m), (h - 30) / 1.15)
  const X = (x: number) => 20 + (x + s.rear_m) * k
  const Y = (y: number) => h - 18 - y * k
  const line = (st: typeof s.before, dash: string, colour: string) => {
    const rake = (st.rake_deg * Math.PI) / 180
    const foot = st.wheelbase_m + st.trail_m
    const top = 0.95
    const seat = 0.86 + st.seat_up_m
    return (
      <g fill="none" stroke={colour} strokeWidth="2.2" strokeDasharray={dash}>
        <circle cx={X(0)} cy={Y(s.rear_m)} r={s.rear_m * k} />
        <circle cx={X(st.wheelbase_m)} cy={Y(s.front_m)} r={s.front_m * k} />
        <path d={`M${X(foot)} ${Y(0)}L${X(foot - Math.tan(rake) * top)} ${Y(top)}`} />
        <path d={`M${X(0)} ${Y(s.rear_m)}L${X(0.38 * st.wheelbase_m)} ${Y(s.rear_m + 0.06 + st.clearance_up_m)}`} />
        <path d={`M${X(0.12)} ${Y(seat + 0.02)}L${X(0.62 * st.wheelbase_m)} ${Y(seat - 0.01)}`} strokeWidth="5" />
      </g>
    )
  }
  const same = Math.abs(s.after.pitch_deg) < 1e-6 && Math.abs(s.after.wheelbase_m - s.before.wheelbase_m) < 1e-6
  const rows: [string, number, number, string][] = [
    ['rake', s.before.rake_deg, s.after.rake_deg, 'deg'],
    ['trail', s.before.trail_m, s.after.trail_m, 'm'],
    ['wheelbase', s.before.wheelbase_m, s.after.wheelbase_m, 'm'],
    ['seat rises', 0, s.after.seat_up_m, 'm'],
    ['clearance rises', 0, s.after.clearance_up_m, 'm'],
  ]
  return (
    <Flex gap="4" direction={{ base: 'column', md: 'row' }}>
      <Box ref={ref} flex="1" minH="wide" position="relative">
        <svg width={w} height={h} role="img" aria-label={`Stance: rake ${show(s.after.rake_deg, 'deg', prefs).text}, trail ${show(s.after.trail_m, 'm', prefs).text}`} style={{ position: 'absolute', inset: 0 }}>
          <path d={`M0 ${Y(0)}H${w}`} stroke={paint('ink')} strokeWidth="1.5" />
          {!same && line(s.before, '5 4', paint('ink.soft'))}
          {line(s.after, '', paint('ink'))}
          <path d={`M${X(s.after.wheelbase_m)} ${Y(0) + 6}H${X(s.after.wheelbase_m + s.after.trail_m)}`} stroke={paint('choice')} strokeWidth="4" />
          <T x={X(s.after.wheelbase_m + s.after.trail_m / 2)} y={Y(0) - 6} textAnchor="middle" fontSize={14} fontWeight="600" fill={paint('choice')} stroke={paint('sheet')} strokeWidth="4" paintOrder="stroke">
            trail
          </T>
        </svg>
      </Box>
      <Box flex="0 0 {sizes.column}">
        <Rows
          label="Stance"
          heads={['nobody on', 'donor', 'now']}
          rows={rows.map(([name, a, b, q]) => [name, name.endsWith('rises') ? '–' : show(a, q, prefs).text, `${name.endsWith('rises') ? signOf(b) : ''}${show(name.endsWith('rises') ? Math.abs(b) : b, q, prefs).text}`])}
        />
      </Box>
    </Flex>
  )
}
