import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
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
}

/** Enter a gate; the answer is the whole bench. */
export function useGate(id: string) {
  const client = useQueryClient()
  return useMutation<Bench, Error, GateEntered>({
    mutationFn: (g) =>
      ok(
        http.POST('/api/builds/{build_id}/gates/{gate}', {
          params: { path: { build_id: id, gate: g.gate }, query: { bolt: 'prove' } },
          body: { value: g.value, passed: g.passed, note: g.note, who: g.who },
        }) as Promise<{ data?: unknown; error?: unknown }>,
      ) as Promise<Bench>,
    onSuccess: (bench) => {
      client.setQueryData(['bench', id, 'prove'], bench)
      client.setQueryData(['version', id], { version: bench.version })
      client.setQueryData(['own', id], bench.version)
    },
  })
}

export const useHunt = (id: string, symptom: string, readings: { place: string; value: number }[]) =>
  useQuery({
    queryKey: ['hunt', id, symptom, readings],
    enabled: symptom !== '',
    retry: 0,
    placeholderData: (old: Hunt | undefined) => old,
    queryFn: () => ok(http.POST('/api/builds/{build_id}/finder', { params: { path: { build_id: id } }, body: { symptom, readings } })),
  })

export const useSessions = (id: string) =>
  useQuery({ queryKey: ['sessions', id], queryFn: () => ok(http.GET('/api/builds/{build_id}/sessions', { params: { path: { build_id: id } } })) as Promise<SessionView[]> })

export type SessionCall =
  | { do: 'plan'; name: string; protocol: string; setups: string[]; trials: number; spread: number; gap: number }
  | { do: 'trial'; session: string; setup: string; value: number; soc: number | null; mass_kg: number | null; wind_m_s: number | null; note: string }
  | { do: 'discard'; session: string; number: number; why: string }
  | { do: 'felt'; session: string; setup: string }
  | { do: 'remove'; session: string }

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
              body: { name: c.name, protocol: c.protocol, setups: c.setups, trials: c.trials, spread: c.spread, gap: c.gap, masses: {} },
            }),
          )
        case 'trial':
          return ok(
            http.POST('/api/builds/{build_id}/sessions/{session_id}/trials', {
              params: { path: { ...path, session_id: c.session } },
              body: { setup: c.setup, value: c.value, soc: c.soc, mass_kg: c.mass_kg, wind_m_s: c.wind_m_s, rider: '', note: c.note, discarded: '' },
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
        case 'remove':
          return ok(http.DELETE('/api/builds/{build_id}/sessions/{session_id}', { params: { path: { ...path, session_id: c.session } } }))
      }
    },
    onSettled: () => void client.invalidateQueries({ queryKey: ['sessions', id] }),
  })
}

export const judgeFile = (id: string, file: File) => upload<Verdict>(`/api/builds/${id}/compare-file`, file)

export type Calibration = S['Calibration']

export function useCalibrate(id: string) {
  return useMutation<Calibration, Error, string[]>({
    mutationFn: (logs) => ok(http.POST('/api/builds/{build_id}/calibrate', { params: { path: { build_id: id } }, body: { logs, hold_back: true } })),
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
