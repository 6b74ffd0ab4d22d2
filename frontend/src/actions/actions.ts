// Actions as data: menus, shortcuts and the help page are all made from this list.
import { BOLTS, type Bolt, QUESTION, title } from '../lib/nine'

export interface ActionContext {
  go: (bolt: Bolt) => void
  garage: () => void
  tryIt: () => void
  keep: () => void
  drop: () => void
  back: () => void
  undo: () => void
  redo: () => void
  close: () => void
  help: () => void
  theme: () => void
  units: () => void
  onTrial: boolean
  dropped: boolean
  inBuild: boolean
  canUndo: boolean
  canRedo: boolean
}

export interface Action {
  id: string
  label: string
  keys: string
  when: (c: ActionContext) => boolean
  run: (c: ActionContext) => void
}

const inside = (c: ActionContext) => c.inBuild

export const ACTIONS: Action[] = [
  ...BOLTS.map((bolt, i) => ({
    id: `go-${bolt}`,
    label: `${title(bolt)} – ${QUESTION[bolt]}`,
    keys: String(i + 1),
    when: inside,
    run: (c: ActionContext) => c.go(bolt),
  })),
  { id: 'garage', label: 'Back to the garage', keys: '0', when: inside, run: (c) => c.garage() },
  { id: 'try', label: 'Start a what-if', keys: 'w', when: (c) => c.inBuild && !c.onTrial, run: (c) => c.tryIt() },
  { id: 'keep', label: 'Keep the what-if', keys: 'k', when: (c) => c.inBuild && c.onTrial, run: (c) => c.keep() },
  { id: 'drop', label: 'Drop the what-if', keys: 'x', when: (c) => c.inBuild && c.onTrial, run: (c) => c.drop() },
  { id: 'back', label: 'Take the dropped what-if back', keys: 'b', when: (c) => c.inBuild && !c.onTrial && c.dropped, run: (c) => c.back() },
  { id: 'undo', label: 'Undo the last kept change', keys: 'u', when: (c) => c.inBuild && c.canUndo && !c.onTrial, run: (c) => c.undo() },
  { id: 'redo', label: 'Redo', keys: 'r', when: (c) => c.inBuild && c.canRedo && !c.onTrial, run: (c) => c.redo() },
  { id: 'close', label: 'Close what is open at the side', keys: 'Escape', when: inside, run: (c) => c.close() },
  { id: 'units', label: 'Units and theme', keys: 'n', when: () => true, run: (c) => c.units() },
  { id: 'theme', label: 'Light or dark', keys: 'd', when: () => true, run: (c) => c.theme() },
  { id: 'help', label: 'Shortcuts', keys: '?', when: () => true, run: (c) => c.help() },
]

/** Typing is never a shortcut. */
export function isTyping(target: EventTarget | null): boolean {
  const el = target as HTMLElement | null
  return !!el && (el.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(el.tagName))
}

export function actionFor(event: KeyboardEvent, context: ActionContext): Action | undefined {
  if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return undefined
  return ACTIONS.find((a) => a.keys === event.key && a.when(context))
}
