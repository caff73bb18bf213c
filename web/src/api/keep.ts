import { useEffect, useRef, useState } from 'react'
import { useRefresh } from './changes'
import { Problem } from './client'

/** Keeping what was typed in a form: `keep` answers whether it was kept and the form still stands, so that it may close;
whoever went on to another one meanwhile stays there. A refusal keeps what was typed and says why: `fields` beside the
fields it names, `says` where it names none; `busy` while it is under way. */
export function useKeep() {
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
  return { keep, busy, fields, says: problem && Object.keys(fields).length === 0 ? problem.message : '' }
}
