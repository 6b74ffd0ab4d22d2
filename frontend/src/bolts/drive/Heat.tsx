import { Box, Text } from '@chakra-ui/react'
import { show } from '../../lib/units'
import { paint } from '../../theme/paint'
import { Act } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { Plot } from '../../ui/Plot'
import { Rows } from '../../ui/Rows'
import type { D } from './Drive'

/** How warm it gets in each kind of riding, and what other cooling would buy. */
export function HeatTable({ d }: { d: D }) {
  const { prefs, open } = useWorkshop()
  const h = d.heat
  if (!h)
    return (
      <Text>
        The motor’s heat paths are not known.{' '}
        <Act onClick={() => open({ kind: 'part', path: 'drive.motor' })}>Motor</Act>
      </Text>
    )
  const c = (x: number | null | undefined) => (x == null ? 'runs away' : show(x, 'c', prefs).text)
  const s = (x: number | null | undefined) => (x == null ? 'for good' : show(x, 's', prefs).text)
  const box = (key: string) => {
    const r = h.boxes.find((b) => b.key === key)
    if (!r) return '–'
    return r.limit_s == null ? c(r.ends_c) : `${c(r.ends_c)}, its limit after ${s(r.limit_s)}`
  }
  return (
    <Box>
      <Rows
        label="Heat of motor and controller"
        heads={['riding', 'winding', 'case', `until ${show(h.limit_c, 'c', prefs).text}`, 'phase amps', 'controller']}
        rows={h.rows.map((r) => [
          r.what,
          r.limit_s === 0 ? '–' : c(r.winding_c),
          r.case_c == null ? '–' : c(r.case_c),
          r.limit_s == null ? 'stays below' : r.limit_s === 0 ? '–' : show(r.limit_s, 's', prefs).text,
          show(r.phase_a, 'a', prefs).text,
          box(r.key),
        ])}
      />
      <Text mt="2" mb="3" color="ink-soft">
        {h.cool_s == null ? 'It does not cool by itself.' : `From the limit down to a warm motor, standing: ${show(h.cool_s, 's', prefs).text}.`}{' '}
        {h.controller_known ? `The controller holds full phase amps ${s(h.controller_s)}.` : 'How long the controller holds full amps is not known: give its heat path and capacity.'}
      </Text>
      <Rows
        label="Cooling"
        heads={['cooling', 'phase amps for good', 'full amps, cold', 'full amps, warm', 'heat paths', 'where that comes from']}
        left={[0, 5]}
        strong={h.cooling.findIndex((k) => k.current)}
        rows={h.cooling.map((k) => [
          k.label,
          show(k.cont_a, 'a', prefs).text,
          s(k.cold_s),
          s(k.warm_s),
          `${show(k.winding_case_k_w, 'k_w', prefs).number} + ${show(k.case_air_k_w, 'k_w', prefs).text}`,
          <Text key="o" fontSize="small" color="ink-soft" minW="field" whiteSpace="normal">
            {k.origin}
          </Text>,
        ])}
      />
    </Box>
  )
}

/** Braking force over road speed, and what holds it. */
export function BrakingView({ d }: { d: D }) {
  const { prefs, open } = useWorkshop()
  const b = d.braking
  if (!b)
    return (
      <Text>
        What may flow back is not known: give the charge current of the BMS or of the cells.{' '}
        <Act onClick={() => open({ kind: 'part', path: 'guard.bms' })}>BMS</Act> <Act onClick={() => open({ kind: 'part', path: 'pack.cell' })}>Cells</Act>
      </Text>
    )
  const most = Math.max(...b.force_n)
  const held = [...new Set(b.held_by)]
  return (
    <Box>
      <Text>
        {most > 0
          ? `At the set share the motor brakes with up to ${show(most, 'n', prefs).text} and sends up to ${show(Math.max(...b.back_a), 'a', prefs).text} back; held by ${held.join(', ')}.`
          : b.held_by.includes('full pack')
            ? 'Nothing flows into a full pack: move the charge slider down to see what a used one takes.'
            : 'Regeneration is off in Tune.'}
      </Text>
      {most > 0 && (
        <Box h="wide">
          <Plot prefs={prefs} label="Braking force of the motor over road speed" x={{ quantity: 'm_s', label: 'road speed' }} y={{ quantity: 'n', label: 'braking at the tyre' }} lines={[{ label: 'motor braking', x: b.speed_m_s, y: b.force_n, colour: paint('ink'), width: 2.5 }]} minH="field" />
        </Box>
      )}
    </Box>
  )
}
