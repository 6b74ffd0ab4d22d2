import { describe, expect, it } from 'vitest'
import { curveShare, shareFor, thrustOf } from './twist'

const EVEN = [0, 100, 200, 300, 400]
const HELD = [0, 100, 200, 200, 200] // the line amps hold it from half of the torque on

describe('twist', () => {
  it('is linear between the points', () => {
    const curve: [number, number][] = [
      [0, 0],
      [0.5, 0.2],
      [1, 1],
    ]
    expect([0, 0.25, 0.5, 0.75, 1].map((x) => Math.round(1e9 * curveShare(curve, x)) / 1e9)).toEqual([0, 0.1, 0.2, 0.6, 1])
  })
  it('reads the thrust of a share', () => {
    expect(thrustOf(EVEN, 0.625)).toBe(250)
    expect(thrustOf(HELD, 0.9)).toBe(200)
  })
  it('gives back the share of a thrust', () => {
    for (const share of [0, 0.1, 0.37, 0.8, 1]) expect(shareFor(EVEN, 400, thrustOf(EVEN, share))).toBeCloseTo(share, 12)
  })
  it('reaches every share where more torque pushes no more', () => {
    expect(shareFor(HELD, 400, 100)).toBeCloseTo(0.25)
    expect(shareFor(HELD, 400, 200)).toBeCloseTo(0.5)
    expect(shareFor(HELD, 400, 300)).toBeCloseTo(0.75)
    expect(shareFor(HELD, 400, 400)).toBeCloseTo(1)
    expect(shareFor(HELD, 400, 900)).toBe(1)
    expect(shareFor(EVEN, 400, -5)).toBe(0)
  })
})
