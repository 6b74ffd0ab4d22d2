import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import type { Doc } from '../lib/path'
import { type Bench, type Change, done, http, isHeld, isSilent, ok, type Problem, ProblemError, type ShelfItem, upload } from './client'

// The client library widens tuples to arrays; the server's contract is the bench as it is typed.
const benchOf = (call: Promise<{ data?: unknown; error?: unknown }>) => ok(call) as Promise<Bench>

export const WATCH_MS = 1500

export const useCards = () => useQuery({ queryKey: ['cards'], queryFn: () => ok(http.GET('/api/builds')) })

export const useBenchQuery = (id: string, bolt: string) =>
  useQuery({
    queryKey: ['bench', id, bolt],
    placeholderData: (old: Bench | undefined) => (old?.id === id ? old : undefined),
    queryFn: () => benchOf(http.GET('/api/builds/{build_id}', { params: { path: { build_id: id }, query: { bolt } } })),
  })

/** elsewhere: the page shows a change that was made in another window. silent: the last look got no answer. */
export function useWatch(id: string, version: string): { elsewhere: boolean; silent: boolean } {
  const client = useQueryClient()
  const [first] = useState(version)
  const watched = useQuery({
    queryKey: ['version', id],
    refetchInterval: WATCH_MS,
    retry: 0,
    queryFn: () => ok(http.GET('/api/builds/{build_id}/version', { params: { path: { build_id: id } } })),
  })
  const there = watched.data?.version
  useEffect(() => {
    // Asked of what is kept, not of what is drawn: after an own change one of the two is drawn before the other.
    const latest = client.getQueryData<{ version: string }>(['version', id])?.version
    const kept = client.getQueriesData<Bench>({ queryKey: ['bench', id], type: 'active' })
    if (latest === undefined || kept.some(([, bench]) => bench?.version === latest) || client.isMutating() > 0) return
    void client.invalidateQueries({ queryKey: ['bench', id] })
    void client.invalidateQueries({ queryKey: ['logs', id] })
  }, [there, version, client, id])
  return { elsewhere: version !== first && client.getQueryData(['own', id]) !== version, silent: isSilent(watched.error) }
}

/** Remember where the person is working. */
export function useVisit(id: string, bolt: string) {
  useEffect(() => {
    void http.POST('/api/builds/{build_id}/visit', { params: { path: { build_id: id } }, body: { bolt } }).catch(() => undefined)
  }, [id, bolt])
}

export const useFields = () =>
  useQuery({ queryKey: ['fields'], queryFn: () => ok(http.GET('/api/fields')), staleTime: Infinity })

/** What the program takes and gives: kinds of part, readers, forms of the parameter set. */
export const useRegisters = () => useQuery({ queryKey: ['registers'], queryFn: () => ok(http.GET('/api/registers')), staleTime: Infinity })

/** Endings that a file dialog offers for a reader. */
export const useEndings = (reader: string): string => useRegisters().data?.readers.find((r) => r.key === reader)?.endings.join(',') ?? ''

export const useLibrary = (kind: string | null) =>
  useQuery({
    queryKey: ['library', kind],
    enabled: kind !== null,
    staleTime: Infinity,
    queryFn: () => ok(http.GET('/api/library/{kind}', { params: { path: { kind: kind! } } })),
  })

/** Put a part of a build on the person's own shelf. */
export function useKeepFromBuild(kind: string) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (body: { build_id: string; path: string }) =>
      ok(http.POST('/api/library/{kind}/from-build', { params: { path: { kind } }, body })),
    onSuccess: () => void client.invalidateQueries({ queryKey: ['library', kind] }),
  })
}

export type ShelfCall =
  | { do: 'add'; kind: string; doc: Record<string, unknown> }
  | { do: 'change'; kind: string; id: string; shown: Doc; next: (now: Doc) => Doc }
  | { do: 'remove'; id: string }
  | { do: 'import'; kind: string; file: File }

/** Changes to the person's own shelf; a finding may propose what lies there, so all is read again. */
export function useShelfCall() {
  const client = useQueryClient()
  return useMutation<unknown, Error, ShelfCall>({
    mutationFn: async (call) => {
      switch (call.do) {
        case 'add':
          return ok(http.POST('/api/library/{kind}', { params: { path: { kind: call.kind } }, body: { doc: call.doc } }))
        case 'change': {
          const path = { kind: call.kind, part_id: call.id }
          const kept = client.getQueryData<ShelfItem[]>(['library', call.kind])?.find((x) => x.id === call.id)
          const made = await ok(http.PUT('/api/library/{kind}/{part_id}', { params: { path }, body: { doc: call.next(kept?.doc ?? call.shown) } }))
          client.setQueryData<ShelfItem[]>(['library', call.kind], (old) => old?.map((x) => (x.id === call.id ? made : x)))
          return made
        }
        case 'remove':
          return done(http.DELETE('/api/library/own/{part_id}', { params: { path: { part_id: call.id } } }))
        case 'import':
          return upload<{ count: number }>('/api/library-import', call.file, { kind: call.kind })
      }
    },
    scope: { id: 'shelf' }, // one after the other: each is made of what the one before it left
    onSuccess: () => void client.invalidateQueries(),
  })
}

