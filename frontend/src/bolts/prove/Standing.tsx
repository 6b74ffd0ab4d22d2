import { useRegisters } from '../../api/hooks'
import { Noted } from '../../ui/atoms'
import { useWorkshop, wordsFor } from '../../ui/bench'

/** Stops of the other bolts, and what nobody looked at, where somebody is about to connect a pack or to ride. */
export function Standing() {
  const { bench, fields } = useWorkshop()
  const lists = useRegisters().data
  const stops = bench.assessment.bolts.filter((b) => b.bolt !== 'prove').flatMap((b) => b.findings.filter((f) => f.severity === 'stop'))
  const open = bench.assessment.bolts.find((b) => b.bolt === 'guard')?.missing ?? []
  // While the lists are on their way every stop stands all the same.
  const rows = (lists?.holds ?? [{ words: 'Before this is cleared nothing is powered', bolts: null }]).map((h) => ({ words: h.words, found: stops.filter((f) => h.bolts?.includes(f.bolt) ?? true) }))
  return (
    <>
      {rows.map(
        ({ words, found }) =>
          found.length > 0 && (
            <Noted key={words} kind="stop" strong>
              {words}: {found.map((f) => `${f.title} (${f.bolt})`).join('; ')}.
            </Noted>
          ),
      )}
      {open.length > 0 && (
        <Noted kind="caution" strong>
          {lists?.unlooked ?? 'To be known first'}: {open.map((path) => wordsFor(fields, path)).join('; ')}.
        </Noted>
      )}
    </>
  )
}
