import createClient from 'openapi-fetch'
import type { components, paths } from './schema'

type S = components['schemas']
export type Bench = S['Bench']
export type Card = S['Card']
export type Headline = S['Headline']
export type Finding = S['Finding']
export type Fix = S['Fix']
export type Figure = S['Figure']
export type BoltReport = S['BoltReport']
export type Drawings = S['Drawings']
export type Preview = S['Preview']
export type BandView = S['BandView']
export type FieldOut = S['FieldOut']
export type ShelfItem = S['ShelfItem']
export type SortProgress = S['SortProgress']
export type Sniffed = S['Sniffed']
export type ChargeReport = S['ChargeReport']
export type Fitted = S['Fitted']
export type BayDrawing = S['BayDrawing']
export type LogPreview = S['LogPreview']
export type LogRow = S['LogRow']
export type RevisionRow = S['RevisionRow']
export type Problem = S['ProblemOut']
export type Sorting = S['Sorting']
export type RibbonPart = S['RibbonPart']
export type BesideOut = S['Beside']
export interface Change {
  path: string
  value: unknown
}

// How long an answer is waited for. A phone that walks out of reach, a laptop that is closed: the connection stays open,
// and says nothing for a quarter of an hour. What is looked at or stopped while a motor may turn is not waited for long.
// What works over there, a write into a controller first of all, is waited for: that nothing answers, the page says anyhow.
const [LOOK_MS, WORK_MS] = [60_000, 600_000]
const WAITS: [RegExp, number][] = [
  [/\/version$|\/api\/link$|\/link\/(identify\/|groups$)|\/api\/jobs\//, 4_000],
  [/\/trials$|\/gates\//, 10_000],
  [/\/changes$/, 20_000],
]
const waitFor = (asked: Request) => WAITS.find(([of]) => of.test(new URL(asked.url).pathname))?.[1] ?? (asked.method === 'GET' ? LOOK_MS : WORK_MS)

/** Counted in turns that this page had: while a machine stood still, or slept, nothing could be heard, and the answer may
 * be there when it goes on. */
const TURN_MS = 1_000
function waited(asked: Request): Promise<Response> {
  const given = new AbortController()
  const turn = (left: number): unknown => (left > 0 ? setTimeout(() => turn(left - TURN_MS), TURN_MS) : given.abort())
  turn(waitFor(asked)) // also for what follows the first bytes
  return globalThis.fetch(asked, { signal: given.signal })
}

export const http = createClient<paths>({ baseUrl: globalThis.location?.origin ?? '', fetch: waited })

/** An error from the server, with its parts. */
export class ProblemError extends Error {
  problem: Partial<Problem>
  constructor(problem: Partial<Problem>) {
    super(problem.message || problem.what || 'The server did not answer. Is it still running?')
    this.problem = problem
  }
}

/** Refused because of what stands: it can be done all the same by whoever says so. */
export const isHeld = (error: Error | null) => error instanceof ProblemError && error.problem.code === 'conflict'

/** Nothing answered at all. */
export const isSilent = (error: Error | null) => error instanceof ProblemError && error.problem.code === undefined

export const SILENT = 'Nothing answers. Is the program running, and is this device on its network? Nothing stored is lost.'

const heard = <T>(call: Promise<T>): Promise<T> =>
  call.catch(() => {
    throw new ProblemError({ what: SILENT })
  })

export async function ok<T>(call: Promise<{ data?: T; error?: unknown }>): Promise<T> {
  const got = await heard(call)
  if (got.error !== undefined || got.data === undefined) throw new ProblemError((got.error ?? {}) as Partial<Problem>)
  return got.data
}

/** A call that answers with nothing. */
export async function done(call: Promise<{ error?: unknown; response: Response }>): Promise<null> {
  const got = await heard(call)
  if (!got.response.ok) throw new ProblemError((got.error ?? {}) as Partial<Problem>)
  return null
}

async function post(url: string, file: File, more: Record<string, string>): Promise<Response> {
  const form = new FormData()
  form.append('file', file)
  for (const [key, value] of Object.entries(more)) form.append(key, value)
  let response: Response
  try {
    response = await fetch(url, { method: 'POST', body: form })
  } catch {
    throw new ProblemError({ what: 'The upload did not get through.' })
  }
  if (!response.ok) throw new ProblemError((await response.json().catch(() => ({}))) as Partial<Problem>)
  return response
}

/** Multipart upload, typed by the caller: the file itself is not part of the contract's types. */
export async function upload<T>(url: string, file: File, more: Record<string, string> = {}): Promise<T> {
  return (await (await post(url, file, more)).json()) as T
}

/** What follows a press once it went through; by its own promise, so that the next press does not drop it. What went wrong
 * the call itself shows. */
export const after = <T>(done: Promise<T>, then: (made: T) => void) => void done.then(then, () => {})
