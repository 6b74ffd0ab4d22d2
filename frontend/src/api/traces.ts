import { keepPreviousData, useMutation, useQuery } from '@tanstack/react-query'
import { http, ok } from './client'
import type { components } from './schema'

type S = components['schemas']
export type Window = S['TraceWindow']
export type HeldView = S['HeldView']
export type Over = S['Over']
export type Fair = S['Fair']
export type Evidence = S['Evidence']
export type Section = S['Section']
export type Axis = 'time' | 'distance'

export const useTrace = (id: string, log: string, axis: Axis, span: [number, number] | null) =>
  useQuery({
    queryKey: ['trace', id, log, axis, span],
    enabled: log !== '',
    staleTime: 60_000,
    placeholderData: keepPreviousData,
    queryFn: () =>
      ok(http.GET('/api/builds/{build_id}/logs/{log_id}/trace', { params: { path: { build_id: id, log_id: log }, query: { axis, points: 700, ...(span ? { start: span[0], end: span[1] } : {}) } } })) as Promise<Window>,
  })

/** Times inside a log that need no standing start; asked for by a press. */
export const useBetween = (id: string, log: string) =>
  useMutation<Section[], Error, { axis: Axis; start: number; end: number } | { low: number; high: number }>({
    mutationFn: (ask) =>
      'low' in ask
        ? ok(http.GET('/api/builds/{build_id}/logs/{log_id}/roll-on', { params: { path: { build_id: id, log_id: log }, query: ask } }))
        : ok(http.GET('/api/builds/{build_id}/logs/{log_id}/between', { params: { path: { build_id: id, log_id: log }, query: ask } })),
  })

/** The setup that a log belongs to, and what is different of it now. */
export const useLogSetup = (id: string, log: string, version: string) =>
  useQuery({
    queryKey: ['log-setup', id, log, version],
    enabled: log !== '',
    placeholderData: keepPreviousData,
    queryFn: () => ok(http.GET('/api/builds/{build_id}/logs/{log_id}/setup', { params: { path: { build_id: id, log_id: log } } })) as Promise<S['LogSetup']>,
  })

/** What a log shows in figures: all of it, and the chosen run. */
export const useLogFigures = (id: string, log: string, version: string) =>
  useQuery({
    queryKey: ['log-figures', id, log, version],
    enabled: log !== '',
    placeholderData: keepPreviousData,
    queryFn: () => ok(http.GET('/api/builds/{build_id}/logs/{log_id}/figures', { params: { path: { build_id: id, log_id: log } } })) as Promise<S['LogFigures']>,
  })

export const useHeld = (id: string, log: string, version: string) =>
  useQuery({
    queryKey: ['held', id, log, version],
    enabled: log !== '',
    queryFn: () => ok(http.GET('/api/builds/{build_id}/logs/{log_id}/held', { params: { path: { build_id: id, log_id: log } } })) as Promise<HeldView>,
  })

export const useOver = (id: string, logs: string[]) =>
  useQuery({
    queryKey: ['over', id, logs],
    enabled: logs.length > 1,
    placeholderData: keepPreviousData,
    retry: 0,
    queryFn: () => ok(http.GET('/api/builds/{build_id}/over', { params: { path: { build_id: id }, query: { logs } } })) as Promise<Over>,
  })

export const useFair = (id: string, other: string, version: string) =>
  useQuery({
    queryKey: ['fair', id, other, version],
    enabled: other !== '',
    retry: 0,
    queryFn: () => ok(http.GET('/api/builds/{build_id}/fair', { params: { path: { build_id: id }, query: { other } } })) as Promise<Fair>,
  })

export const useFilm = () => useMutation<Evidence, Error, S['VideoIn']>({ mutationFn: (body) => ok(http.POST('/api/sums/video', { body })) as Promise<Evidence> })
