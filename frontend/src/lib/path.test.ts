import { describe, expect, it } from 'vitest'
import { amountAt, at, pathWords, stringAt } from './path'

const doc = { pack: { series: 23, cell: { capacity_ah: { amount: 5, origin: 'label', tolerance: null } } }, donor: { items: [{ name: 'Rack' }] } }

describe('paths into a build', () => {
  it('reads parts, lists and values', () => {
    expect(at(doc, 'pack.series')).toBe(23)
    expect(at(doc, 'donor.items.0.name')).toBe('Rack')
    expect(amountAt(doc, 'pack.cell.capacity_ah')).toBe(5)
    expect(stringAt(doc, 'donor.items.0.name')).toBe('Rack')
  })

  it('a path that leads nowhere is undefined, unknown or empty, never an error', () => {
    expect(at(doc, 'pack.nothing.here')).toBeUndefined()
    expect(at(doc, 'donor.items.7.name')).toBeUndefined()
    expect(amountAt(doc, 'pack.cell.r0_ohm')).toBeNull()
    expect(stringAt(doc, 'pack.series')).toBe('')
  })

  it('spells a path out for people', () => {
    expect(pathWords('drive.controller.line_a')).toBe('controller · line a')
  })
})
