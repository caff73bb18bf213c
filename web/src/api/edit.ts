import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Problem } from './client'

type Save = (version: number) => Promise<unknown>

/** Saving something others may be editing too.

A refusal keeps what was typed and says why; a stale save shows what the other browser
changed, and is done again only when told to. */
export function useEdit(version: number | undefined) {
  const queries = useQueryClient()
  const [problem, setProblem] = useState<Problem | null>(null)
  const [pending, setPending] = useState<Save | null>(null)

  const run = async (save: Save, on: number) => {
    try {
      await save(on)
      setProblem(null)
      setPending(null)
      await queries.invalidateQueries()
      return true
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      setProblem(error)
      setPending(() => (error.status === 409 ? save : null))
      return false
    }
  }

  return {
    problem,
    stale: pending !== null,
    save: (save: Save) => run(save, version ?? 0),
    saveOver: () => (pending && problem?.version ? run(pending, problem.version) : Promise.resolve(false)),
    takeTheirs: async () => {
      setProblem(null)
      setPending(null)
      await queries.invalidateQueries()
    },
    clear: () => setProblem(null),
  }
}

export type Edit = ReturnType<typeof useEdit>