export const useAtPower = (id: string, key: string, power: number | null) =>
  useQuery({
    queryKey: ['at-power', id, key, power],
    enabled: power !== null,
    queryFn: () => ok(http.GET('/api/builds/{build_id}/at-power', { params: { path: { build_id: id }, query: { power_w: power! } } })),
  })

export const useRollers = () => useQuery({ queryKey: ['rollers'], staleTime: Infinity, queryFn: () => ok(http.GET('/api/rollers')) })

export const useClaim = (text: string) =>
  useQuery({
    queryKey: ['claim', text],
    enabled: text.trim().length > 0,
    retry: 0,
    queryFn: () => ok(http.GET('/api/sums/claim', { params: { query: { text } } })),
  })

export const useChoke = (id: string, key: string) =>
  useQuery({
    queryKey: ['choke', id, key],
    retry: 0,
    queryFn: () => ok(http.GET('/api/builds/{build_id}/choke', { params: { path: { build_id: id } } })),
  })

export const useAdvice = (id: string, key: string) =>
  useQuery({
    queryKey: ['advice', id, key],
    retry: 0,
    staleTime: Infinity,
    queryFn: () => ok(http.GET('/api/builds/{build_id}/advice', { params: { path: { build_id: id } } })),
  })

export interface Conditions {
  soc?: number
  cells_c?: number
  motor_c?: number
  grade_pct?: number
  wind_m_s?: number
}

/** Drive's picture in other conditions; the last one stays until the next is there. */
export const useDriveAt = (id: string, key: string, query: Conditions) =>
  useQuery({
    queryKey: ['drive', id, key, query],
    enabled: Object.keys(query).length > 0,
    placeholderData: keepPreviousData,
    retry: 0,
    queryFn: () => ok(http.GET('/api/builds/{build_id}/drive', { params: { path: { build_id: id }, query } })),
  })

/** What each share of the torque pushes at a road speed; the last one stays until the next is there. */
export const useThrustAt = (id: string, key: string, speed_m_s: number) =>
  useQuery({
    queryKey: ['thrust', id, key, speed_m_s],
    placeholderData: keepPreviousData,
    retry: 0,
    queryFn: () => ok(http.GET('/api/builds/{build_id}/thrust', { params: { path: { build_id: id }, query: { speed_m_s } } })),
  })

export const useRewind = (id: string, version: string, turns: [number, number] | null) =>
  useQuery({
    queryKey: ['rewind', id, version, turns],
    enabled: turns !== null,
    retry: 0,
    queryFn: () => ok(http.GET('/api/builds/{build_id}/rewind', { params: { path: { build_id: id }, query: { turns: turns![0], to_turns: turns![1] } } })),
  })

export const useUprate = (id: string, key: string, line_a: number | null) =>
  useQuery({
    queryKey: ['uprate', id, key, line_a],
    enabled: line_a !== null,
    placeholderData: keepPreviousData,
    retry: 0,
    queryFn: () => ok(http.GET('/api/builds/{build_id}/uprate', { params: { path: { build_id: id }, query: { line_a: line_a! } } })),
  })

export const useLabel = (text: string) =>
  useQuery({
    queryKey: ['label', text],
    enabled: text.trim().length > 0,
    placeholderData: keepPreviousData,
    retry: 0,
    queryFn: () => ok(http.GET('/api/sums/label', { params: { query: { text } } })),
  })

export const useBeside = (ids: string[], equal: string[]) =>
  useQuery({
    queryKey: ['beside', ids, equal],
    enabled: ids.length > 1,
    placeholderData: keepPreviousData,
    queryFn: () => ok(http.GET('/api/beside', { params: { query: { id: ids, equal } } })),
  })

export const useTwoNumbers = (a: number | null, b: number | null) =>
  useQuery({
    queryKey: ['percent', a, b],
    enabled: a !== null && b !== null,
    retry: 0,
    queryFn: () => ok(http.GET('/api/sums/percent', { params: { query: { a: a!, b: b! } } })),
  })

