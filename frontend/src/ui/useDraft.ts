import { type KeyboardEvent, useRef, useState } from 'react'

interface Keeps {
  onFocus: () => void
  onBlur: () => void
  onKeyDown: (e: KeyboardEvent) => void
}

/**
 * What is being typed over a stored text; it lapses by itself when the stored text changes.
 * The third gives the acts that keep it: Enter always, leaving the field unless Enter sent this very text since it was
 * entered. A refusal that was read and closed is not raised again by the field that is left to close it.
 */
export function useDraft(stored: string): [string | null, (typed: string | null) => void, (keep: () => void) => Keeps] {
  const [draft, setDraft] = useState<{ over: string; typed: string } | null>(null)
  const sent = useRef<string | null>(null)
  const live = draft && draft.over === stored ? draft.typed : null
  const set = (typed: string | null) => setDraft(typed === null ? null : { over: stored, typed })
  const acts = (keep: () => void): Keeps => ({
    onFocus: () => {
      sent.current = null
    },
    onBlur: () => {
      if (live === null || live !== sent.current) keep()
    },
    onKeyDown: (e) => {
      if (e.key === 'Escape') set(null)
      if (e.key !== 'Enter') return
      sent.current = live
      keep()
    },
  })
  return [live, set, acts]
}
