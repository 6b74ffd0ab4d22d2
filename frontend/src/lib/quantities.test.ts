import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { METRIC, parseQuantity, show, shownUnit, toUnit, unitsOf } from './units'
import table from './units.gen.json'

// The same cases that the server's tests read.
const cases = JSON.parse(readFileSync('../tests/files/quantities.json', 'utf8')) as {
  read: [string, string, number][]
  refused: [string, string][]
  shown_in: [number, string, string][]
}

describe('what the server reads, the page reads alike', () => {
  it.each(cases.read)('%s as %s', (text, quantity, si) => {
    const got = parseQuantity(text, quantity, unitsOf(quantity)[0]!)
    expect(got.ok).toBe(true)
    expect(got.ok ? got.si / si : NaN).toBeCloseTo(1, 3)
  })

  it.each(cases.refused)('%s as %s is refused', (text, quantity) => {
    const got = parseQuantity(text, quantity, unitsOf(quantity)[0]!)
    expect(got.ok).toBe(false)
    expect(got.ok ? '' : got.error).not.toBe('')
  })
})

describe('every unit', () => {
  const all = Object.entries(table).flatMap(([key, q]) => q.units.map((u) => [key, u.symbol, u] as const))

  it.each(all)('%s in %s goes there and back', (key, symbol, unit) => {
    const got = parseQuantity(`37.25 ${symbol}`, key, unit)
    expect(got.ok).toBe(true)
    expect(got.ok ? toUnit(got.si, unit) : NaN).toBeCloseTo(37.25, 9)
  })

  it.each(Object.keys(table))('what is shown of %s is read back', (key) => {
    for (const si of [0.0123, 3.7, 512, 4096]) {
      const shown = show(si, key, METRIC, 6)
      const back = parseQuantity(shown.text, key, unitsOf(key)[0]!)
      expect(back.ok, shown.text).toBe(true)
      expect(back.ok ? back.si / si : NaN).toBeCloseTo(1, 2)
    }
  })
})

describe('a number is shown in the unit of its size, on a page and on paper', () => {
  it.each(cases.shown_in)('%d of %s in %s', (si, quantity, symbol) => expect(shownUnit(quantity, si, METRIC).symbol).toBe(symbol))
})
