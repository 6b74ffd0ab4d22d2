import { describe, expect, it } from 'vitest'
import { area, nearest, within } from './Traces'

describe('a window of a log', () => {
  it('stays inside the log, its width kept', () => {
    expect(within([-5, 5], [0, 100])).toEqual([0, 10])
    expect(within([95, 105], [0, 100])).toEqual([90, 100])
    expect(within([-50, 250], [0, 100])).toEqual([0, 100])
  })
  it('is never so narrow that nothing is left', () => {
    const [a, b] = within([50, 50], [0, 100])
    expect(b - a).toBeCloseTo(100 / 20_000)
  })
  it('finds the bucket nearest to the cursor', () => {
    expect([-1, 0.4, 0.6, 2.4, 9].map((x) => nearest([0, 1, 2, 3], x))).toEqual([0, 0, 1, 2, 3])
    expect(nearest([5], 1)).toBe(0)
  })
  it('is drawn from least to greatest, and broken where nothing was measured', () => {
    const path = area([0, 1, 2, 3], [1, null, 2, 3], [4, null, 5, 6], (v) => v, (v) => v)
    expect(path.match(/M/g)).toHaveLength(2)
    expect(path).toBe('M0.0 4.0L0.0 1.0ZM2.0 5.0L3.0 6.0L3.0 3.0L2.0 2.0Z')
  })
})
