import { useState } from 'react'
import { useNavigate } from 'react-router'
import { useRefresh } from '@/api/changes'
import { answer, client, newId } from '@/api/client'

/** Begins a plan and goes there. */
export function useBegin(): [
  string,
  (sheet: string, rows: { part_id: string; job: string }[]) => Promise<void>,
] {
  const go = useNavigate()
  const refresh = useRefresh()
  const [problem, setProblem] = useState('')
  const [id] = useState(newId)
  const begin = async (data_sheet_id: string, jobs: { part_id: string; job: string }[]) => {
    const rows = jobs.map(({ part_id, job }) => ({ part_id, job }))
    try {
      await answer(client.POST('/api/v1/cut-plans', { body: { id, data_sheet_id, rows } }))
    } catch (error) {
      setProblem(error instanceof Error ? error.message : 'Not done.')
      return
    }
    await refresh()
    void go(`/cut/${id}`)
  }
  return [problem, begin]
}
