// Where a label may stand so that it does not lie on another one.
export interface Flat {
  x0: number
  y0: number
  x1: number
  y1: number
}
export type Anchor = 'start' | 'middle' | 'end'

/** About the room that a text takes, from its baseline point. */
export function textBox(x: number, y: number, text: string, anchor: Anchor, size = 14): Flat {
  const wide = text.length * size * 0.5
  const x0 = anchor === 'start' ? x : anchor === 'end' ? x - wide : x - wide / 2
  return { x0, y0: y - size, x1: x0 + wide, y1: y + size * 0.3 }
}

/** The area that two of them share. */
export function shared(a: Flat, b: Flat): number {
  return Math.max(0, Math.min(a.x1, b.x1) - Math.max(a.x0, b.x0)) * Math.max(0, Math.min(a.y1, b.y1) - Math.max(a.y0, b.y0))
}

/** A text that could stand at any of some spots stands at the freest, and takes that room. */
export function settle<S extends { px: number; py: number; anchor: Anchor }>(text: string, spots: S[], taken: Flat[]): S {
  const places = spots.map((s) => textBox(s.px, s.py, text, s.anchor))
  const best = freest(places, taken)
  taken.push(...places.slice(best, best + 1))
  return spots[best]!
}

/** Which of some places lies on nothing that is taken; the first that is free, else the least covered. */
export function freest(places: Flat[], taken: Flat[]): number {
  const cover = places.map((p) => taken.reduce((sum, t) => sum + shared(p, t), 0))
  return cover.indexOf(Math.min(...cover))
}
