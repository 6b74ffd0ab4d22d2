/** Taps that are kept in this browser until they have been taken: neither a dropped connection nor a refusal loses
 * one. refused: why it was not taken; it then stays until somebody tries it again or lets it go. tapped: when, in ms of
 * this device's own clock, which may be wrong: only how long ago is told. */
export interface Tap {
  key: string
  session: string
  body: Record<string, unknown>
  refused?: string
  tapped?: number
}
type Store = Pick<Storage, 'getItem' | 'setItem'>
export type Sent = 'taken' | 'gone' | { refused: string }

export const place = (build: string) => `taps:${build}`

/** What is kept for a build, oldest first; nothing where the store holds something else. */
export function kept(store: Store, build: string): Tap[] {
  try {
    const rows: unknown = JSON.parse(store.getItem(place(build)) ?? '[]')
    return Array.isArray(rows) ? (rows as Tap[]).filter((t) => typeof t?.key === 'string' && typeof t.session === 'string') : []
  } catch {
    return []
  }
}

export function keep(store: Store, build: string, tap: Tap): void {
  store.setItem(place(build), JSON.stringify([...kept(store, build), { tapped: Date.now(), ...tap }]))
}

/** How many seconds ago it was tapped; null where that is not known, or the clock was set back since. */
export const agoS = (tap: Tap, now = Date.now()): number | null => (tap.tapped === undefined || now < tap.tapped ? null : Math.min((now - tap.tapped) / 1000, 1e7))

/** Send what is kept and was not refused, in its order. A tap goes once it was taken; where the connection is gone, or
 * the server fails, it stays, with those behind it. */
export async function sendKept(store: Store, build: string, send: (tap: Tap) => Promise<Sent>): Promise<void> {
  for (const tap of kept(store, build)) {
    if (tap.refused) continue
    const got = await send(tap)
    if (got === 'gone') break
    if (got === 'taken') letGo(store, build, tap.key)
    else change(store, build, (t) => (t.key === tap.key ? { ...t, refused: got.refused } : t))
  }
}

/** A refused one is sent again with the next round. */
export function again(store: Store, build: string, key: string): void {
  change(store, build, (t) => (t.key === key ? { ...t, refused: undefined } : t))
}

export function letGo(store: Store, build: string, key: string): void {
  store.setItem(place(build), JSON.stringify(kept(store, build).filter((t) => t.key !== key)))
}

function change(store: Store, build: string, how: (tap: Tap) => Tap): void {
  store.setItem(place(build), JSON.stringify(kept(store, build).map(how)))
}

/** Builds for which something is kept here. */
export const buildsKept = (store: Pick<Pocket, 'names'>): string[] =>
  store.names().flatMap((k) => (k.startsWith(place('')) ? [k.slice(place('').length)] : []))

export interface Pocket extends Store {
  names(): string[]
}

/** The browser's own store; where it gives none, or is full, the page's memory: a run is sent all the same. */
export function pocket(own: () => Storage): Pocket {
  const memory = new Map<string, string>()
  const tried = <R>(what: (store: Storage) => R, else_: R): R => {
    try {
      return what(own())
    } catch {
      return else_
    }
  }
  return {
    getItem: (k) => memory.get(k) ?? tried((s) => s.getItem(k), null),
    setItem: (k, v) => void (tried((s) => (s.setItem(k, v), true), false) ? memory.delete(k) : memory.set(k, v)),
    names: () => [...new Set([...memory.keys(), ...tried((s) => Array.from({ length: s.length }, (_, i) => s.key(i) ?? ''), [])])],
  }
}
