import { ChakraProvider } from '@chakra-ui/react'
import { fireEvent, render, screen } from '@testing-library/react'
import { afterEach, beforeAll, describe, expect, it } from 'vitest'
import { METRIC } from '../lib/units'
import { system } from '../theme/system'
import { Plot } from './Plot'

beforeAll(() => {
  globalThis.ResizeObserver = class {
    observe() {}
    unobserve() {}
    disconnect() {}
  }
})
afterEach(() => document.body.replaceChildren())

const x = [0, 10, 20, 30]
function draw() {
  render(
    <ChakraProvider value={system}>
      <Plot
        prefs={METRIC}
        label="Thrust"
        x={{ quantity: 'm_s', label: 'road speed' }}
        y={{ quantity: 'n', label: 'thrust' }}
        lines={[{ label: 'thrust', x, y: [1000, 1000, 600, 200], colour: 'black' }]}
        ribbon={[
          { start: 0, end: 12, choke: 'phase' },
          { start: 12, end: 30, choke: 'volts' },
        ]}
      />
    </ChakraProvider>,
  )
  return screen.getByRole('img')
}

describe('the chart', () => {
  it('names its units on the axes', () => {
    draw()
    expect(screen.getByText('road speed, km/h')).toBeTruthy()
    expect(screen.getByText('thrust, N')).toBeTruthy()
  })

  it('names the choke on the ribbon in words, not only colour', () => {
    draw()
    expect(screen.getByText('phase')).toBeTruthy()
    expect(screen.getByText('volts')).toBeTruthy()
  })

  it('moves the label of a line away from that of a point', () => {
    const line = { label: 'this build has', x, y: [1000, 1000, 1000, 1000], colour: 'black', labelAt: 0.7 }
    const at = (dots: { x: number; y: number; label: string }[]) => {
      const { unmount } = render(
        <ChakraProvider value={system}>
          <Plot prefs={METRIC} label="Power" x={{ quantity: 'm_s', label: 'speed' }} y={{ quantity: 'n', label: 'thrust' }} lines={[line]} dots={dots} />
        </ChakraProvider>,
      )
      const found = Number(screen.getByText('this build has').getAttribute('x'))
      unmount()
      return found
    }
    const alone = at([])
    expect(at([{ x: 19, y: 1000, label: 'wanted for the start' }])).not.toBe(alone)
    expect(at([{ x: 2, y: 0, label: 'far off' }])).toBe(alone)
  })

  it('is read with the arrow keys, values and choke', () => {
    const chart = draw()
    for (let i = 0; i < 30; i++) fireEvent.keyDown(chart, { key: 'ArrowRight' })
    expect(chart.getAttribute('aria-label')).toBe('Thrust: 54\u00a0km/h   thrust 800\u00a0N   volts')
    fireEvent.keyDown(chart, { key: 'Escape' })
    expect(chart.getAttribute('aria-label')).toBe('Thrust')
  })
})
