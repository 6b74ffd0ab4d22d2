import { useEffect, useRef, useState } from 'react'
import type { components } from './schema'
import { http, isSilent, ok } from './client'
import { problemText } from './hooks'

type Progress = components['schemas']['JobOut']
const POLL_MS = 250
const AGAIN_MS = 1500 // after a look that nothing answered: the job goes on over there

interface Job {
  id: string
  state: string
}

/** Begin a job of the server after a wait, and look at it until it is done. take: each look, the last one too; say: what
 * went wrong. A look that nothing answered is made again. leave: nobody is interested any more. */
export function follow<J extends Job>(p: { begin: () => Promise<J>; wait: number; look: (id: string) => Promise<J>; end: (id: string) => Promise<unknown>; take: (job: J) => void; say: (e: Error) => void }) {
  let gone = false
  let id = ''
  const drop = (job: string) => void p.end(job).catch(() => undefined)
  const next = (job: J) => {
    if (gone) return drop(job.id)
    id = job.id
    p.take(job)
    if (job.state === 'running') timer = window.setTimeout(look, POLL_MS)
  }
  const fail = (e: Error) => {
    if (gone) return
    p.say(e)
    if (id && isSilent(e)) timer = window.setTimeout(look, AGAIN_MS)
  }
  const look = () => void p.look(id).then(next).catch(fail)
  let timer = window.setTimeout(() => void p.begin().then(next).catch(fail), p.wait)
  return {
    stop: () => void p.end(id).catch((e: Error) => !gone && p.say(e)),
    leave: () => {
      gone = true
      window.clearTimeout(timer)
      if (id) drop(id)
    },
  }
}

const place = (id: string) => ({ params: { path: { job_id: id } } })

/** A job of the server, looked at until it is done; ended when its page goes or another one is started. */
export function useJob<T>(key: string, start: (() => Promise<Progress>) | null, done?: () => void) {
  const [shown, setShown] = useState<{ key: string; job: Progress } | null>(null)
  const [problem, setProblem] = useState('')
  const followed = useRef<ReturnType<typeof follow> | null>(null)
  const latest = useRef({ start, done })
  useEffect(() => {
    latest.current = { start, done }
  })
  const wanted = start !== null
  useEffect(() => {
    if (!wanted || !key) return
    const now = follow<Progress>({
      begin: () => latest.current.start!(),
      wait: 0,
      look: (id) => ok(http.GET('/api/jobs/{job_id}', place(id))),
      end: (id) => ok(http.DELETE('/api/jobs/{job_id}', place(id))),
      take: (job) => {
        setShown({ key, job })
        setProblem(job.error)
        if (job.state !== 'running') latest.current.done?.()
      },
      say: (e) => setProblem(problemText(e)),
    })
    followed.current = now
    return now.leave
  }, [key, wanted])
  const job = shown?.key === key ? shown.job : null
  return { job, result: (job?.result ?? null) as T | null, problem, running: job?.state === 'running' || (wanted && !job && !problem), stop: () => followed.current?.stop() }
}
