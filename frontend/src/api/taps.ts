import { type QueryClient, useQueryClient } from '@tanstack/react-query'
import { useEffect, useSyncExternalStore } from 'react'
import { again, agoS, buildsKept, keep, kept, letGo, place, pocket, sendKept, type Sent, type Tap } from '../lib/kept'
import { done, http, ProblemError } from './client'
import type { GateEntered } from './prove'
import type { components } from './schema'

export interface TrialEntered {
  session: string
  setup: string
  value: number
  soc: number | null
  mass_kg: number | null
  wind_m_s: number | null
  air_c: number | null
  slope_pct: number | null
  rider: string
  tyre: string
  tyre_bar: number | null
  surface: string
  pressure_hpa: number | null
  note: string
  log_id: string
  seq: number
}

const isGate = (tap: Tap) => tap.session === ''
export const gateKey = (gate: string) => `gate-${gate}`
const store = pocket(() => window.localStorage)
const ROUND_MS = 4000
// What the server answers where it fails by itself, or does not know this browser: not the run's fault.
const NOT_ITS_FAULT = ['error', 'store', 'link']

const heard = new Set<() => void>()
const tell = () => heard.forEach((f) => f())
const listen = (f: () => void) => (heard.add(f), () => void heard.delete(f))
window.addEventListener('storage', tell) // another tab of this browser
const held = (build: string) => store.getItem(place(build))

let busy = false
let more = false
/** One round over all builds: what can be sent goes, and what was tapped meanwhile. */
async function round(client: QueryClient): Promise<void> {
  more = busy
  if (busy) return
  busy = true
  try {
    for (const build of buildsKept(store)) {
      const before = held(build)
      await sendKept(store, build, (tap) => sendTap(build, tap))
      if (held(build) !== before) for (const key of ['sessions', 'bench']) void client.invalidateQueries({ queryKey: [key, build] })
    }
  } finally {
    busy = false
    tell()
  }
  if (more) return round(client)
}

/** Nothing was answered, or nothing that speaks of what was entered. An unpaired browser is refused as a whole. */
export function isGone(error: unknown): boolean {
  const code = error instanceof ProblemError && error.problem.where !== 'cookie' ? error.problem.code : undefined
  return !code || NOT_ITS_FAULT.includes(code)
}

async function sendTap(build: string, tap: Tap): Promise<Sent> {
  const path = { build_id: build }
  try {
    if (isGate(tap)) {
      const { gate, ...body } = tap.body as unknown as GateEntered
      await done(http.POST('/api/builds/{build_id}/gates/{gate}', { params: { path: { ...path, gate } }, body: { ...body, ago_s: agoS(tap) } }))
    } else {
      const body = tap.body as components['schemas']['TrialIn']
      await done(http.POST('/api/builds/{build_id}/sessions/{session_id}/trials', { params: { path: { ...path, session_id: tap.session } }, body: { ...body, ago_s: agoS(tap) } }))
    }
    return 'taken'
  } catch (error) {
    return isGone(error) ? 'gone' : { refused: (error as Error).message }
  }
}

/** Sends what is kept from whatever page is open, for as long as something waits. */
export function useSending() {
  const client = useQueryClient()
  const waits = useSyncExternalStore(listen, () => buildsKept(store).some((b) => kept(store, b).some((t) => !t.refused)))
  useEffect(() => {
    const go = () => void round(client)
    if (waits) go()
    window.addEventListener('online', go)
    const timer = waits ? setInterval(go, ROUND_MS) : undefined
    return () => {
      window.removeEventListener('online', go)
      clearInterval(timer)
    }
  }, [client, waits])
}

/** Runs taken at the strip: each is kept here first, then sent; what cannot be sent now goes when the connection is
 * back, what is refused stays until somebody has looked at it. */
export function useTaps(build: string) {
  const client = useQueryClient()
  useSyncExternalStore(listen, () => held(build))
  const rows = kept(store, build)
  const take = (t: TrialEntered) => {
    const { session, ...body } = t
    const key = `${Date.now().toString(36)}-${Math.random().toString(36).slice(2, 10)}`
    keep(store, build, { key, session, body: { ...body, discarded: '', key } })
    tell()
    void round(client)
  }
  /** A gate that could not be sent; a newer entry of it takes the place of the older. */
  const keepGate = (g: GateEntered) => {
    const key = gateKey(g.gate)
    letGo(store, build, key)
    keep(store, build, { key, session: '', body: { ...g } })
    tell()
  }
  const runs = rows.filter((t) => !isGate(t))
  return {
    take,
    keepGate,
    gates: rows.filter(isGate),
    waiting: runs.filter((t) => !t.refused).length,
    refused: runs.filter((t) => t.refused),
    again: (key: string) => (again(store, build, key), tell(), void round(client)),
    letGo: (key: string) => (letGo(store, build, key), tell()),
  }
}
