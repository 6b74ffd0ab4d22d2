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
  due: string[] // what is stored once the calls that it made are answered, one after the other
}

/** Sends what is typed; gives the text that is stored by it, null if nothing was sent. `still`: what is stored, if nothing
 * that is on its way will change it. */
type Keep = (still: string | null) => string | null

/**
 * What is being typed over a stored text; it lapses by itself when the stored text changes, but not while somebody goes
 * on typing: the answer to what was sent before, or a change made elsewhere, takes nothing out of their hand. Nor at the
 * answer to an earlier one while the last that was sent is on its way: that one is what was meant.
 * The third gives the acts that keep it: Enter always, leaving the field unless Enter sent this very text since it was
 * entered. A refusal that was read and closed is not raised again by the field that is left to close it.
 */
export function useDraft(stored: string): [string | null, (typed: string | null) => void, (keep: Keep) => Keeps] {
  const [draft, setDraft] = useState<Draft>({ over: stored, typed: null, sent: null, here: false, due: [] })
  const moved = draft.over !== stored
  const came = draft.due.lastIndexOf(stored)
  const due = moved ? (came < 0 ? [] : draft.due.slice(came + 1)) : draft.due
  const goesOn = draft.here && draft.typed !== draft.sent
  const live = !moved || goesOn || due.length > 0 ? draft.typed : null
  if (moved) setDraft({ ...draft, over: stored, typed: live, due })
  const set = (typed: string | null) => setDraft((was) => ({ ...was, over: stored, typed }))
  const keepBy = (keep: Keep) => {
    const becomes = keep(due.length === 0 ? stored : null)
    if (becomes === stored) setDraft((was) => ({ ...was, typed: null, due: [] }))
    else if (becomes !== null) setDraft((was) => ({ ...was, due: [...was.due, becomes] }))
  }
  const acts = (keep: Keep): Keeps => ({
    onFocus: () => setDraft({ over: stored, typed: live, sent: null, here: true, due }),
    onBlur: () => {
      setDraft((was) => ({ ...was, over: stored, typed: live, here: false }))
      if (live === null || live !== draft.sent) keepBy(keep)
    },
    onKeyDown: (e) => {
      if (e.key === 'Escape') set(null)
      if (e.key !== 'Enter') return
      setDraft((was) => ({ ...was, over: stored, typed: live, sent: live }))
      keepBy(keep)
    },
  })
  return [live, set, acts]
}
