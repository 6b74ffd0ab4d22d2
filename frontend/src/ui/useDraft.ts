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

/** Sends what is typed; gives the text that is stored by it, or what is stored if that is what is typed; null if it cannot
 * be sent. `still`: what is stored, if nothing that is on its way will change it. */
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
  const now = over(draft, stored)
  if (now !== draft) setDraft(now)
  // Made of what is on screen, never of what the state was: a view that was begun and given up may have moved that.
  const to = (next: Partial<Draft>) => setDraft({ ...now, ...next })
  const kept = (keep: Keep): Partial<Draft> => {
    const becomes = keep(now.due.length === 0 ? stored : null)
    return becomes === stored ? { typed: null, due: [] } : becomes === null ? {} : { due: [...now.due, becomes] }
  }
  const acts = (keep: Keep): Keeps => ({
    onFocus: () => to({ sent: null, here: true }),
    onBlur: () => to({ here: false, ...(now.typed === null || now.typed !== now.sent ? kept(keep) : {}) }),
    onKeyDown: (e) => {
      if (e.key === 'Escape') to({ typed: null })
      if (e.key === 'Enter') to({ sent: now.typed, ...kept(keep) })
    },
  })
  return [now.typed, (typed) => to({ typed }), acts]
}

/** A draft once this is stored. */
function over(draft: Draft, stored: string): Draft {
  if (draft.over === stored) return draft
  const came = draft.due.lastIndexOf(stored)
  const due = came < 0 ? [] : draft.due.slice(came + 1)
  const goesOn = draft.here && draft.typed !== draft.sent
  return { ...draft, over: stored, typed: goesOn || due.length > 0 ? draft.typed : null, due }
}
