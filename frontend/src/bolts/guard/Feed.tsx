import { Box, Flex, Text } from '@chakra-ui/react'
import { at } from '../../lib/path'
import { show } from '../../lib/units'
import { Act } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { useLines } from '../../ui/useLines'
import { Rows } from '../../ui/Rows'
import type { G } from './Guard'

/** The charge in two phases, and the 12 V side with its loads. */
export function Feed({ d }: { d: G }) {
  const { prefs, open, bench } = useWorkshop()
  const time = (s: number | undefined) => show(s ?? null, 's', prefs).text
  const watts = (w: number | null) => show(w, 'w', prefs).text
  const loads = (at(bench.doc, 'guard.dcdc.loads') as Record<string, { amount: number | null } | string | null>[]) ?? []
  const num = (v: unknown) => (v && typeof v === 'object' ? (v as { amount: number | null }).amount : null)
  const lines = useLines('guard.dcdc.loads', 'Load', 'Added a load')
  const c = d.charge
  return (
    <Flex gap="6" wrap="wrap">
      <Box flex="1 1 {sizes.wide}">
        <Rows
          label="Charging"
          heads={['charging, from empty', '']}
          rows={[
            ['at constant current', time(c?.cc_s)],
            ['at constant voltage', time(c?.cv_s)],
            ['together', time(c ? c.cc_s + c.cv_s : undefined)],
            ['ends at', c ? `${(c.end_soc * 100).toFixed(1)} %` : '–'],
            ['into the pack', show(c?.into_wh ?? null, 'wh', prefs).text],
          ]}
        />
        <Act mt="2" onClick={() => open({ kind: 'part', path: 'guard.charger' })}>
          Charger
        </Act>
      </Box>
      <Box flex="2 1 {sizes.panel}">
        <Rows
          label="Loads"
          heads={['12 V load', 'power', 'share of the time', 'surge', '']}
          rows={loads.map((l, i) => [
            String(l.name ?? ''),
            watts(num(l.power_w)),
            `${Math.round((num(l.duty) ?? 1) * 100)} %`,
            `${(num(l.surge) ?? 1).toFixed(1)} ×`,
            <Act key="o" px="2" aria-label={`Open ${String(l.name)}`} onClick={() => open({ kind: 'part', path: `guard.dcdc.loads.${i}` })}>
              open
            </Act>,
          ])}
        />
        <Text mt="1">
          On the mean {watts(d.aux.mean_w)}, all on {watts(d.aux.all_on_w)}, at the worst switch-on {watts(d.aux.worst_w)} of {watts(d.aux.rated_w)}.
          {d.aux.live_when_off ? ' The converter stays live when the contactor is open.' : ''}
        </Text>
        <Flex gap="2" mt="2">
          <Act onClick={lines.begin}>Add a load</Act>
          <Act onClick={() => open({ kind: 'part', path: 'guard.dcdc' })}>Converter</Act>
        </Flex>
      </Box>
    </Flex>
  )
}
