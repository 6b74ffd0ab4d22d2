import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import type { components } from './schema'
import { http, isHeld, isSilent, ok, SILENT, upload } from './client'

type S = components['schemas']
export type LinkState = S['LinkState']
export type Comparison = S['SetComparison']
export type DifferenceRow = S['DifferenceRow']
export type Written = S['Written']
export type HistoryItem = S['HistoryItem']
export type SwapPlan = S['SwapPlan']
export type IdentifyOut = S['IdentifyOut']
export type SourceIn = S['SourceIn']
export type ObjectOut = S['ObjectOut']
export type Meaning = S['Meaning']

const STATE_MS = 1500

export interface Adapter {
  interface: string
  /** null: the bench bike beside the server. */
  channel: string | null
  bitrate: number
  /** The controller's number on the bus. */
  node: number
  /** What else the interface takes, by name. */
  more: Record<string, string>
  profile: string
}

const ADAPTER = 'adapter'
const SOCKETCAN: Adapter = { interface: 'socketcan', channel: 'can0', bitrate: 250000, node: 16, more: {}, profile: 'bench' }

/** The adapter that was connected last from this browser, so that it need not be described again. */
export function adapterUsed(store: Pick<Storage, 'getItem'>): Adapter {
  try {
    return { ...SOCKETCAN, ...(JSON.parse(store.getItem(ADAPTER) ?? '{}') as Partial<Adapter>) }
  } catch {
    return SOCKETCAN
  }
}

/** Options as they are written: name=value, with commas or blanks between; null where something is neither. */
export function optionsIn(text: string): Record<string, string> | null {
  const words = text.split(/[\s,]+/).filter(Boolean)
  const pairs = words.map((w) => /^([a-z][a-z0-9_]*)=(\S+)$/.exec(w))
  return pairs.every((p) => p) ? Object.fromEntries(pairs.map((p) => [p![1], p![2]])) : null
}

export const optionsOut = (more: Record<string, string>) => Object.entries(more).map(([name, value]) => `${name}=${value}`).join(' ')

/** Who is on the link; looked at again and again while a page shows it. */
export const useLink = () => useQuery({ queryKey: ['link'], refetchInterval: STATE_MS, retry: 0, queryFn: () => ok(http.GET('/api/link')) })

export const useControllerKinds = () => useQuery({ queryKey: ['link', 'profiles'], staleTime: 60000, queryFn: () => ok(http.GET('/api/link/profiles')) })

/** Once a second while it is looked at. */
export const useGroups = (id: string, on: boolean) =>
  useQuery({ queryKey: ['link', 'groups', id], enabled: on, retry: 0, refetchInterval: (q) => (q.state.error && !isSilent(q.state.error) ? false : 1000), queryFn: () => ok(http.GET('/api/builds/{build_id}/link/groups', { params: { path: { build_id: id } } })) })

export const useCodes = (profile: string, doing: string) =>
  useQuery({ queryKey: ['link', 'codes', profile, doing], staleTime: 60000, placeholderData: keepPreviousData, queryFn: () => ok(http.GET('/api/link/codes', { params: { query: { profile, doing } } })) })

export type LinkCall =
  | { do: 'connect'; adapter: Adapter }
  | { do: 'disconnect' }
  | { do: 'read'; build: string; why: string }
  | { do: 'write'; build: string; source: SourceIn; why: string; free: boolean; typed: string; volts: number | null; anyway: boolean; seen: string }
  | { do: 'look'; id: string }
  | { do: 'settle'; id: string; finish: boolean; free: boolean; anyway: boolean }
  | { do: 'record'; on: boolean; gps?: string }
  | { do: 'log'; build: string }

