import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { components } from './schema'
import { type Bench, http, ok, upload } from './client'

type S = components['schemas']
export type Hunt = S['Hunt']
export type SessionView = S['SessionView']
export type Verdict = S['SessionVerdict']
export type GateState = S['GateState']

export interface GateEntered {
  gate: string
  value: number | null
  passed: boolean | null
  note: string
  who: string
  seq: number
}

/** Enter a gate; the answer is the whole bench. */
export function useGate(id: string) {
  const client = useQueryClient()
  return useMutation<Bench, Error, GateEntered>({
    mutationFn: (g) =>
      ok(
        http.POST('/api/builds/{build_id}/gates/{gate}', {
          params: { path: { build_id: id, gate: g.gate }, query: { bolt: 'prove' } },
          body: { value: g.value, passed: g.passed, note: g.note, who: g.who, seq: g.seq },
        }) as Promise<{ data?: unknown; error?: unknown }>,
      ) as Promise<Bench>,
    onSuccess: (bench) => {
      client.setQueryData(['bench', id, 'prove'], bench)
      client.setQueryData(['version', id], { version: bench.version })
      client.setQueryData(['own', id], bench.version)
    },
  })
}

export const useHunt = (id: string, symptom: string, readings: { place: string; value: number | null }[]) =>
  useQuery({
    queryKey: ['hunt', id, symptom, readings],
    enabled: symptom !== '',
    retry: 0,
    placeholderData: (old: Hunt | undefined) => old,
    queryFn: () => ok(http.POST('/api/builds/{build_id}/finder', { params: { path: { build_id: id } }, body: { symptom, readings } })),
  })

/** Readings that are there already: of the connected controller and the chosen log, or of the controller's parameters. */
export const useKnown = (id: string, version: string, symptom: string, settings: boolean, live: boolean) =>
  useQuery({
    queryKey: ['known', id, version, settings],
    enabled: symptom !== '',
    retry: 0,
    refetchInterval: live && !settings ? 1500 : false,
    queryFn: () => ok(http.GET('/api/builds/{build_id}/finder/known', { params: { path: { build_id: id }, query: { settings } } })),
  })

export const useSessions = (id: string) =>
  useQuery({ queryKey: ['sessions', id], queryFn: () => ok(http.GET('/api/builds/{build_id}/sessions', { params: { path: { build_id: id } } })) as Promise<SessionView[]> })

/** How far runs of one setup spread in earlier sessions of a protocol. */
export const useUsualSpread = (id: string, protocol: string) =>
  useQuery({
    queryKey: ['sessions', id, 'spread', protocol],
    enabled: protocol !== '',
    queryFn: () => ok(http.GET('/api/builds/{build_id}/sessions/spread', { params: { path: { build_id: id }, query: { protocol } } })),
  })

export type SessionCall =
  | { do: 'plan'; name: string; protocol: string; setups: string[]; riders: string[]; masses: Record<string, number>; trials: number; spread: number; gap: number }
  | { do: 'discard'; session: string; number: number; why: string }
  | { do: 'felt'; session: string; setup: string }
  | { do: 'bind'; session: string; setup: string; seq: number | null }
  | { do: 'remove' | 'back'; session: string }

export function useSessionCall(id: string) {
  const client = useQueryClient()
  return useMutation<unknown, Error, SessionCall>({
    mutationFn: (c) => {
      const path = { build_id: id }
      switch (c.do) {
        case 'plan':
          return ok(
            http.POST('/api/builds/{build_id}/sessions', {
              params: { path },
              body: { name: c.name, protocol: c.protocol, setups: c.setups, trials: c.trials, spread: c.spread, gap: c.gap, masses: c.masses, riders: c.riders },
            }),
          )
        case 'discard':
          return ok(
            http.POST('/api/builds/{build_id}/sessions/{session_id}/trials/{number}/discard', {
              params: { path: { ...path, session_id: c.session, number: c.number }, query: { why: c.why } },
            }),
          )
        case 'felt':
          return ok(http.POST('/api/builds/{build_id}/sessions/{session_id}/felt', { params: { path: { ...path, session_id: c.session }, query: { setup: c.setup } } }))
        case 'bind':
          return ok(
            http.POST('/api/builds/{build_id}/sessions/{session_id}/bind', {
              params: { path: { ...path, session_id: c.session }, query: { setup: c.setup, ...(c.seq === null ? {} : { seq: c.seq }) } },
            }),
          )
        case 'remove':
          return ok(http.DELETE('/api/builds/{build_id}/sessions/{session_id}', { params: { path: { ...path, session_id: c.session } } }))
        case 'back':
          return ok(http.POST('/api/builds/{build_id}/sessions/{session_id}/back', { params: { path: { ...path, session_id: c.session } } }))
      }
    },
    onSettled: () => void client.invalidateQueries({ queryKey: ['sessions', id] }),
  })
}

export const judgeFile = (id: string, file: File) => upload<Verdict>(`/api/builds/${id}/compare-file`, file)

export type Calibration = S['Calibration']

export function useCalibrate(id: string) {
  return useMutation<Calibration, Error, { logs: string[]; coasting: string[]; motor_turns: boolean }>({
    mutationFn: (chosen) => ok(http.POST('/api/builds/{build_id}/calibrate', { params: { path: { build_id: id } }, body: { ...chosen, hold_back: true } })),
  })
}

export const useRideGate = (id: string, key: string, gear: string[], second: boolean, closed: boolean) =>
  useQuery({
    queryKey: ['ride-gate', id, key, gear, second, closed],
    placeholderData: (old: S['RideGate'] | undefined) => old,
    queryFn: () =>
      ok(
        http.GET('/api/builds/{build_id}/ride-gate', {
          params: { path: { build_id: id }, query: { gear, ...(second ? { second_person: true } : {}), ...(closed ? { closed: true } : {}) } },
        }),
      ),
  })

export const useAcceptance = (id: string, key: string) =>
  useQuery({ queryKey: ['acceptance', id, key], queryFn: () => ok(http.GET('/api/builds/{build_id}/acceptance', { params: { path: { build_id: id } } })) })

export const useBook = (id: string, text: string, kind: string, version: string) =>
  useQuery({
    queryKey: ['book', id, text, kind, version],
    placeholderData: keepPreviousData,
    queryFn: () => ok(http.GET('/api/builds/{build_id}/book', { params: { path: { build_id: id }, query: { text, kind } } })) as Promise<S['Book']>,
  })
