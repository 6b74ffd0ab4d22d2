import { at } from '../lib/path'
import { useWorkshop } from './bench'

/** A list of the build: add one more to it, open one of it, begin a
 * new one (both). word: what a new one is called, with its
 * number; null where its kind has no name. reason: how the change is kept in the history. */
export function useLines(list: string, word: string | null, reason?: string) {
  const { bench, change, open } = useWorkshop()
  const count = ((at(bench.doc, list) as unknown[]) ?? []).length
  const name = `${word} ${count + 1}`
  const add = (more: Record<string, unknown> = {}) => change((now) => [{ path: `${list}.${((at(now, list) as unknown[]) ?? []).length}`, value: word === null ? more : { name, ...more } }], reason ?? `Added: ${name}`)
  const openLine = (i: number) => open({ kind: 'part', path: `${list}.${i}` })
  const begin = () => {
    add()
    openLine(count)
  }
  return { count, add, open: openLine, begin }
}
