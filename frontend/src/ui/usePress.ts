import { useSyncExternalStore } from 'react'

// A pointer that went up where nobody saw it must not hold a view for good; a longer press is a drag.
const PRESS_MS = 1000

let down = false
let timer = 0
let waiting: (() => void)[] | null = null // what a press that is under way holds back
const heard = new Set<() => void>()

function set(to: boolean) {
  if (down === to) return
  down = to
  for (const tell of heard) tell()
}

function go() {
  const held = waiting ?? []
  waiting = null
  for (const run of held) setTimeout(run) // each by itself, as without a press
}

const begin = () => {
  clearTimeout(timer)
  waiting ??= []
  timer = window.setTimeout(go, PRESS_MS)
  set(true)
}

const end = (e: Event) => {
  if (e.type === 'blur' && e.target !== window) return // a field's
  clearTimeout(timer)
  timer = window.setTimeout(() => (set(false), go())) // the click comes with it
}

globalThis.addEventListener?.('pointerdown', begin, true)
for (const name of ['pointerup', 'pointercancel', 'blur']) globalThis.addEventListener?.(name, end, true)

/** What is new waits while a press is under way: a button that moves, or is not there, between finger down and finger up
 * is not pressed at all. The press that leaves a field sends its text, and the answer comes within a press. */
export function afterPress(run: () => void) {
  if (waiting) waiting.push(run)
  else setTimeout(run)
}

/** Whether a pointer is down on the page. */
export const usePress = (): boolean =>
  useSyncExternalStore(
    (tell) => {
      heard.add(tell)
      return () => heard.delete(tell)
    },
    () => down,
  )
