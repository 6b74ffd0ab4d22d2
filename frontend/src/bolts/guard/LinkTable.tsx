import { show, signOf } from '../../lib/units'
import { Act } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { Rows } from '../../ui/Rows'
import type { G } from './Guard'

/** Each link with its limits and its margin over the line amps. */
export function LinkTable({ d }: { d: G }) {
  const { prefs, open } = useWorkshop()
  const amps = (a: number | null | undefined) => show(a, 'a', prefs).text
  const known = d.links.filter((l) => l.cont_a !== null)
  const least = known.length ? Math.min(...known.map((l) => l.cont_a!)) : null
  return (
    <Rows
      label="Links and margins"
      heads={['link', 'continuous', 'peak', 'margin to the line amps', 'stands', 'drop', 'on the shelf', '']}
      strong={d.links.findIndex((l) => l.cont_a !== null && l.cont_a === least)}
      rows={d.links.map((l) => [
        l.label,
        amps(l.cont_a),
        amps(l.peak_a),
        l.margin_a === null || l.margin_a === undefined ? '–' : `${signOf(l.margin_a)}${show(Math.abs(l.margin_a), 'a', prefs).text}`,
        show(l.volts, 'v', prefs).text,
        show(l.drop_v, 'v', prefs).text,
        l.swaps?.length ? `${l.swaps.length} to swap for` : '–',
        <Act key="o" px="2" aria-label={`Open ${l.label}`} onClick={() => open({ kind: 'part', path: l.path })}>
          open
        </Act>,
      ])}
    />
  )
}
