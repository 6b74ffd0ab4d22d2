import { Box, Flex, Text } from '@chakra-ui/react'
import { show } from '../../lib/units'
import { chokePaint, chokeWord, hatchFill, paint } from '../../theme/paint'
import { useWorkshop } from '../../ui/bench'
import { interpolate } from '../../ui/Plot'
import type { D } from './Drive'

const PLACES: [keyof D['losses'] & `${string}_w`, string, string][] = [
  ['wheel_w', 'to the ground', ''],
  ['cells_w', 'cells', 'cells'],
  ['path_w', 'path', 'path'],
  ['controller_w', 'controller, leads', 'line'],
  ['copper_w', 'copper', 'heat'],
  ['drag_w', 'iron, drag', 'volts'],
  ['chain_w', 'chain', '-'],
]

/** What happens at one speed: where the power goes, and why line amps are not phase amps. Without a cursor it
 * is read where the ribbon first changes. */
export function Reading({ d, at }: { d: D; at: number | null }) {
  const { prefs } = useWorkshop()
  const speed = at ?? d.ribbon[0]?.end ?? d.top_speed_m_s / 2
  const v = (ys: number[]) => interpolate(d.speed_m_s, ys, speed) ?? 0
  const line = v(d.line_a)
  const phase = v(d.phase_a)
  const bus = v(d.bus_v)
  const duty = v(d.losses.duty)
  const whole = PLACES.reduce((sum, [key]) => sum + Math.max(0, v(d.losses[key])), 0)
  const choke = d.ribbon.find((r) => speed >= r.start && speed <= r.end)
  const w = (x: number) => show(x, 'w', prefs).text
  return (
    <Box px="3" pb="2" borderTopWidth="hair" borderColor="rule" aria-live="polite">
      <Text>
        At <b>{show(speed, 'm_s', prefs).text}</b>
        {choke && (
          <>
            , held by <b style={{ color: chokePaint(choke.choke) }}>{chokeWord(choke.choke)}</b>
          </>
        )}
        : <b>{show(line, 'a', prefs).text}</b> at {show(bus, 'v', prefs).text} leave the pack, <b>{show(phase, 'a', prefs).text}</b> flow in the phases.{' '}
        <Text as="span" color="ink-soft">
          {duty > 0.985 ? 'The motor takes all the volts there are.' : `The motor takes ${Math.round(duty * 100)} % of the volts; the controller trades the rest for amps.`} {Math.round(v(d.losses.efficiency) * 100)} % of what leaves the cells arrives.
        </Text>
      </Text>
      {whole > 0 && (
        <Flex h="glyph" mt="1" borderWidth="hair" borderColor="rule-strong" role="img" aria-label={PLACES.map(([key, name]) => `${name} ${w(v(d.losses[key]))}`).join(', ')}>
          {PLACES.map(([key, name, choke]) => {
            const share = Math.max(0, v(d.losses[key])) / whole
            return (
              <svg key={key} height="20" style={{ width: `${share * 100}%` }} aria-hidden="true">
                <title>{`${name} ${w(v(d.losses[key]))}`}</title>
                <rect width="100%" height="20" fill={choke === '-' ? paint('rule') : choke ? hatchFill(choke) : paint('well')} stroke={choke.length > 1 ? chokePaint(choke) : paint('rule.strong')} />
              </svg>
            )
          })}
        </Flex>
      )}
      <Flex columnGap="3" wrap="wrap" color="ink-soft">
        {PLACES.map(([key, name, choke]) => (
          <Text key={key} fontSize="note">
            <Box as="span" display="inline-block" w="dot" h="dot" mr="1" borderWidth="hair" style={{ borderColor: choke.length > 1 ? chokePaint(choke) : paint('rule.strong') }} />
            {name} {w(v(d.losses[key]))}
          </Text>
        ))}
      </Flex>
    </Box>
  )
}