export const usePreferences = () =>
  useQuery({ queryKey: ['preferences'], queryFn: () => ok(http.GET('/api/preferences')), staleTime: Infinity })

export function useSetPreference() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (body: { key: 'speed' | 'mass' | 'length' | 'temperature' | 'theme'; value: string }) =>
      ok(http.PUT('/api/preferences', { body })),
    onSuccess: (data) => client.setQueryData(['preferences'], data),
  })
}

export const useBand = (id: string, key: string) =>
  useQuery({
    queryKey: ['band', id, key],
    placeholderData: (old) => old,
    queryFn: () => ok(http.GET('/api/builds/{build_id}/band', { params: { path: { build_id: id } } })),
  })

export const useHistory = (id: string, seq: number) =>
  useQuery({
    queryKey: ['history', id, seq],
    queryFn: () => ok(http.GET('/api/builds/{build_id}/history', { params: { path: { build_id: id } } })),
  })

export const useLogs = (id: string, logId: string) =>
  useQuery({
    queryKey: ['logs', id, logId],
    queryFn: () => ok(http.GET('/api/builds/{build_id}/logs', { params: { path: { build_id: id } } })),
  })

export const usePreview = (id: string, key: string, options: Change[][]) =>
  useQuery({
    queryKey: ['preview', id, key],
    enabled: options.length > 0,
    queryFn: () =>
      ok(http.POST('/api/builds/{build_id}/preview', { params: { path: { build_id: id } }, body: { options } })),
  })

/** What is to be changed; as a function it is asked when the call leaves, of the build as it is by then. What is made of
 * the old value (one more line, a step ticked, another tolerance) is given so: an earlier call may still be on its way. */
export type Changes = Change[] | ((doc: Doc) => Change[])

export type BenchCall =
  | { do: 'change'; changes: Changes; reason?: string }
  | { do: 'try' | 'keep' | 'drop' | 'back' | 'undo' | 'redo' }
  | { do: 'sign' | 'unsign'; bolt: string }
  | { do: 'rename'; name: string }
  | { do: 'log'; file: File; mapping?: string; dbc?: string }
  | { do: 'join'; first: string; second: string }
  | { do: 'outline'; file: File; bay: number | null }
  | { do: 'unlog' | 'relog'; logId: string }

async function send(id: string, bolt: string, shown: Bench | undefined, call: BenchCall): Promise<Bench> {
  const params = { path: { build_id: id }, query: { bolt } }
  const seen = { ...params, query: { bolt, version: shown?.version ?? null } }
  switch (call.do) {
    case 'change': {
      const changes = typeof call.changes === 'function' ? call.changes((shown ?? (await benchOf(http.GET('/api/builds/{build_id}', { params })))).doc) : call.changes
      return benchOf(
        http.POST('/api/builds/{build_id}/changes', {
          params,
          body: { changes: changes as never, reason: call.reason ?? '', version: shown?.version ?? null },
        }),
      )
    }
    case 'try':
      return benchOf(http.POST('/api/builds/{build_id}/trial', { params }))
    case 'keep':
      return benchOf(http.POST('/api/builds/{build_id}/trial/keep', { params: seen }))
    case 'drop':
      return benchOf(http.DELETE('/api/builds/{build_id}/trial', { params }))
    case 'back':
      return benchOf(http.POST('/api/builds/{build_id}/trial/back', { params }))
    case 'undo':
      return benchOf(http.POST('/api/builds/{build_id}/undo', { params: seen }))
    case 'redo':
      return benchOf(http.POST('/api/builds/{build_id}/redo', { params: seen }))
    case 'sign':
      return benchOf(
        http.POST('/api/builds/{build_id}/marks/{bolt}', { params: { ...seen, path: { ...params.path, bolt: call.bolt } }, body: { note: '' } }),
      )
    case 'unsign':
      return benchOf(http.DELETE('/api/builds/{build_id}/marks/{bolt}', { params: { ...params, path: { ...params.path, bolt: call.bolt } } }))
    case 'rename':
      return benchOf(http.PATCH('/api/builds/{build_id}', { params, body: { name: call.name } }))
    case 'log':
      return upload<Bench>(`/api/builds/${id}/logs?bolt=${bolt}`, call.file, { ...(call.mapping ? { mapping: call.mapping } : {}), ...(call.dbc ? { dbc: call.dbc } : {}) })
    case 'join':
      return benchOf(http.POST('/api/builds/{build_id}/logs/{log_id}/join', { params: { path: { ...params.path, log_id: call.first }, query: { ...params.query, other: call.second } } }))
    case 'outline':
      return upload<Bench>(`/api/builds/${id}/outline?bolt=${bolt}`, call.file, call.bay === null ? {} : { bay: String(call.bay) })
    case 'unlog':
      return benchOf(http.DELETE('/api/builds/{build_id}/logs/{log_id}', { params: { ...params, path: { ...params.path, log_id: call.logId } } }))
    case 'relog':
      return benchOf(http.POST('/api/builds/{build_id}/logs/{log_id}/back', { params: { ...params, path: { ...params.path, log_id: call.logId } } }))
  }
}

