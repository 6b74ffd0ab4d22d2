// Numbers with units, as people write them. The table is generated from the Python side.
import table from './units.gen.json'

export interface Unit {
  symbol: string
  factor: number
  offset: number
  aliases: string[]
}
const UNITS = table as Record<string, { label: string; units: Unit[] }>

export interface UnitPrefs {
  speed: string
  mass: string
  length: string
  temperature: string
}
export const METRIC: UnitPrefs = { speed: 'km/h', mass: 'kg', length: 'mm', temperature: '°C' }

// Units shown where nobody chooses.
const SHOWN: Record<string, string> = { farad: 'µF', henry: 'µH', m2: 'm²', j_k: 'J/K' }

export function unitsOf(quantity: string): Unit[] {
  return UNITS[quantity]?.units ?? [{ symbol: '', factor: 1, offset: 0, aliases: [] }]
}

export function findUnit(quantity: string, symbol: string): Unit | undefined {
  const units = unitsOf(quantity)
  const exact = units.find((u) => u.symbol === symbol || u.aliases.includes(symbol))
  if (exact) return exact
  const close = units.filter((u) => u.symbol.toLowerCase() === symbol.toLowerCase())
  return close.length === 1 ? close[0] : undefined
}

/** The unit a quantity is shown in: by preference, else by size. */
export function shownUnit(quantity: string, si: number | null, prefs: UnitPrefs): Unit {
  const pick = (symbol: string): Unit => findUnit(quantity, symbol) ?? unitsOf(quantity)[0]!
  const size = Math.abs(si ?? 0)
  switch (quantity) {
    case 'm_s':
      return pick(prefs.speed)
    case 'kg':
      return pick(prefs.mass)
    case 'c':
      return pick(prefs.temperature)
    case 'm':
      if (size >= 1500) return pick(prefs.speed === 'mph' ? 'mi' : 'km')
      if (prefs.length === 'in') return pick(size >= 10 ? 'ft' : 'in')
      return pick(size >= 2.5 ? 'm' : 'mm')
    case 'ohm':
      return pick(size >= 1e6 ? 'MΩ' : size >= 1e4 ? 'kΩ' : size !== 0 && size < 1 ? 'mΩ' : 'Ω')
    case 'w':
      return pick(size >= 1000 ? 'kW' : 'W')
    case 'wh':
      return pick(size >= 1000 ? 'kWh' : size < 0.1 && size > 0 ? 'J' : 'Wh')
    case 'j':
      return pick(size >= 1000 ? 'kJ' : 'J')
    case 'n_m':
      return pick('N/mm')
    case 's':
      return pick(size >= 7200 ? 'h' : size >= 300 ? 'min' : 's')
    case 'm2':
      return pick(size < 0.01 && size > 0 ? 'mm²' : 'm²')
    default:
      return pick(SHOWN[quantity] ?? unitsOf(quantity)[0]!.symbol)
  }
}

/** The unit that a person would type a number in while none is known: a ride in km, not in mm. */
export function usualUnit(quantity: string, most: number | null, prefs: UnitPrefs): Unit {
  const pick = (symbol: string): Unit => findUnit(quantity, symbol) ?? unitsOf(quantity)[0]!
  const hi = most ?? 0
  if (quantity === 'm' && hi >= 1e4) return pick(prefs.speed === 'mph' ? 'mi' : 'km')
  if (quantity === 'm' && hi >= 1e3) return pick('m')
  if (quantity === 'ohm' && hi > 0 && hi <= 10) return pick('mΩ')
  if (quantity === 's' && hi >= 2e4) return pick('min')
  if (quantity === 'w' && hi >= 1e6) return pick('kW')
  if (quantity === 'wh' && hi >= 1e6) return pick('kWh')
  if (quantity === 'm2' && hi <= 0.01) return pick('mm²')
  return shownUnit(quantity, null, prefs)
}

export function toUnit(si: number, unit: Unit): number {
  return (si - unit.offset) / unit.factor
}

/** Four significant places at most, thousands parted by a thin space, no trailing noise. */
export function digits(x: number, places = 3): string {
  if (!Number.isFinite(x)) return '–'
  if (Math.abs(x) < (places > 4 ? 5e-8 : 5e-5)) return '0'
  const before = Math.max(0, Math.floor(Math.log10(Math.abs(x))) + 1)
  const most = places > 4 ? 7 : 4
  const after = Math.abs(x) < 0.01 ? most : Math.max(0, Math.min(most, places - before))
  const [whole = '0', part] = x.toFixed(after).split('.')
  const parted = whole.replace(/\B(?=(\d{3})+(?!\d))/g, '\u202f')
  const tail = part?.replace(/0+$/, '')
  return tail ? `${parted}.${tail}` : parted
}

export interface Shown {
  number: string
  unit: string
  text: string
}

/** like: the number beside which it stands, if any; both are then in one unit. */
export function show(si: number | null | undefined, quantity: string, prefs: UnitPrefs, places = 3, like: number | null = null): Shown {
  if (si === null || si === undefined) return { number: '–', unit: '', text: '–' }
  const unit = shownUnit(quantity, like ?? si, prefs)
  const number = digits(toUnit(si, unit), places)
  return { number, unit: unit.symbol, text: unit.symbol ? `${number}\u00a0${unit.symbol}` : number }
}

export const signOf = (x: number) => (x < 0 ? '−' : '+')

