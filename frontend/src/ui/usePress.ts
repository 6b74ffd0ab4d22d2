import { useState, useSyncExternalStore } from 'react'

// A pointer that went up where nobody saw it must not hold a view for good; a longer press is a drag.
const PRESS_MS = 1000

let [down, first] = [false, false] // on the page; for no longer than a press takes
let timer = 0
const heard = new Set<() => void>()

function set(to: [boolean, boolean]) {
  const same = down === to[0] && first === to[1]
  ;[down, first] = to
  if (!same) for (const tell of heard) tell()
}

const begin = () => {
  clearTimeout(timer)
  timer = window.setTimeout(() => set([down, false]), PRESS_MS)
  set([true, true])
}
const end = (e: Event) => {
  if (e.type === 'blur' && e.target !== window) return // a field's
  clearTimeout(timer)
  timer = window.setTimeout(() => set([false, false])) // the click comes with it
}

function listen(tell: () => void): () => void {
  if (heard.size === 0) {
    addEventListener('pointerdown', begin, true)
    for (const name of ['pointerup', 'pointercancel', 'blur']) addEventListener(name, end, true)
  }
  heard.add(tell)
  return () => {
    heard.delete(tell)
    if (heard.size > 0) return
    removeEventListener('pointerdown', begin, true)
    for (const name of ['pointerup', 'pointercancel', 'blur']) removeEventListener(name, end, true)
  }
}

/** Whether a pointer is down on the page. */
export const usePress = (): boolean => useSyncExternalStore(listen, () => down)

/** What is new waits while a press is under way: a button that moves, or is not there, between finger down and finger up
 * is not pressed at all. The press that leaves a field sends its text, and the answer comes within a press. value: the
 * same one for as long as nothing is new. */
export function useHeld<T>(value: T): T {
  const held = useSyncExternalStore(listen, () => first)
  const [shown, setShown] = useState(value)
  if (!held && shown !== value) setShown(value)
  return held ? shown : value
}
