import { describe, expect, it } from 'vitest'
import { again, agoS, buildsKept, keep, kept, letGo, pocket, sendKept, type Tap } from './kept'

function store() {
  const held = new Map<string, string>()
  return { getItem: (k: string) => held.get(k) ?? null, setItem: (k: string, v: string) => void held.set(k, v) }
}
const tap = (key: string): Tap => ({ key, session: 's', body: { value: 4 } })

describe('taps that are kept until they are sent', () => {
  it('go in their order and leave nothing behind', async () => {
    const s = store()
    keep(s, 'b', tap('1'))
    keep(s, 'b', tap('2'))
    const seen: string[] = []
    await sendKept(s, 'b', async (t) => (seen.push(t.key), 'taken'))
    expect(seen).toEqual(['1', '2'])
    expect(kept(s, 'b')).toEqual([])
  })
  it('stay, with those behind them, while the connection is gone', async () => {
    const s = store()
    for (const k of ['1', '2', '3']) keep(s, 'b', tap(k))
    await sendKept(s, 'b', async (t) => (t.key === '2' ? 'gone' : 'taken'))
    expect(kept(s, 'b').map((t) => t.key)).toEqual(['2', '3'])
  })
  it('that are refused stay with the reason, are not sent again by themselves, and hold nobody up', async () => {
    const s = store()
    for (const k of ['1', '2']) keep(s, 'b', tap(k))
    const send = async (t: Tap) => (t.key === '1' ? { refused: 'quarantine' } : 'taken') as { refused: string } | 'taken'
    await sendKept(s, 'b', send)
    expect(kept(s, 'b')).toMatchObject([{ ...tap('1'), refused: 'quarantine' }])
    const seen: string[] = []
    const look = async (t: Tap) => (seen.push(t.key), 'taken' as const)
    await sendKept(s, 'b', look)
    expect(seen).toEqual([])
    again(s, 'b', '1')
    await sendKept(s, 'b', look)
    expect([seen, kept(s, 'b')]).toEqual([['1'], []])
  })
  it('know how long ago they were, whatever the clock says, and nothing where it was set back', () => {
    const s = store()
    keep(s, 'b', tap('1'))
    const made = kept(s, 'b')[0]!
    expect(agoS(made, made.tapped! + 90_000)).toBe(90)
    expect(agoS(made, made.tapped! - 1)).toBeNull()
    expect(agoS(tap('2'))).toBeNull()
  })
  it('are let go by hand alone', async () => {
    const s = store()
    keep(s, 'b', tap('1'))
    await sendKept(s, 'b', async () => ({ refused: 'no such session' }))
    letGo(s, 'b', '1')
    expect(kept(s, 'b')).toEqual([])
  })
  it('are found for every build', () => {
    expect(buildsKept({ names: () => ['taps:moss', 'theme', 'taps:pip'] })).toEqual(['moss', 'pip'])
  })
  it('are kept by the page where the browser gives no store, or a full one', async () => {
    const none = pocket(() => {
      throw new Error('denied')
    })
    const full = pocket(() => ({ length: 0, key: () => null, getItem: () => null, setItem: () => { throw new Error('full') } }) as unknown as Storage)
    for (const s of [none, full]) {
      keep(s, 'b', tap('1'))
      expect(buildsKept(s)).toEqual(['b'])
      await sendKept(s, 'b', async () => 'taken')
      expect(kept(s, 'b')).toEqual([])
    }
  })
  it('made while others are sent are not lost', async () => {
    const s = store()
    keep(s, 'b', tap('1'))
    await sendKept(s, 'b', async () => (keep(s, 'b', tap('late')), 'taken'))
    expect(kept(s, 'b').map((t) => t.key)).toEqual(['late'])
  })
  it('are none where the store holds rubbish', () => {
    const s = store()
    s.setItem('taps:b', '{"x":')
    expect(kept(s, 'b')).toEqual([])
    s.setItem('taps:b', '[1,null,{"key":"a","session":"s","body":{}}]')
    expect(kept(s, 'b')).toHaveLength(1)
  })
})
