import { Box, Flex, Grid, Text } from '@chakra-ui/react'
import type { BandView, Headline } from '../api/client'
import { halfOf, show, showDelta, type UnitPrefs } from '../lib/units'
import { chokePaint, chokeWord, hatchFill, paint } from '../theme/paint'

interface Row {
  key: keyof Headline
  label: string
  quantity: string
  better: 'more' | 'less'
}

export const HEADLINE: Row[] = [
  { key: 'peak_wheel_w', label: 'peak at the wheel', quantity: 'w', better: 'more' },
  { key: 'top_speed_m_s', label: 'top speed', quantity: 'm_s', better: 'more' },
  { key: 'to_time_s', label: '', quantity: 's', better: 'less' },
  { key: 'range_m', label: '', quantity: 'm', better: 'more' },
  { key: 'mass_kg', label: 'bike', quantity: 'kg', better: 'less' },
]

export function headlineLabel(row: Row, h: Headline, prefs: UnitPrefs): string {
  if (row.key === 'to_time_s') return `0–${show(h.to_speed_m_s, 'm_s', prefs, 2).text}`
  if (row.key === 'range_m') return `range at ${show(h.cruise_m_s, 'm_s', prefs, 2).text}`
  return row.label
}

/** Where the run ends early: what opens, and when. */
export const opensWords = (h: Headline, prefs: UnitPrefs): string =>
  h.opens ? `${h.opens} opens after ${show(h.opens_s ?? null, 's', prefs, 2).text}` : ''

/** What a change does to the headline, in a few words. */
export function effectWords(now: Headline, then: Headline, prefs: UnitPrefs): string[] {
  const out: string[] = []
  for (const row of HEADLINE) {
    const a = now[row.key] as number | null
    const b = then[row.key] as number | null
    const x = show(a, row.quantity, prefs, 3, b)
    const y = show(b, row.quantity, prefs)
    if (x.text !== y.text) out.push(`${headlineLabel(row, then, prefs)} ${x.number} → ${y.text}`)
  }
  if (opensWords(now, prefs) !== opensWords(then, prefs)) out.push(opensWords(then, prefs) || `${now.opens} holds`)
  if (now.choke !== then.choke) out.push(`choke ${chokeWord(now.choke)} → ${chokeWord(then.choke)}`)
  return out
}

function Cell(props: { label: string; value: string; unit: string; small: string; changed: string; open: () => void }) {
  return (
    <Box as="button" onClick={props.open} textAlign="left" minH="touch" px="2" cursor="pointer" _hover={{ bg: 'well' }}>
      <Text textStyle="label" truncate>
        {props.label}
      </Text>
      <Flex align="baseline" gap="1">
        <Text textStyle="digits" fontSize={{ base: 'figure', lg: 'large' }}>
          {props.value}
        </Text>
        <Text fontSize="body">{props.unit}</Text>
      </Flex>
      <Text fontSize="note" minH={{ base: '0', md: 'glyph' }} display={{ base: props.changed ? 'block' : 'none', md: 'block' }} color={props.changed ? 'choice' : 'ink-soft'} fontWeight={props.changed ? '600' : '400'} truncate>
        {props.changed || props.small}
      </Text>
    </Box>
  )
}

/** The headline strip: readable from a metre away; shows its band, and during a what-if the change. */
export function Strip(props: {
  headline: Headline
  before: Headline | null
  band: BandView | undefined
  prefs: UnitPrefs
  open: () => void
  openChoke: () => void
}) {
  const { headline: h, before, prefs } = props
  return (
    <Grid
      templateColumns={{ base: 'repeat(3, 1fr)', md: 'repeat(5, minmax(0, 1fr)) minmax({sizes.figure}, 1.1fr)' }}
      gap="1"
      role="group"
      aria-label="Headline"
    >
      {HEADLINE.map((row) => {
        const value = h[row.key] as number | null
        const old = before ? (before[row.key] as number | null) : undefined
        const shown = show(value, row.quantity, prefs)
        const half = props.band?.half[row.key]
        const moved = before && value !== null && old !== null && old !== undefined && show(old, row.quantity, prefs).text !== shown.text
        return (
          <Cell
            key={row.key}
            label={headlineLabel(row, h, prefs)}
            value={shown.number}
            unit={shown.unit}
            small={half && value ? `± ${halfOf(half, value, row.quantity, prefs)}` : ''}
            changed={moved ? `was ${show(old, row.quantity, prefs, 3, value).number}, ${showDelta(value - old, value, row.quantity, prefs)}` : ''}
            open={props.open}
          />
        )
      })}
      <Box as="button" onClick={props.openChoke} textAlign="left" px="2" minH="touch" cursor="pointer" _hover={{ bg: 'well' }}>
        <Text textStyle="label">choke</Text>
        <Flex align="center" gap="2">
          <svg width="26" height="30" aria-hidden="true">
            <rect x="1" y="2" width="24" height="26" fill={hatchFill(h.choke)} stroke={h.choke ? chokePaint(h.choke) : paint('rule.strong')} strokeWidth="2" />
          </svg>
          <Text textStyle="digits" fontSize={{ base: 'figure', lg: 'large' }} color="choke">
            {chokeWord(h.choke)}
          </Text>
        </Flex>
        <Text fontSize="note" minH={{ base: '0', md: 'glyph' }} color={h.opens ? 'stop' : 'choice'} fontWeight="600">
          {opensWords(h, prefs) || (before && before.choke !== h.choke ? `was ${chokeWord(before.choke)}` : '')}
        </Text>
      </Box>
    </Grid>
  )
}
