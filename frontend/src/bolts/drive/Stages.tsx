import { show } from '../../lib/units'
import { Act } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { Rows } from '../../ui/Rows'
import type { D } from './Drive'

/** From cells to motor in watts: what holds the others back, and what is paid for and not used. */
export function StageTable({ d }: { d: D }) {
  const { prefs, open } = useWorkshop()
  const w = (x: number | null | undefined) => (x == null ? '–' : show(x, 'w', prefs).text)
  return (
    <Rows
      label="Power chain"
      heads={['stage', 'for good', 'for a burst', '', '']}
      left={[0, 3]}
      strong={d.stages.findIndex((s) => s.least)}
      rows={d.stages.map((s) => [
        s.label,
        w(s.cont_w),
        w(s.peak_w),
        [s.words, s.least ? 'the least: raising any other brings nothing for good' : s.over ? 'many times the least' : ''].filter(Boolean).join('; '),
        <Act key="o" px="2" aria-label={`Open ${s.label}`} onClick={() => open({ kind: 'part', path: s.path })}>
          open
        </Act>,
      ])}
    />
  )
}
