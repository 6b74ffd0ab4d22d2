import { describe, expect, it } from 'vitest'
import { digits, entered, METRIC, parseQuantity, plainNumber, sentence, show, showDelta, shownUnit, unitsOf } from './units'

describe('numbers with units', () => {
  it.each([
    ['72 V', 'v', 72],
    ['0,3 kA', 'a', 300],
    ['3.5mΩ', 'ohm', 0.0035],
    ['1,234.5 W', 'w', 1234.5],
    ['1.234,5 W', 'w', 1234.5],
    ['97 km/h', 'm_s', 97 / 3.6],
    ['205 lb', 'kg', 92.98643585],
    ['-5', 'c', -5],
  ])('reads %s', (text, quantity, si) => {
    const got = parseQuantity(text, quantity, unitsOf(quantity)[0]!)
    expect(got.ok && got.si).toBeCloseTo(si, 6)
  })

  it.each(['abc', '', '--3', '12 lb', '1e999 V'])('refuses %s as volts', (text) => {
    expect(parseQuantity(text, 'v', unitsOf('v')[0]!).ok).toBe(false)
  })

  it.each([
    ['AWG 10', 5.261],
    ['2/0 awg', 67.43],
    ['0000 AWG', 107.2],
  ])('reads the gauge %s as a section (ASTM B258)', (text, mm2) => {
    const got = parseQuantity(text, 'm2', unitsOf('m2')[0]!)
    expect(got.ok && got.si * 1e6).toBeCloseTo(mm2, 1)
    expect(parseQuantity(text, 'a', unitsOf('a')[0]!).ok).toBe(false)
  })

  it('reads a bare number in the unit on the screen', () => {
    const kmh = shownUnit('m_s', 30, METRIC)
    const got = parseQuantity('36', 'm_s', kmh)
    expect(got.ok && got.si).toBeCloseTo(10)
  })

  it('shows what it reads', () => {
    for (const q of ['v', 'a', 'ohm', 'kg', 'm_s', 'm', 'w']) {
      const shown = show(0.0123456, q, METRIC, 6)
      const back = parseQuantity(shown.text, q, unitsOf(q)[0]!)
      expect(back.ok && back.si).toBeCloseTo(0.0123456, 6)
    }
  })

  it('keeps figures short and tabular', () => {
    expect(digits(23881.5)).toBe('23\u202f882')
    expect(digits(5.9312)).toBe('5.93')
    expect(digits(-0.000001)).toBe('0')
    expect(digits(Number.NaN)).toBe('–')
  })

  it('follows the chosen units, in sentences too', () => {
    const us = { ...METRIC, speed: 'mph', mass: 'lb' }
    expect(sentence('opens near {{13.411|m_s}} at {{180|a}}', us)).toBe('opens near 30\u00a0mph at 180\u00a0A')
    expect(show(45.359237, 'kg', us).text).toBe('100\u00a0lb')
  })

  it('two numbers side by side are in one unit', () => {
    expect(show(900, 'w', METRIC).text).toBe('900\u00a0W')
    expect(show(900, 'w', METRIC, 3, 1200).text).toBe('0.9\u00a0kW')
    expect(show(1200, 'w', METRIC, 3, 900).text).toBe('1\u202f200\u00a0W')
    expect(show(0.9, 'm', METRIC, 3, 3).text).toBe('0.9\u00a0m')
    expect(show(0.0004, 'ohm', METRIC, 3, 2).text).toBe('0.0004\u00a0Ω')
    expect(show(null, 'w', METRIC, 3, 900).text).toBe('–')
  })

  it('gives a change in the unit of the number', () => {
    expect(showDelta(2.7778, 30, 'm_s', METRIC)).toBe('+10')
    expect(showDelta(-1500, 24000, 'w', METRIC)).toBe('−1.5')
    expect(showDelta(0, 1, 's', METRIC)).toBe('±0')
  })

  it('reads a plain number with a point or a comma, and nothing else', () => {
    expect(plainNumber('0,5')).toBe(0.5)
    expect(plainNumber(' 12.25 ')).toBe(12.25)
    for (const text of ['', '  ', 'x', '1,2,3', '5 A', '4,000']) expect(plainNumber(text)).toBeNull()
  })
})

describe('a field that may stay empty', () => {
  it('reads a number in its own unit, one with a unit, and nothing as nothing', () => {
    expect(entered('84,2', 'v', 'V')).toEqual({ si: 84.2, problem: '' })
    expect(entered('60 V', 'v', 'V').si).toBe(60)
    expect(entered('9 mph', 'm_s', 'm/s').si).toBeCloseTo(4.0234, 3)
    expect(entered('80', 'ratio', '%').si).toBeCloseTo(0.8)
    expect(entered('  ', 'v', 'V')).toEqual({ si: null, problem: '' })
  })
  it('never takes what it cannot read for nothing', () => {
    for (const text of ['60 amps', 'sixty', '4x4', '4,000']) expect(entered(text, 'v', 'V').problem).not.toBe('')
  })
})
