import { ChakraProvider } from '@chakra-ui/react'
import { fireEvent, render, screen } from '@testing-library/react'
import { afterEach, describe, expect, it, vi } from 'vitest'
import type { FieldOut } from '../api/client'
import type { ValueDoc } from '../lib/path'
import { METRIC } from '../lib/units'
import { system } from '../theme/system'
import { valueWords } from './bench'
import { ValueField } from './ValueField'

const field: FieldOut = {
  name: 'line_a', label: 'Line amps', kind: 'number', quantity: 'a', lo: null, hi: 5000, above: 0, assume: null, assume_by: {},
  options: [], part: '', help: '', detail: false,
  own: false, wish: false, typed: 'label', tells: false,
}
const value: ValueDoc = { amount: 180, origin: 'datasheet', tolerance: 0.04 }

function show(v: ValueDoc | null, more: Partial<FieldOut> = {}) {
  const set = vi.fn()
  const page = (now: ValueDoc | null) => (
    <ChakraProvider value={system}>
      <ValueField field={{ ...field, ...more }} value={now} prefs={METRIC} set={(next) => set(next(now))} />
    </ChakraProvider>
  )
  const { rerender } = render(page(v))
  /** The stored value becomes another. */
  const stored = (amount: number) => rerender(page({ ...value, amount }))
  return { set, stored, input: screen.getByLabelText('Line amps', { exact: true }) as HTMLInputElement }
}
afterEach(() => document.body.replaceChildren())