/** Everything that is done over the link; what it answers in words is what the page shows. */
export function useLinkCall() {
  const client = useQueryClient()
  return useMutation<{ words: string; written?: Written }, Error, LinkCall>({
    mutationFn: async (call) => {
      switch (call.do) {
        case 'connect': {
          const s = await ok(http.POST('/api/link/connect', { body: call.adapter }))
          if (call.adapter.channel !== null) localStorage.setItem(ADAPTER, JSON.stringify(call.adapter))
          return { words: `Connected: ${s.device?.device ?? 'a controller'}, serial ${s.device?.serial ?? '?'}, firmware ${s.device?.firmware ?? '?'}.` }
        }
        case 'disconnect':
          await ok(http.POST('/api/link/disconnect'))
          return { words: 'Let go of the adapter.' }
        case 'read': {
          const r = await ok(http.POST('/api/builds/{build_id}/link/read', { params: { path: { build_id: call.build }, query: { why: call.why } } }))
          return { words: `${r.count} values read and kept.` }
        }
        case 'write': {
          const body = { source: call.source, why: call.why, free: call.free, typed: call.typed, volts: call.volts, anyway: call.anyway, seen: call.seen }
          const w = await ok(http.POST('/api/builds/{build_id}/link/write', { params: { path: { build_id: call.build } }, body }))
          return { words: w.sentence, written: w }
        }
        case 'look': {
          const w = await ok(http.POST('/api/link/writings/{writing_id}/look', { params: { path: { writing_id: call.id } } }))
          return { words: w.sentence, written: w }
        }
        case 'settle': {
          const w = await ok(http.POST('/api/link/writings/{writing_id}/settle', { params: { path: { writing_id: call.id } }, body: { finish: call.finish, free: call.free, anyway: call.anyway } }))
          return { words: w.sentence, written: w }
        }
        case 'record': {
          const s = await ok(http.POST('/api/link/record', { params: { query: { on: call.on, gps: call.gps ?? '' } } }))
          return { words: s.recording ? 'Recording.' : `${s.samples} looks kept.` }
        }
        case 'log': {
          const r = await ok(http.POST('/api/builds/{build_id}/link/log', { params: { path: { build_id: call.build } } }))
          return { words: `${r.count} looks are now a log in Prove.` }
        }
      }
    },
    onSettled: () => {
      void client.invalidateQueries({ queryKey: ['link'] })
      void client.invalidateQueries({ queryKey: ['settings'] })
    },
    onSuccess: (_, call) => {
      if (call.do === 'log') void client.invalidateQueries({ queryKey: ['bench'] })
    },
  })
}

export const useComparison = (id: string, key: string, first: SourceIn | null, second: SourceIn) =>
  useQuery({
    queryKey: ['settings', 'compare', id, key, first, second],
    enabled: first !== null,
    retry: 0,
    // The client library widens tuples to arrays; the contract is as it is typed.
    queryFn: () => ok(http.POST('/api/builds/{build_id}/settings/compare', { params: { path: { build_id: id } }, body: { first: first!, second } })) as Promise<Comparison>,
  })

export const useSettingsHistory = (id: string) =>
  useQuery({ queryKey: ['settings', 'history', id], queryFn: () => ok(http.GET('/api/builds/{build_id}/settings/history', { params: { path: { build_id: id } } })) })

export const useTwist = (id: string, key: string) =>
  useQuery({ queryKey: ['settings', 'twist', id, key], queryFn: () => ok(http.GET('/api/builds/{build_id}/settings/twist', { params: { path: { build_id: id } } })) })

export const useSwap = (id: string, key: string, before: string, after: string, volts: number | null) =>
  useQuery({
    queryKey: ['settings', 'swap', id, key, before, after, volts],
    retry: 0,
    queryFn: () =>
      ok(http.GET('/api/builds/{build_id}/settings/swap', { params: { path: { build_id: id }, query: { before, after, ...(volts === null ? {} : { volts }) } } })),
  })

export interface FirmwareAsked {
  wanted: string
  image_hardware: string
  media_checked?: boolean
  way_back?: boolean
  supply_v?: number
  wheel_free?: boolean
  charger_off?: boolean
}
export const useFirmware = (id: string, asked: FirmwareAsked) =>
  useQuery({
    queryKey: ['settings', 'firmware', id, asked],
    queryFn: () => ok(http.GET('/api/builds/{build_id}/settings/firmware', { params: { path: { build_id: id }, query: asked } })),
  })

export interface LiveSample {
  t_s: number
  values: Record<string, number>
  state: string
  fault: string
  blinks: [number, number]
  causes: string[]
  expected: string
}

const STALE_MS = 1500 // a connection that stays open and says nothing is no standstill
const STALE = `Nothing was heard for over ${STALE_MS / 1000} s, so nothing is shown: the bike may do anything meanwhile. ${SILENT}`

/** What the controller shows, ten times a second, while the page is open. */
export function useLive(on: boolean): { now: LiveSample | null; past: LiveSample[]; problem: string } {
  const [past, setPast] = useState<LiveSample[]>([])
  const [problem, setProblem] = useState('')
  useEffect(() => {
    if (!on) return
    const source = new EventSource('/api/link/live')
    let heard = Date.now()
    const watch = window.setInterval(() => Date.now() - heard > STALE_MS && setProblem(STALE), STALE_MS / 3)
    source.onmessage = (e) => {
      heard = Date.now()
      const seen = JSON.parse(e.data as string) as LiveSample | { error: string }
      if ('error' in seen) return setProblem(seen.error)
      setProblem('')
      setPast((old) => [...old.slice(-299), seen])
    }
    source.onerror = () => setProblem(SILENT)
    return () => (window.clearInterval(watch), source.close())
  }, [on])
  return { now: problem ? null : (past.at(-1) ?? null), past, problem }
}

const MAY_TURN = 'The motor may turn still: use the disconnect.'

