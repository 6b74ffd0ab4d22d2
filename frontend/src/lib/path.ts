// Reading a build's document by the paths that the API uses.
export type Doc = Record<string, unknown>

export interface ValueDoc {
  amount: number | null
  origin: 'label' | 'datasheet' | 'measured' | 'guess' | 'absent'
  tolerance: number | null
}

/** How a value that is looked at and not there is said. */
export const GONE = 'not there'

export function at(doc: unknown, path: string): unknown {
  let here: unknown = doc
  for (const step of path.split('.')) {
    if (here === null || typeof here !== 'object') return undefined
    here = Array.isArray(here) ? here[Number(step)] : (here as Doc)[step]
  }
  return here
}

export function amountAt(doc: unknown, path: string): number | null {
  const value = at(doc, path) as ValueDoc | null | undefined
  return value?.amount ?? null
}

export function stringAt(doc: unknown, path: string): string {
  const value = at(doc, path)
  return typeof value === 'string' ? value : ''
}

/** One key put into a list of keys, or taken out; of the list as it is when the change is made. */
export const ticked = (path: string, key: string, on: boolean) => (now: Doc) => {
  const others = ((at(now, path) as string[]) ?? []).filter((k) => k !== key)
  return [{ path, value: on ? [...others, key] : others }]
}

/** 'drive.controller.line_a' -> 'Controller · line a', for places where no field spec is at hand. */
export function pathWords(path: string): string {
  const steps = path.split('.').filter((s) => !/^\d+$/.test(s))
  return steps.slice(-2).join(' · ').replaceAll('_', ' ')
}
