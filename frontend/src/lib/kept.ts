/** Taps that are kept in this browser until they have been sent: a dropped connection loses none. */
export interface Tap {
  key: string
  session: string
  body: Record<string, unknown>
}
type Store = Pick<Storage, 'getItem' | 'setItem'>

const place = (build: string) => `taps:${build}`

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
  store.setItem(place(build), JSON.stringify([...kept(store, build), tap]))
}

/** Send what is kept, in its order. A tap goes once it was taken or refused; where the connection is gone it stays,
 * with those behind it. Gives what was refused. */
export async function sendKept(store: Store, build: string, send: (tap: Tap) => Promise<'taken' | 'gone' | { refused: string }>): Promise<string[]> {
  const refused: string[] = []
  for (const tap of kept(store, build)) {
    const got = await send(tap)
    if (got === 'gone') break
    if (typeof got === 'object') refused.push(got.refused)
    store.setItem(place(build), JSON.stringify(kept(store, build).filter((t) => t.key !== tap.key)))
  }
  return refused
}