/** An identification, followed to its end. turned: one that was begun before this page was opened. */
export function useIdentify(turned: string) {
  const [seen, setSeen] = useState<IdentifyOut | null>(null)
  const [problem, setProblem] = useState('')
  const [held, setHeld] = useState(false)
  const running = seen?.state === 'running'
  const turns = useRef(running)
  useEffect(() => {
    turns.current = running
  })
  const id = seen?.id
  const look = (job: string) => ok(http.GET('/api/link/identify/{job_id}', { params: { path: { job_id: job } } }))
  useEffect(() => {
    if (!turned || seen) return
    void look(turned)
      .then((was) => setSeen((now) => now ?? was))
      .catch(() => undefined) // let go by now: there is nothing to follow
  }, [turned, seen])
  useEffect(() => {
    if (!running || !id) return
    let asked = false // one at a time: those that hang would keep the stop waiting behind them
    const timer = window.setInterval(() => {
      if (asked) return
      asked = true
      void look(id)
        .then((now) => (setProblem(''), setSeen(now)))
        .catch((e: Error) => setProblem(`${e.message} ${MAY_TURN}`))
        .finally(() => (asked = false))
    }, 300)
    return () => window.clearInterval(timer)
  }, [running, id])
  const start = (build: string, anyway: boolean) => {
    setProblem('')
    void ok(http.POST('/api/link/identify', { params: { query: { free: true, build, anyway } } }))
      .then((now) => (setHeld(false), setSeen(now)))
      .catch((e: Error) => (setHeld(isHeld(e)), setProblem(e.message)))
  }
  const stop = () =>
    void ok(http.DELETE('/api/jobs/{job_id}', { params: { path: { job_id: id! } } })).catch((e: Error) => turns.current && setProblem(`${e.message} ${MAY_TURN}`))
  return { seen, problem: problem || seen?.error || '', held, start, stop, running }
}

export function useAdopt(build: string) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (job: string) => ok(http.POST('/api/builds/{build_id}/link/adopt/{job_id}', { params: { path: { build_id: build, job_id: job } } })),
    onSuccess: () => void client.invalidateQueries({ queryKey: ['bench', build] }),
  })
}

/** A file's set beside the build's. kind: of which controller, '' as the file says. */
export const setFromFile = (build: string, file: File, kind = '') =>
  upload<Comparison>(`/api/builds/${build}/settings/file${kind ? `?controller=${encodeURIComponent(kind)}` : ''}`, file)
export const objectsOf = (file: File) => upload<ObjectOut[]>('/api/link/dictionary', file)
export const keepKind = (file: File, name: string, places: Record<string, number[]>, codes: string) =>
  upload<{ key: string; name: string }>('/api/link/profiles', file, { name, places: JSON.stringify(places), codes })
export const useMeanings = () => useQuery({ queryKey: ['meanings'], staleTime: Infinity, queryFn: () => ok(http.GET('/api/link/meanings')) })

export interface BenchHand {
  throttle: number
  brake: boolean
  stand: boolean
  grade_pct: number
}
export interface BenchState {
  build: string
  speed_m_s: number
  distance_m: number
  bus_v: number
  line_a: number
  phase_a: number
  soc: number
  motor_c: number
  plug_c: number
  fault_code: number
  fault: string
  bms: number
  key: boolean
  hand: BenchHand
  faults: string[]
  hidden: boolean
  readings: number
  guesses: number
  waiting: boolean
  recording: boolean
  rows: number
}
export interface BenchAnswer {
  state: BenchState
  faults?: { key: string; label: string; shows: string; repair: string }[]
  points?: { key: string; label: string; quantity: string }[]
  reading?: { label: string; value: number; quantity: string }
  right?: boolean
  columns?: string[]
  data?: number[][]
  score?: { points: number; readings: number; wrong: number; fault: string } | null
}

const benchCall = (what: string, more: Record<string, unknown> = {}) =>
  ok(http.POST('/api/bench', { body: { do: what, more: more as never } })) as unknown as Promise<BenchAnswer>

/** The bench bike as one who stands beside it sees it. */
export function useBenchBike() {
  const client = useQueryClient()
  const state = useQuery({ queryKey: ['benchbike'], refetchInterval: 250, retry: 0, queryFn: () => benchCall('state') })
  const things = useQuery({ queryKey: ['benchbike', 'things'], enabled: state.isSuccess, staleTime: Infinity, queryFn: () => benchCall('things') })
  const call = useMutation<BenchAnswer, Error, { what: string; more?: Record<string, unknown> }>({
    mutationFn: ({ what, more }) => benchCall(what, more),
    onSuccess: (a) => client.setQueryData(['benchbike'], a),
  })
  const load = useMutation({
    mutationFn: (id: string) => ok(http.POST('/api/bench/load/{build_id}', { params: { path: { build_id: id } } })) as unknown as Promise<BenchAnswer>,
    onSuccess: (a) => client.setQueryData(['benchbike'], a),
  })
  return { state, things, call, load }
}
