import { afterEach, describe, expect, it, vi } from 'vitest'
import { http, isSilent, ok, ProblemError } from './client'

/** A server that says nothing; gives the signal that ends the call. */
function silent() {
  let signal: AbortSignal | undefined
  vi.stubGlobal('fetch', (_: Request, given: RequestInit) => {
    signal = given.signal!
    return new Promise((_, no) => signal!.addEventListener('abort', () => no(new Error('aborted'))))
  })
  return () => signal!
}
const change = () => ok(http.POST('/api/builds/{build_id}/changes', { params: { path: { build_id: 'b' } }, body: { changes: [], reason: '' } }))

/** A clock that may jump: what was due meanwhile comes once, late. */
function clock() {
  let now = 0
  let due: [number, () => void][] = []
  vi.stubGlobal('setTimeout', (work: () => void, ms: number) => due.push([now + ms, work]))
  return (ms: number) => {
    now += ms
    const ready = due.filter(([at]) => at <= now)
    due = due.filter(([at]) => at > now)
    for (const [, work] of ready) work()
  }
}

describe('a call that nothing answers', () => {
  afterEach(() => void vi.unstubAllGlobals())
  it('ends after its time, and says that nothing answers', async () => {
    const [signal, pass] = [silent(), clock()]
    const said = change().catch((e: Error) => e)
    for (let s = 0; s < 19; s++) pass(1000)
    expect(signal().aborted).toBe(false)
    for (let s = 0; s < 2; s++) pass(1000)
    expect([signal().aborted, isSilent((await said) as ProblemError)]).toEqual([true, true])
  })
  it('is not given up for the hour in which the machine slept', () => {
    const [signal, pass] = [silent(), clock()]
    change().catch(() => undefined)
    for (const ms of [1000, 3_600_000, 1000]) pass(ms)
    expect(signal().aborted).toBe(false)
  })
})
