import { ChakraProvider } from '@chakra-ui/react'
import { fireEvent, render, screen, waitFor } from '@testing-library/react'
import { afterEach, describe, expect, it } from 'vitest'
import { system } from '../theme/system'
import { Rows } from './Rows'
import { Tabs } from './Tabs'

afterEach(() => document.body.replaceChildren())

const three = [
  { key: 'fit', label: 'What fits', body: <p>312 cells</p> },
  { key: 'sort', label: 'Sorting', body: <p>26 groups</p> },
  { key: 'guide', label: 'Assembly', body: <p>9 steps</p> },
]

function draw(tabs = three, start?: string) {
  render(
    <ChakraProvider value={system}>
      <Tabs tabs={tabs} label="Under the drawing" start={start} />
    </ChakraProvider>,
  )
}
const chosen = () => screen.getAllByRole('tab').filter((t) => t.getAttribute('aria-selected') === 'true').map((t) => t.textContent)

describe('tabs', () => {
  it('show one thing at a time, the first to begin with', () => {
    draw()
    expect(chosen()).toEqual(['What fits'])
    expect(screen.getByText('312 cells')).toBeTruthy()
    expect(screen.queryByText('26 groups')).toBeNull()
  })

  it('begin where they are told to', () => {
    draw(three, 'guide')
    expect(chosen()).toEqual(['Assembly'])
  })

  it('name their panel and are named by it', async () => {
    draw()
    fireEvent.click(screen.getByRole('tab', { name: 'Sorting' }))
    const panel = await screen.findByRole('tabpanel', { name: 'Sorting' })
    expect(panel.textContent).toBe('26 groups')
    expect(screen.getByRole('tab', { name: 'Sorting' }).getAttribute('aria-controls')).toBe(panel.id)
  })

  it('take one stop of the Tab key, at the chosen one', async () => {
    draw()
    fireEvent.click(screen.getByRole('tab', { name: 'Assembly' }))
    await waitFor(() => expect(screen.getAllByRole('tab').map((t) => t.tabIndex)).toEqual([-1, -1, 0]))
  })

  it('fall back to the first when the chosen one is gone, and to nothing when all are', () => {
    const { rerender } = render(
      <ChakraProvider value={system}>
        <Tabs tabs={three} label="x" start="guide" />
      </ChakraProvider>,
    )
    rerender(
      <ChakraProvider value={system}>
        <Tabs tabs={three.slice(0, 2)} label="x" start="guide" />
      </ChakraProvider>,
    )
    expect(chosen()).toEqual(['What fits'])
    rerender(
      <ChakraProvider value={system}>
        <Tabs tabs={[]} label="x" />
      </ChakraProvider>,
    )
    expect(screen.queryByRole('tab')).toBeNull()
  })
})

describe('a plain table', () => {
  it('has heads only over columns that are named, and a name that is read out', () => {
    render(
      <ChakraProvider value={system}>
        <Rows label="Groups" heads={['group', 'capacity', '']} rows={[['1', '13.2 Ah', 'remove'], ['2', '13.1 Ah', 'remove']]} strong={1} />
      </ChakraProvider>,
    )
    expect(screen.getByRole('table', { name: 'Groups' })).toBeTruthy()
    expect(screen.getAllByRole('columnheader').map((h) => h.textContent)).toEqual(['group', 'capacity'])
    expect(screen.getAllByRole('row')).toHaveLength(3)
    expect(screen.getByRole('row', { name: /13.1 Ah/ })).toBeTruthy()
  })
})
