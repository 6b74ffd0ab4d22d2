import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { type Bench, type Change, done, http, ok, type Problem, ProblemError, upload } from './client'

// The client library widens tuples to arrays; the server's contract is the bench as it is typed.
const benchOf = (call: Promise<{ data?: unknown; error?: unknown }>) => ok(call) as Promise<Bench>

export const useCards = () => useQuery({ queryKey: ['cards'], queryFn: () => ok(http.GET('/api/builds')) })

export const useBenchQuery = (id: string, bolt: string) =>
  useQuery({
    queryKey: ['bench', id],
    queryFn: () => benchOf(http.GET('/api/builds/{build_id}', { params: { path: { build_id: id }, query: { bolt } } })),
  })

export const useFields = () =>
  useQuery({ queryKey: ['fields'], queryFn: () => ok(http.GET('/api/fields')), staleTime: Infinity })

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
  | { do: 'change'; kind: string; id: string; doc: Record<string, unknown> }
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
          return ok(http.PUT('/api/library/{kind}/{part_id}', { params: { path }, body: { doc: call.doc } }))
        }
        case 'remove':
          return done(http.DELETE('/api/library/own/{part_id}', { params: { path: { part_id: call.id } } }))
        case 'import':
          return upload<{ count: number }>('/api/library-import', call.file, { kind: call.kind })
      }
    },
    onSuccess: () => void client.invalidateQueries(),
  })
}

export const useAtPower = (id: string, key: string, power: number | null) =>
  useQuery({
    queryKey: ['at-power', id, key, power],
    enabled: power !== null,
    queryFn: () => ok(http.GET('/api/builds/{build_id}/at-power', { params: { path: { build_id: id }, query: { power_w: power! } } })),
  })

export const useClaim = (text: string) =>
  useQuery({
    queryKey: ['claim', text],
    enabled: text.trim().length > 0,
    retry: 0,
    queryFn: () => ok(http.GET('/api/sums/claim', { params: { query: { text } } })),
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

export type BenchCall =
  | { do: 'change'; changes: Change[]; reason?: string }
  | { do: 'try' | 'keep' | 'drop' | 'undo' | 'redo' }
  | { do: 'sign' | 'unsign'; bolt: string }
  | { do: 'rename'; name: string }
  | { do: 'log'; file: File; mapping?: string }
  | { do: 'outline'; file: File; bay: number | null }
  | { do: 'unlog'; logId: string }

function send(id: string, call: BenchCall): Promise<Bench> {
  const params = { path: { build_id: id } }
  switch (call.do) {
    case 'change':
      return benchOf(
        http.POST('/api/builds/{build_id}/changes', {
          params,
          body: { changes: call.changes as never, reason: call.reason ?? '' },
        }),
      )
    case 'try':
      return benchOf(http.POST('/api/builds/{build_id}/trial', { params }))
    case 'keep':
      return benchOf(http.POST('/api/builds/{build_id}/trial/keep', { params }))
    case 'drop':
      return benchOf(http.DELETE('/api/builds/{build_id}/trial', { params }))
    case 'undo':
      return benchOf(http.POST('/api/builds/{build_id}/undo', { params }))
    case 'redo':
      return benchOf(http.POST('/api/builds/{build_id}/redo', { params }))
    case 'sign':
      return benchOf(
        http.POST('/api/builds/{build_id}/marks/{bolt}', { params: { path: { ...params.path, bolt: call.bolt } }, body: { note: '' } }),
      )
    case 'unsign':
      return benchOf(http.DELETE('/api/builds/{build_id}/marks/{bolt}', { params: { path: { ...params.path, bolt: call.bolt } } }))
    case 'rename':
      return benchOf(http.PATCH('/api/builds/{build_id}', { params, body: { name: call.name } }))
    case 'log':
      return upload<Bench>(`/api/builds/${id}/logs`, call.file, call.mapping ? { mapping: call.mapping } : {})
    case 'outline':
      return upload<Bench>(`/api/builds/${id}/outline`, call.file, call.bay === null ? {} : { bay: String(call.bay) })
    case 'unlog':
      return benchOf(http.DELETE('/api/builds/{build_id}/logs/{log_id}', { params: { path: { ...params.path, log_id: call.logId } } }))
  }
}

/** Every call that changes a build answers with the whole bench, so one trip is enough. */
export function useBenchCall(id: string) {
  const client = useQueryClient()
  return useMutation<Bench, Error, BenchCall>({
    mutationFn: (call) => send(id, call),
    scope: { id: `bench-${id}` },
    onSuccess: (bench) => {
      client.setQueryData(['bench', id], bench)
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

export function useGarageCall() {
  const client = useQueryClient()
  return useMutation<{ id: string }, Error, GarageCall>({
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
      }
    },
    onSuccess: () => void client.invalidateQueries(),
  })
}

export const problemText = (error: Error | null): string =>
  error instanceof ProblemError ? error.message : error ? String(error.message) : ''
export type { Problem }
