import { ChakraProvider } from '@chakra-ui/react'
import { fireEvent, render, screen } from '@testing-library/react'
import { afterEach, describe, expect, it, vi } from 'vitest'
import type { Headline } from '../api/client'
import { METRIC } from '../lib/units'
import { system } from '../theme/system'
import { Hex } from './Hex'
import { effectWords, headlineLabel, HEADLINE, Strip } from './Strip'

const now: Headline = {
  peak_wheel_w: 23900, top_speed_m_s: 36, to_speed_m_s: 26.8224, to_time_s: 5.82, range_m: 147_000, cruise_m_s: 13.9,
  mass_kg: 127, choke: 'phase', opens: '', opens_s: null,
}
afterEach(() => document.body.replaceChildren())

describe('what a change does, in words', () => {
  it('names only what moved, old and new', () => {
    const then = { ...now, peak_wheel_w: 20100, choke: 'BMS' }
    expect(effectWords(now, then, METRIC)).toEqual(['peak at the wheel 23.9 → 20.1\u00a0kW', 'choke phase → BMS'])
    expect(effectWords(now, now, METRIC)).toEqual([])
  })

  it('old and new stand in one unit', () => {
    expect(effectWords(now, { ...now, peak_wheel_w: 900 }, METRIC)).toEqual(['peak at the wheel 23\u202f900 → 900\u00a0W'])
    expect(effectWords({ ...now, range_m: 900 }, { ...now, range_m: 2000 }, METRIC)).toEqual(['range at 50\u00a0km/h 0.9 → 2\u00a0km'])
  })

  it('says when a figure is lost', () => {
    expect(effectWords(now, { ...now, to_time_s: null }, METRIC)).toEqual(['0–97\u00a0km/h 5.82 → –'])
  })

  it('labels follow the chosen speed unit', () => {
    const row = HEADLINE.find((r) => r.key === 'to_time_s')!
    expect(headlineLabel(row, now, { ...METRIC, speed: 'mph' })).toBe('0–60\u00a0mph')
  })
})

describe('a bike that cuts out', () => {
  it('says what opens and when, and that it no longer does', () => {
    const cut = { ...now, to_time_s: null, opens: 'BMS', opens_s: 2.1 }
    expect(effectWords(now, cut, METRIC)).toContain('BMS opens after 2.1\u00a0s')
    expect(effectWords(cut, now, METRIC)).toContain('BMS holds')
  })
})

describe('the strip', () => {
  const draw = (before: Headline | null) => {
    const open = vi.fn()
    render(
      <ChakraProvider value={system}>
        <Strip headline={now} before={before} band={{ half: { top_speed_m_s: 1.4 }, leading: [] }} prefs={METRIC} open={open} openChoke={open} />
      </ChakraProvider>,
    )
    return open
  }

  it('shows the band when nothing is on trial', () => {
    draw(null)
    expect(screen.getByText('± 5')).toBeTruthy()
  })

  it('shows where each number was during a what-if', () => {
    draw({ ...now, top_speed_m_s: 30, choke: 'line' })
    expect(screen.getByText('was 108, +21.6')).toBeTruthy()
    expect(screen.getByText('was line')).toBeTruthy()
  })

  it('opens to how sure it is', () => {
    const open = draw(null)
    fireEvent.click(screen.getByText('23.9'))
    expect(open).toHaveBeenCalled()
  })
})

describe('a bolt head', () => {
  it('every state looks different without colour', () => {
    const shapes = ['loose', 'snug', 'marked', 'broken', 'stopped'].map((state) => {
      const { container } = render(<Hex n={4} state={state} />)
      return container.innerHTML.replace(/var\([^)]*\)/g, '')
    })
    expect(new Set(shapes).size).toBe(5)
  })
})
