import type { BayDrawing, Fitted } from '../../api/client'

const spot = (x: number) => ({ amount: Math.round(x * 1e5) / 1e5, origin: 'measured', tolerance: 0 })
// The turn in which a round cell's length lies along the bay's direction.
const TURN: Record<string, string> = { length: 'lwh', height: 'wlh', width: 'whl' }

/** What the rule laid out, as bodies that can be taken in the hand: boxes one by one, round cells as
 * one block a bay in a square holder, standing in the bay's middle. */
export function asBlocks(fit: Fitted): Record<string, unknown>[] {
  return fit.bays.flatMap((bay) => (bay.round ? [blockOf(bay)] : bodiesOf(bay)))
}

function bodiesOf(bay: BayDrawing): Record<string, unknown>[] {
  return bay.puts
    .filter((p) => p.group >= 0)
    .map((p) => ({ kind: 'body', bay: bay.index + 1, x_m: spot(p.x_m), y_m: spot(p.y_m), z_m: spot(p.z_m), turn: bay.axis }))
}

function blockOf(bay: BayDrawing): Record<string, unknown> {
  const along = { length: 0, height: 1, width: 2 }[bay.axis as 'length' | 'height' | 'width'] ?? 2
  const layers = Math.max(1, bay.layers)
  const each = Math.ceil(bay.taken / layers)
  const rows = Math.max(1, Math.round(Math.sqrt(each / 1.4)))
  const counts = [1, 1, 1]
  counts[along] = layers
  const [a, b] = [0, 1, 2].filter((i) => i !== along) as [number, number]
  counts[a] = Math.ceil(each / rows)
  counts[b] = rows
  return { kind: 'block', bay: bay.index + 1, turn: TURN[bay.axis] ?? 'whl', cols: counts[0], rows: counts[1], layers: counts[2] }
}
