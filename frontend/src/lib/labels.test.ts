import { describe, expect, it } from 'vitest'
import { type Anchor, type Flat, freest, settle, shared, textBox } from './labels'

const flat = (x0: number, y0: number, x1: number, y1: number): Flat => ({ x0, y0, x1, y1 })

describe('labels that keep clear of each other', () => {
  it('a text takes room to the side that its anchor says', () => {
    const [start, middle, end] = (['start', 'middle', 'end'] as const).map((a) => textBox(100, 50, 'volts', a))
    expect(start!.x0).toBe(100)
    expect((middle!.x0 + middle!.x1) / 2).toBe(100)
    expect(end!.x1).toBe(100)
    expect(new Set([start, middle, end].map((b) => b!.x1 - b!.x0)).size).toBe(1)
    expect(start!.y0).toBeLessThan(50)
  })

  it('two share what lies in both, and nothing when they only touch', () => {
    expect(shared(flat(0, 0, 10, 10), flat(5, 8, 20, 20))).toBe(10)
    expect(shared(flat(0, 0, 10, 10), flat(10, 0, 20, 10))).toBe(0)
    expect(shared(flat(0, 0, 10, 10), flat(40, 40, 50, 50))).toBe(0)
  })

  it('three texts about one point stand apart and inside the sheet', () => {
    const taken = [flat(-390, 0, 0, 300), flat(390, 0, 780, 300)]
    const about = (px: number) => [-9, 20].flatMap((dy) => (['start', 'end'] as Anchor[]).map((anchor) => ({ px: px + (anchor === 'end' ? -9 : 9), py: 150 + dy, anchor })))
    for (const text of ['wanted on the hill', 'wanted top speed', 'for the standing start']) settle(text, about(240), taken)
    const [, , ...boxes] = taken
    for (const [i, a] of boxes.entries()) {
      expect(a.x0).toBeGreaterThanOrEqual(0)
      expect(a.x1).toBeLessThanOrEqual(390)
      for (const b of boxes.slice(i + 1)) expect(shared(a, b)).toBe(0)
    }
  })

  it('the first free place is taken, else the least covered', () => {
    const places = [flat(0, 0, 10, 10), flat(20, 0, 30, 10), flat(40, 0, 50, 10)]
    expect(freest(places, [])).toBe(0)
    expect(freest(places, [flat(5, 5, 25, 6)])).toBe(2)
    expect(freest(places, [flat(0, 0, 10, 10), flat(20, 0, 30, 10), flat(48, 0, 50, 10)])).toBe(2)
  })
})
