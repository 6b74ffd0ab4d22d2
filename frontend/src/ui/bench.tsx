import { createContext, type ReactNode, startTransition, useContext, useDeferredValue, useMemo, useState } from 'react'
import { after, type Bench, type BoltReport, type Figure } from '../api/client'
import { type BenchCall, type Changes, problemText, useBenchCall, useFields } from '../api/hooks'
import type { FieldOut } from '../api/client'
import type { Bolt } from '../lib/nine'
import { GONE, type ValueDoc } from '../lib/path'
import { show, type UnitPrefs } from '../lib/units'
import { usePress } from './usePress'

export type Panel =
  | { kind: 'findings' }
  | { kind: 'part'; path: string }
  | { kind: 'figure'; key: string }
  | { kind: 'sure' }
  | { kind: 'choke' }
  | { kind: 'history' }

interface Workshop {
  bench: Bench
  bolt: Bolt
  report: BoltReport
  prefs: UnitPrefs
  panel: Panel
  open: (panel: Panel) => void
  send: (call: BenchCall, done?: () => void) => void
  change: (changes: Changes, reason?: string) => void
  busy: boolean
  problem: string
  clearProblem: () => void
  fields: Record<string, FieldOut[]>
  was: (key: string) => number | null | undefined
}

const FINDINGS: Panel = { kind: 'findings' }
const Ctx = createContext<Workshop | null>(null)

export function useWorkshop(): Workshop {
  const found = useContext(Ctx)
  if (!found) throw new Error('outside a workshop')
  return found
}

const figuresOf = (bench: Bench): Record<string, number | null> =>
  Object.fromEntries(
    bench.assessment.bolts.flatMap((b) => b.figures.map((f: Figure) => [`${b.bolt}.${f.key}`, f.value ?? null])),
  )

export function WorkshopProvider(props: { bench: Bench; bolt: Bolt; prefs: UnitPrefs; children: ReactNode }) {
  const { bench, bolt, prefs } = props
  const [opened, setOpened] = useState<{ bolt: Bolt; panel: Panel }>({ bolt, panel: { kind: 'findings' } })
  const [last, setLast] = useState<Record<string, number | null>>({})
  const { mutateAsync, isPending, error, reset } = useBenchCall(bench.id, bolt)
  const fields = useFields().data
  const panel = opened.bolt === bolt ? opened.panel : FINDINGS
  const value = useMemo<Workshop>(() => {
    const send: Workshop['send'] = (what, done) => {
      after(mutateAsync(what), done ?? (() => {}))
      startTransition(() => setLast(what.do === 'change' ? figuresOf(bench) : {})) // the call leaves first
    }
    return {
      bench,
      bolt,
      report: bench.assessment.bolts.find((b) => b.bolt === bolt)!,
      prefs,
      panel,
      open: (p) => setOpened({ bolt, panel: p }),
      send,
      change: (changes, reason) => send({ do: 'change', changes, reason }),
      busy: isPending,
      problem: problemText(error),
      clearProblem: reset,
      fields: fields ?? {},
      was: (key) => (bench.trial ? bench.before_figures[key] : last[key]),
    }
  }, [bench, bolt, prefs, panel, mutateAsync, isPending, error, reset, fields, last])
  return <Ctx.Provider value={value}>{props.children}</Ctx.Provider>
}

/** Its children show what is new a moment after the headline does: they are large, it is what one looks at. */
export function Afterwards({ children }: { children: ReactNode }) {
  const now = useWorkshop()
  const then = useDeferredValue(now)
  const value = then.bolt === now.bolt && then.bench.id === now.bench.id ? then : now
  const pressed = usePress()
  // What is pressed is what is seen: no press begins while the view is a moment behind.
  return (
    <div style={{ display: 'contents', pointerEvents: value.bench === now.bench || pressed ? undefined : 'none' }}>
      <Ctx.Provider value={value}>{children}</Ctx.Provider>
    </div>
  )
}

/** The field list of the part at a path, following the specs from the root. */
export function fieldsAt(fields: Record<string, FieldOut[]>, path: string): FieldOut[] {
  let cls = 'Build'
  for (const step of path.split('.')) {
    if (/^\d+$/.test(step)) continue
    const spec = fields[cls]?.find((f) => f.name === step)
    if (!spec?.part) return []
    cls = spec.part
  }
  return fields[cls] ?? []
}

export function specAt(fields: Record<string, FieldOut[]>, path: string): FieldOut | undefined {
  const steps = path.split('.')
  const name = steps.pop()!
  return (steps.length ? fieldsAt(fields, steps.join('.')) : (fields.Build ?? [])).find((f) => f.name === name)
}

/** "Bays" -> "Bay" */
export const one = (label: string) => label.replace(/([^s])s$/, '$1')

/** What a part at a path is called; one of a list in the singular. */
export function labelAt(fields: Record<string, FieldOut[]>, path: string): string | undefined {
  const label = specAt(fields, path.replace(/\.\d+$/, ''))?.label
  return label && /\.\d+$/.test(path) ? one(label) : label
}

/** A kept change in words: its reason, else what it set first. */
export const changeWords = (fields: Record<string, FieldOut[]>, r: { reason: string; changes: { path?: unknown }[] }): string =>
  r.reason || (r.changes[0] ? wordsFor(fields, String(r.changes[0].path)) : 'Change')

/** A stored value as it is said. */
export function valueWords(value: unknown, quantity: string, prefs: UnitPrefs): string {
  if (value === null || value === undefined) return 'unknown'
  if (value === '') return 'none'
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  if (typeof value === 'object' && 'amount' in value) {
    const { amount, origin } = value as ValueDoc
    if (origin === 'absent') return GONE
    return amount === null ? 'unknown' : show(amount, quantity, prefs).text
  }
  if (Array.isArray(value)) return `${value.length} lines`
  if (typeof value === 'object') return String((value as { name?: string }).name ?? 'a part')
  return String(value)
}

/** Words for a path: 'Controller – Line amps, setting'. */
export function wordsFor(fields: Record<string, FieldOut[]>, path: string): string {
  const steps = path.split('.')
  const own = specAt(fields, path)?.label ?? steps[steps.length - 1]!.replaceAll('_', ' ')
  const parent = steps.slice(0, -1).filter((s) => !/^\d+$/.test(s)).join('.')
  const above = parent ? specAt(fields, parent)?.label : undefined
  return above ? `${above} – ${own}` : own
}