/** A share as a signed percentage: 0.125 is "+13 %"; nothing is nothing. */
export function percentChange(share: number | null, places = 0): string {
  return share === null ? '' : `${signOf(share)}${Math.abs(share * 100).toFixed(places)} %`
}

/** A difference in the unit that the number itself is shown in. */
export function showDelta(delta: number, at: number | null, quantity: string, prefs: UnitPrefs, places = 3): string {
  const unit = shownUnit(quantity, at, prefs)
  const x = delta / unit.factor
  const text = digits(Math.abs(x), places)
  if (text === '0') return '±0'
  return `${signOf(x)}${text}`
}

const TOKEN = /\{\{([^|}]+)\|(\w+)\}\}/g
/** Half a width around a value, in the unit that the value is shown in, without the unit. */
export const halfOf = (half: number, at: number, quantity: string, prefs: UnitPrefs): string => showDelta(half, at, quantity, prefs, 2).slice(1)

export function sentence(text: string, prefs: UnitPrefs): string {
  return text.replace(TOKEN, (_, x: string, q: string) => show(Number(x), q, prefs).text)
}

export type Parsed = { ok: true; si: number; unit: Unit } | { ok: false; error: string }

function parseNumber(text: string): number {
  let t = text.replace(/[\s\u00a0\u202f]/g, '')
  const comma = t.lastIndexOf(',')
  const point = t.lastIndexOf('.')
  if (comma >= 0 && point >= 0) {
    t = point > comma ? t.replaceAll(',', '') : t.replaceAll('.', '').replace(',', '.')
  } else if (t.split(',').length > 2) t = t.replaceAll(',', '')
  else t = t.replace(',', '.')
  return /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i.test(t) ? Number(t) : NaN
}

const AWG = /^\s*(?:awg\s*#?\s*(\d+(?:\/0)?)|#?\s*(\d+(?:\/0)?)\s*awg)\s*$/i

/** Section (m²) of 'AWG 2' or '2/0 AWG', ASTM B258; null if the text is no gauge. */
export function parseAwg(text: string): number | null {
  const match = AWG.exec(text)
  const size = match?.[1] ?? match?.[2]
  if (!size) return null
  const gauge = size.includes('/') ? 1 - Number(size.split('/')[0]) : /^0+$/.test(size) ? 1 - size.length : Number(size)
  return gauge < -3 || gauge > 40 ? null : (Math.PI / 4) * (0.127e-3 * 92 ** ((36 - gauge) / 39)) ** 2
}

/** '1 7/8 in' as '1.875 in'; anything else as it is. */
function plainFraction(text: string): string {
  const match = /^\s*([+-]?)(?:(\d+)\s+)?(\d+)\s*[/⁄]\s*(\d+)\s*(|\D.*)$/s.exec(text)
  if (!match || Number(match[4]) === 0) return text
  return `${match[1]}${Number(match[2] ?? 0) + Number(match[3]) / Number(match[4])} ${match[5]}`
}

/** '72 V', '3,5 m', '12 lb' -> SI, or a sentence that says what is wrong. */
export function parseQuantity(text: string, quantity: string, fallback: Unit): Parsed {
  const section = quantity === 'm2' ? parseAwg(text) : null
  if (section !== null) return { ok: true, si: section, unit: findUnit('m2', 'mm²')! }
  text = plainFraction(text)
  const match = /^\s*([+-]?[\d.,\s\u202f\u00a0]*\d[.,]?(?:e[+-]?\d+)?|[+-]?[.,]\d+)\s*(.*?)\s*$/i.exec(text)
  const number = match ? parseNumber(match[1]!) : NaN
  if (!match || !Number.isFinite(number)) {
    return { ok: false, error: `'${text.trim().slice(0, 20)}' is not a number` }
  }
  if (TWO_WAYS.test(match[1]!.trim())) {
    const t = match[1]!.trim()
    return { ok: false, error: `'${t}' can be read in two ways: write ${t.replace(',', '')} for thousands, ${t.replace(',', '.')} for a decimal` }
  }
  const unit = match[2] ? findUnit(quantity, match[2]) : fallback
  if (!unit) {
    const names = unitsOf(quantity).map((u) => u.symbol).filter(Boolean)
    return { ok: false, error: `'${match[2]!.slice(0, 12)}' does not fit here: ${names.join(', ') || 'no unit'}` }
  }
  return { ok: true, si: number * unit.factor + unit.offset, unit }
}

export interface Entered {
  si: number | null
  problem: string
}

/** What stands in a field that may stay empty: its number in SI, or what is wrong with it. A number alone is in the unit
 * named. Nothing that was typed is taken for nothing. */
export function entered(text: string, quantity: string, symbol: string): Entered {
  if (!text.trim()) return { si: null, problem: '' }
  const unit = findUnit(quantity, symbol) ?? unitsOf(quantity)[0]!
  const read = parseQuantity(text, quantity, unit)
  return read.ok ? { si: read.si, problem: '' } : { si: null, problem: read.error }
}

/** '4,000': four thousand, or four. */
const TWO_WAYS = /^[+-]?[1-9]\d{0,2},\d{3}$/

/** A number without a unit, with a comma or a point; null where it is none, or can be read in two ways. */
export function plainNumber(text: string): number | null {
  if (TWO_WAYS.test(text.trim())) return null
  const x = Number(text.replace(',', '.'))
  return text.trim() && Number.isFinite(x) ? x : null
}