/** Every call that changes a build answers with the whole bench, so one trip is enough. */
export function useBenchCall(id: string, bolt: string) {
  const client = useQueryClient()
  // Of the bolt that the call was made on, or of the one that is on screen by now.
  const shown = () => client.getQueryData<Bench>(['bench', id, bolt]) ?? client.getQueriesData<Bench>({ queryKey: ['bench', id], type: 'active' })[0]?.[1]
  return useMutation<Bench, Error, BenchCall>({
    // What is shown is looked at when the call leaves: an earlier one in the row may have moved it.
    // The answer is put where it belongs here: by the time it comes another bolt may be on screen.
    mutationFn: async (call) => {
      const bench = await send(id, bolt, shown(), call)
      client.setQueryData(['bench', id, bolt], bench)
      client.setQueryData(['version', id], { version: bench.version })
      client.setQueryData(['own', id], bench.version)
      const others = { queryKey: ['bench', id], predicate: (q: { queryKey: readonly unknown[] }) => q.queryKey[2] !== bolt }
      client.removeQueries({ ...others, type: 'inactive' })
      void client.invalidateQueries({ ...others, type: 'active' })
      return bench
    },
    scope: { id: `bench-${id}` },
    // The newer state is there before the next call in the row leaves.
    onError: async (error) => {
      if (isHeld(error)) await client.invalidateQueries({ queryKey: ['bench', id] })
    },
    onSuccess: (_, call) => {
      if (/log|join|undo|redo/.test(call.do)) void client.invalidateQueries({ queryKey: ['logs', id] })
      void client.invalidateQueries({ queryKey: ['cards'] })
    },
  })
}

export type GarageCall =
  | { do: 'create'; name: string }
  | { do: 'duplicate'; id: string }
  | { do: 'rename'; id: string; name: string }
  | { do: 'archive'; id: string; archived: boolean }
  | { do: 'import'; file: File }
  | { do: 'undo' | 'drop'; id: string }
  | { do: 'delete'; id: string; anyway: boolean }

export function useGarageCall() {
  const client = useQueryClient()
  return useMutation<{ id: string } | null, Error, GarageCall>({
    mutationFn: async (call) => {
      switch (call.do) {
        case 'create':
          return ok(http.POST('/api/builds', { body: { name: call.name } }))
        case 'duplicate':
          return ok(http.POST('/api/builds/{build_id}/duplicate', { params: { path: { build_id: call.id } } }))
        case 'rename':
        case 'archive': {
          const body = call.do === 'rename' ? { name: call.name } : { archived: call.archived }
          return ok(http.PATCH('/api/builds/{build_id}', { params: { path: { build_id: call.id } }, body }))
        }
        case 'import':
          return upload<{ id: string }>('/api/builds/import', call.file)
        case 'undo':
          return ok(http.POST('/api/builds/{build_id}/undo', { params: { path: { build_id: call.id } } }))
        case 'drop':
          return ok(http.DELETE('/api/builds/{build_id}/trial', { params: { path: { build_id: call.id } } }))
        case 'delete':
          return done(http.DELETE('/api/builds/{build_id}', { params: { path: { build_id: call.id }, query: { anyway: call.anyway } } }))
      }
    },
    onSuccess: () => void client.invalidateQueries(),
  })
}

/** Why nothing is there to be shown; it stands while it is asked for again. */
export function useStanding(got: { error: Error | null; data: unknown }): Error | null {
  const [last, setLast] = useState<Error | null>(null)
  const now = got.data === undefined ? (got.error ?? last) : null
  if (now !== last) setLast(now)
  return now
}

export const problemText = (error: Error | null): string =>
  error instanceof ProblemError ? error.message : error ? String(error.message) : ''

/** The same of what is shown, '' where it is held and only nothing answered: that, the page says once. */
export const refusal = (got: { error: Error | null; data: unknown }): string => (isSilent(got.error) && got.data !== undefined ? '' : problemText(got.error))

export type { Problem }
