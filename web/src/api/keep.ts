import { useState } from 'react'
import { useRefresh } from './changes'
import { Problem } from './client'

/** Keeping what was typed in a form: `keep` answers whether it was kept. A refusal keeps what was typed and says why:
`fields` beside the fields it names, `says` where it names none. */
export function useKeep() {
  const refresh = useRefresh()
  const [problem, setProblem] = useState<Problem | null>(null)
  const keep = async (send: () => Promise<unknown>): Promise<boolean> => {
    try {
      await send()
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      setProblem(error)
      return false
    }
    setProblem(null)
    await refresh()
    return true
  }
  const fields = problem?.fields ?? {}
  return { keep, fields, says: problem && Object.keys(fields).length === 0 ? problem.message : '' }
}
