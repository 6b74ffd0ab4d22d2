import { type KeyboardEvent, useState } from 'react'

interface Keeps {
  onFocus: () => void
  onBlur: () => void
  onKeyDown: (e: KeyboardEvent) => void
}

interface Draft {
  over: string // the stored text that was there while it was typed
  typed: string | null
  sent: string | null // what Enter sent since the field was entered
  here: boolean // the field is being typed in
}

/**
 * What is being typed over a stored text; it lapses by itself when the stored text changes, but not while somebody goes
 * on typing: the answer to what was sent before, or a change made elsewhere, takes nothing out of their hand.
 * The third gives the acts that keep it: Enter always, leaving the field unless Enter sent this very text since it was
 * entered. A refusal that was read and closed is not raised again by the field that is left to close it.
 */
export function useDraft(stored: string): [string | null, (typed: string | null) => void, (keep: () => void) => Keeps] {
  const [draft, setDraft] = useState<Draft>({ over: stored, typed: null, sent: null, here: false })
  const goesOn = draft.here && draft.typed !== draft.sent
  const live = draft.over === stored || goesOn ? draft.typed : null
  if (draft.over !== stored) setDraft({ ...draft, over: stored, typed: live })
  const set = (typed: string | null) => setDraft((was) => ({ ...was, over: stored, typed }))
  const acts = (keep: () => void): Keeps => ({
    onFocus: () => setDraft({ over: stored, typed: live, sent: null, here: true }),
    onBlur: () => {
      setDraft((was) => ({ ...was, over: stored, typed: live, here: false }))
      if (live === null || live !== draft.sent) keep()
    },
    onKeyDown: (e) => {
      if (e.key === 'Escape') set(null)
      if (e.key !== 'Enter') return
      setDraft((was) => ({ ...was, over: stored, typed: live, sent: live }))
      keep()
    },
  })
  return [live, set, acts]
}
