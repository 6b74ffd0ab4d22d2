import { describe, expect, it, vi } from 'vitest'
import { type ActionContext, actionFor, ACTIONS } from './actions'

const context = (part: Partial<ActionContext> = {}): ActionContext => ({
  go: vi.fn(), garage: vi.fn(), tryIt: vi.fn(), keep: vi.fn(), drop: vi.fn(), back: vi.fn(), undo: vi.fn(), redo: vi.fn(), close: vi.fn(),
  help: vi.fn(), theme: vi.fn(), units: vi.fn(), onTrial: false, dropped: false, inBuild: true, canUndo: true, canRedo: false, ...part,
})
const key = (k: string, more: KeyboardEventInit = {}) => new KeyboardEvent('keydown', { key: k, ...more })

describe('actions', () => {
  it('no two have the same key at the same time', () => {
    for (const onTrial of [true, false]) {
      const live = ACTIONS.filter((a) => a.when(context({ onTrial }))).map((a) => a.keys)
      expect(new Set(live).size).toBe(live.length)
    }
  })

  it('1 to 9 go to the bolts', () => {
    const c = context()
    actionFor(key('4'), c)!.run(c)
    expect(c.go).toHaveBeenCalledWith('guard')
  })

  it('keep and drop only while a what-if is open', () => {
    expect(actionFor(key('k'), context())).toBeUndefined()
    expect(actionFor(key('k'), context({ onTrial: true }))?.id).toBe('keep')
  })

  it('never while typing, never with a modifier', () => {
    const input = document.createElement('input')
    document.body.append(input)
    const typed = key('3', { bubbles: true })
    let seen: unknown = 'none'
    window.addEventListener('keydown', (e) => (seen = actionFor(e, context())), { once: true })
    input.dispatchEvent(typed)
    expect(seen).toBeUndefined()
    expect(actionFor(key('3', { ctrlKey: true }), context())).toBeUndefined()
  })
})
