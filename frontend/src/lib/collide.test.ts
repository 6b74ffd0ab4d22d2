import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { type Corner, type Faces, fitsIn, inside, moved, overlap } from './collide'

const box = (x0: number, x1: number, y0: number, y1: number, z0 = -0.05, z1 = 0.05): Faces => ({ x0, x1, y0, y1, z0, z1 })
const room: Corner[] = [
  [-0.15, -0.1],
  [0.15, -0.1],
  [0.15, 0.1],
  [0, 0.1],
  [-0.15, 0],
]

// Boxes in outlines judged by a geometry library; the server's tests read the same file.
const fits = JSON.parse(readFileSync('../tests/references/fits.json', 'utf8')) as {
  cases: { corners: Corner[]; clear: number; faces: [number, number, number, number]; fits: boolean }[]
}

describe('bodies put down by hand', () => {
  it('overlap is the least of the three depths, and negative when apart', () => {
    expect(overlap(box(0, 0.1, 0, 0.1), box(0.09, 0.2, 0, 0.1))).toBeCloseTo(0.01)
    expect(overlap(box(0, 0.1, 0, 0.1), box(0.12, 0.2, 0, 0.1))).toBeCloseTo(-0.02)
    expect(overlap(box(0, 0.1, 0, 0.1, 0, 0.1), box(0, 0.1, 0, 0.1, 0.1, 0.2))).toBeCloseTo(0)
  })

  it('knows inside from outside, cut corner included', () => {
    expect(inside(room, 0.1, 0.05)).toBe(true)
    expect(inside(room, -0.13, 0.08)).toBe(false)
    expect(inside(room, 0.2, 0)).toBe(false)
  })

  it('keeps the clearance to walls, side walls and reflex corners', () => {
    expect(fitsIn(room, 0.06, 0.005, box(0, 0.1, -0.09, 0.09))).toBe(true)
    expect(fitsIn(room, 0.06, 0.005, box(0.05, 0.147, -0.09, 0.09))).toBe(false)
    expect(fitsIn(room, 0.05, 0.005, box(0, 0.1, -0.09, 0.09))).toBe(false)
    expect(fitsIn(room, 0.06, 0.005, box(-0.14, -0.04, 0, 0.09))).toBe(false)
  })

  it('a box over a corner that points inward does not fit though its own corners do', () => {
    const notch: Corner[] = [
      [0, 0],
      [1, 0],
      [1, 1],
      [0.5, 0.4],
      [0, 1],
    ]
    expect(fitsIn(notch, 1, 0, box(0.3, 0.7, 0.1, 0.5))).toBe(false)
    expect(fitsIn(notch, 1, 0, box(0.3, 0.7, 0.05, 0.35))).toBe(true)
  })

  it('moving shifts all six faces', () => {
    expect(moved(box(0, 1, 0, 1), 0.5, -1, 0.25)).toEqual(box(0.5, 1.5, -1, 0, 0.2, 0.3))
  })

  it.each(fits.cases.map((c, i) => [i, c] as const))('case %i stands where the library says', (_, c) => {
    expect(fitsIn(c.corners, 0.1, c.clear, box(...c.faces))).toBe(c.fits)
  })
})
