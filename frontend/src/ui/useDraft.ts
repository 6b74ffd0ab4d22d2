import { useState } from 'react'

/** What is being typed over a stored text; it lapses by itself when the stored text changes. */
export function useDraft(stored: string): [string | null, (typed: string | null) => void] {
  const [draft, setDraft] = useState<{ over: string; typed: string } | null>(null)
  const live = draft && draft.over === stored ? draft.typed : null
  return [live, (typed) => setDraft(typed === null ? null : { over: stored, typed })]
}
