import { describe, expect, it } from 'vitest'
import { plan } from './Diagram'

const node = (i: number) => ({ path: `p${i}`, label: `n${i}`, detail: '', state: 'fitted' as const, at: '' })
const some = (n: number) => Array.from({ length: n }, (_, i) => node(i))

describe('the hook-up diagram', () => {
  it.each([
    [360, 300, 4],
    [760, 430, 4],
    [760, 430, 9],
    [1100, 900, 5],
  ])('%i wide, %i high, %i inputs: nothing lies on something else or past the sheet', (w, h, inputs) => {
    const at = plan(w, h, { nodes: some(8), branches: some(3), inputs: some(inputs) })
    const boxes = [...at.path, ...at.groups.flatMap((g) => g.spots)]
    for (const a of boxes) {
      expect(a.x).toBeGreaterThanOrEqual(0)
      expect(a.x + a.w).toBeLessThanOrEqual(w)
      expect(a.y + a.h).toBeLessThan(at.first - 26)
      for (const b of boxes)
        if (a !== b) expect(a.x + a.w <= b.x || b.x + b.w <= a.x || a.y + a.h <= b.y || b.y + b.h <= a.y).toBe(true)
    }
    expect(at.first + 2.5 * at.pitch).toBeLessThanOrEqual(Math.max(h, at.least) + 1)
  })
})
