import { useEffect, useRef, useState } from 'react'
import { useRefresh } from './changes'
import { Problem } from './client'

/** Keeping what was typed in a form: `keep` answers whether it was kept and the form still stands, so that it may close;
whoever went on to another one meanwhile stays there. A refusal keeps what was typed and says why: `fields` beside those
that are `shown`, `says` of all else; `busy` while it is under way. */
export function useKeep(shown: readonly string[] = []) {
  const refresh = useRefresh()
  const [problem, setProblem] = useState<Problem | null>(null)
  const [busy, setBusy] = useState(false)
  const stands = useRef(false)
  useEffect(() => {
    stands.current = true
    return () => {
      stands.current = false
    }
  }, [])
  const keep = async (send: () => Promise<unknown>): Promise<boolean> => {
    setBusy(true)
    try {
      return await kept(send)
    } finally {
      setBusy(false)
    }
  }
  const kept = async (send: () => Promise<unknown>): Promise<boolean> => {
    try {
      await send()
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      setProblem(error)
      return false
    }
    setProblem(null)
    await refresh()
    return stands.current
  }
  const fields = problem?.fields ?? {}
  const others = Object.keys(fields).filter((field) => !shown.includes(field))
  const says =
    problem && Object.keys(fields).length === 0
      ? problem.message
      : others.map((field) => fields[field]).join('; ')
  return { keep, busy, fields, says }
}