describe('a field for a number with a unit', () => {
  it('says what it understood while one types, and keeps origin and tolerance', () => {
    const { set, input } = show(value)
    fireEvent.change(input, { target: { value: '0,2 kA' } })
    expect(screen.getByText('understood: 200 A; not kept yet')).toBeTruthy()
    fireEvent.keyDown(input, { key: 'Enter' })
    expect(set).toHaveBeenCalledWith({ amount: 200, origin: 'datasheet', tolerance: 0.04 })
  })

  it('sends a text once: leaving the field after Enter does not raise its refusal again', () => {
    const { set, input } = show(value)
    fireEvent.focus(input)
    fireEvent.change(input, { target: { value: '200' } })
    fireEvent.keyDown(input, { key: 'Enter' })
    fireEvent.blur(input)
    expect(set).toHaveBeenCalledTimes(1)
    fireEvent.keyDown(input, { key: 'Enter' })
    expect(set).toHaveBeenCalledTimes(2)
    fireEvent.focus(input)
    fireEvent.blur(input)
    expect(set).toHaveBeenCalledTimes(3)
  })

  it('keeps what is typed on when the answer to the text before it comes', () => {
    const { set, stored, input } = show(value)
    fireEvent.focus(input)
    fireEvent.change(input, { target: { value: '200' } })
    fireEvent.keyDown(input, { key: 'Enter' })
    fireEvent.change(input, { target: { value: '210' } })
    stored(200)
    expect(input.value).toBe('210')
    expect(screen.getByText('understood: 210 A; not kept yet')).toBeTruthy()
    fireEvent.keyDown(input, { key: 'Enter' })
    expect(set).toHaveBeenLastCalledWith({ amount: 210, origin: 'datasheet', tolerance: 0.04 })
    stored(210)
    expect(screen.queryByText(/not kept yet/)).toBeNull()
  })

  it('gives only what was typed: amount and tolerance, sent close on each other, keep each other', () => {
    let kept: ValueDoc | null = value // the page shows this one for as long as the answers are on their way
    render(
      <ChakraProvider value={system}>
        <ValueField field={field} value={value} prefs={METRIC} set={(next) => (kept = next(kept))} />
      </ChakraProvider>,
    )
    const [amount, tolerance] = screen.getAllByRole('textbox')
    for (const [input, text] of [[amount!, '200'], [tolerance!, '7']] as const) {
      fireEvent.focus(input)
      fireEvent.change(input, { target: { value: text } })
      fireEvent.keyDown(input, { key: 'Enter' })
    }
    expect(kept).toEqual({ amount: 200, origin: 'datasheet', tolerance: 0.07 })
  })

  it('lapses with what it was sent for, and does not come back when that is undone', () => {
    const { stored, input } = show(value)
    fireEvent.focus(input)
    fireEvent.change(input, { target: { value: '200' } })
    fireEvent.keyDown(input, { key: 'Enter' })
    stored(200)
    fireEvent.blur(input)
    stored(180)
    expect(input.value).toBe('180')
    expect(screen.queryByText(/not kept yet/)).toBeNull()
  })

  it.each([
    ['abc', 'is not a number'],
    ['12 lb', 'does not fit here'],
    ['0', 'must be above 0'],
    ['9 kA', 'check the unit'],
  ])('refuses %s and sets nothing', (text, words) => {
    const { set, input } = show(value)
    fireEvent.change(input, { target: { value: text } })
    fireEvent.keyDown(input, { key: 'Enter' })
    expect(set).not.toHaveBeenCalled()
    expect(screen.getByRole('alert').textContent).toContain(words)
    expect(input.getAttribute('aria-invalid')).toBe('true')
  })

  it('takes the unit a person would use while nothing is known: kilometres for a ride', () => {
    const { set, input } = show(null, { quantity: 'm', hi: 1e6 })
    expect(screen.getByText('km')).toBeTruthy()
    fireEvent.change(input, { target: { value: '60' } })
    fireEvent.blur(input)
    expect(set).toHaveBeenCalledWith({ amount: 60000, origin: 'label', tolerance: null })
  })

  it('what is read off a scale is measured, not off a label; what it was stays', () => {
    const { set, input } = show(null, { typed: 'measured' })
    fireEvent.change(input, { target: { value: '96' } })
    fireEvent.blur(input)
    expect(set).toHaveBeenCalledWith({ amount: 96, origin: 'measured', tolerance: null })
  })

  it('asks which of the two 4,000 is', () => {
    const { set, input } = show(null)
    fireEvent.change(input, { target: { value: '4,000' } })
    fireEvent.blur(input)
    expect(set).not.toHaveBeenCalled()
    expect(screen.getByRole('alert').textContent).toContain('two ways')
  })

  it('a wish has neither origin nor tolerance', () => {
    const { set, input } = show(null, { wish: true })
    expect(screen.queryByLabelText('Origin of Line amps')).toBeNull()
    expect(screen.queryByLabelText('Tolerance of Line amps in percent')).toBeNull()
    fireEvent.change(input, { target: { value: '90' } })
    fireEvent.blur(input)
    expect(set).toHaveBeenCalledWith({ amount: 90, origin: 'guess', tolerance: 0 })
  })

  it('empty means unknown', () => {
    const { set, input } = show(value)
    fireEvent.change(input, { target: { value: ' ' } })
    fireEvent.blur(input)
    expect(set).toHaveBeenCalledWith(null)
  })

  it.each(['none', 'Not there'])('%s says that there is none, which is not unknown', (text) => {
    const { set, input } = show(value)
    fireEvent.change(input, { target: { value: text } })
    fireEvent.keyDown(input, { key: 'Enter' })
    expect(set).toHaveBeenCalledWith({ amount: null, origin: 'absent', tolerance: null })
  })

  it('shows what is not there as that', () => {
    const { input } = show({ amount: null, origin: 'absent', tolerance: null })
    expect(input.value).toBe('not there')
    expect(valueWords({ amount: null, origin: 'absent' }, 'a', METRIC)).toBe('not there')
    expect(valueWords({ amount: null, origin: 'guess' }, 'a', METRIC)).toBe('unknown')
  })

  it('shows what is assumed while unknown', () => {
    show(null, { assume: 25 })
    expect(screen.getByText('unknown; 25 A assumed')).toBeTruthy()
  })

  it('Escape takes back what was typed', () => {
    const { set, input } = show(value)
    fireEvent.change(input, { target: { value: '7' } })
    fireEvent.keyDown(input, { key: 'Escape' })
    fireEvent.blur(input)
    expect(set).not.toHaveBeenCalled()
    expect(input.value).toBe('180')
  })

  it('a new origin takes the usual tolerance', () => {
    const { set } = show(value)
    fireEvent.change(screen.getByLabelText('Origin of Line amps'), { target: { value: 'measured' } })
    expect(set).toHaveBeenCalledWith({ amount: 180, origin: 'measured', tolerance: null })
  })
})
