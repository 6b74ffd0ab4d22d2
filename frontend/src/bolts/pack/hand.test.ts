import { describe, expect, it } from 'vitest'
import type { BayDrawing, Fitted } from '../../api/client'
import { asBlocks } from './hand'

const put = (x: number, group: number) => ({ x_m: x, y_m: 0.01, z_m: -0.02, group, layer: 0 })
const bay = (changes: Partial<BayDrawing>) => ({ index: 0, round: true, axis: 'width', layers: 3, taken: 120, puts: [], ...changes }) as unknown as BayDrawing
const fit = (...bays: BayDrawing[]) => ({ bays }) as unknown as Fitted
const cells = (block: Record<string, unknown>) => Number(block.cols) * Number(block.rows) * Number(block.layers)

describe('taking a layout in the hand', () => {
  it('round cells become one block a bay that holds at least as many', () => {
    for (const taken of [1, 7, 26, 120, 312]) {
      for (const axis of ['length', 'height', 'width']) {
        const [block] = asBlocks(fit(bay({ taken, axis })))
        expect(cells(block!)).toBeGreaterThanOrEqual(taken)
        expect(cells(block!)).toBeLessThanOrEqual(Math.max(taken * 1.6, taken + 12))
      }
    }
  })

  it('the cells lie as they lay: layers along their own length', () => {
    const turns = { length: ['lwh', 'cols'], height: ['wlh', 'rows'], width: ['whl', 'layers'] } as const
    for (const [axis, [turn, along]] of Object.entries(turns)) {
      const [block] = asBlocks(fit(bay({ axis, layers: 4 })))
      expect(block!.turn).toBe(turn)
      expect(block![along]).toBe(4)
    }
  })

  it('modules become bodies one by one, spare places left out, to a hundredth of a millimetre', () => {
    const blocks = asBlocks(fit(bay({ index: 1, round: false, axis: 'lhw', puts: [put(0.1234567, 0), put(0.2, 1), put(0.3, -1)] as BayDrawing['puts'] })))
    expect(blocks).toHaveLength(2)
    expect(blocks[0]).toMatchObject({ kind: 'body', bay: 2, turn: 'lhw' })
    expect(blocks[0]!.x_m).toEqual({ amount: 0.12346, origin: 'measured', tolerance: 0 })
  })

  it('each bay gives its own', () => {
    expect(asBlocks(fit(bay({ index: 0 }), bay({ index: 2 }))).map((b) => b.bay)).toEqual([1, 3])
    expect(asBlocks(fit())).toEqual([])
  })
})
