import { useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import type { components } from './schema'
import { http, ok } from './client'
import { problemText } from './hooks'

type Progress = components['schemas']['JobOut']
const POLL_MS = 250

/** A job of the server, looked at until it is done; ended when its page goes or another one is started. */
export function useJob<T>(key: string, start: (() => Promise<Progress>) | null, done?: () => void) {
  const client = useQueryClient()
  const [shown, setShown] = useState<{ key: string; job: Progress } | null>(null)
  const [problem, setProblem] = useState('')
  const id = useRef('')
  const latest = useRef({ start, done })
  useEffect(() => {
    latest.current = { start, done }
  })
  const wanted = start !== null
  useEffect(() => {
    if (!wanted || !key) return
    let gone = false
    let timer = 0
    const end = (jobId: string) => void http.DELETE('/api/jobs/{job_id}', { params: { path: { job_id: jobId } } })
    const take = (job: Progress) => {
      if (gone) return end(job.id)
      id.current = job.id
      setShown({ key, job })
      setProblem(job.error)
      if (job.state === 'running') timer = window.setTimeout(look, POLL_MS)
      else latest.current.done?.()
    }
    const fail = (e: Error) => !gone && setProblem(problemText(e))
    const look = () => void ok(http.GET('/api/jobs/{job_id}', { params: { path: { job_id: id.current } } })).then(take).catch(fail)
    timer = window.setTimeout(() => latest.current.start?.().then(take).catch(fail), 0)
    return () => {
      gone = true
      window.clearTimeout(timer)
      if (id.current) end(id.current)
      id.current = ''
    }
  }, [key, wanted, client])
  const stop = () => void http.DELETE('/api/jobs/{job_id}', { params: { path: { job_id: id.current } } })
  const job = shown?.key === key ? shown.job : null
  return { job, result: (job?.result ?? null) as T | null, problem, running: job?.state === 'running' || (wanted && !job && !problem), stop }
}
