import { useState } from 'react'
import { useNavigate } from 'react-router'
import { useRefresh } from '@/api/changes'
import { answer, client, newId, Problem } from '@/api/client'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { TextField } from '@/ui/text-field'

/** A place of cloth that did not stick: one tap puts lifting, coating both faces, drying and setting into the plan. */
export function DidNotStick({ partId, job }: { partId: string; job: string }) {
  const refresh = useRefresh()
  const go = useNavigate()
  const [id] = useState(newId)
  const [where, setWhere] = useState('')
  const [problem, setProblem] = useState('')
  const put = async () => {
    try {
      const path = { params: { path: { part_id: partId } } }
      await answer(client.POST('/api/v1/parts/{part_id}/jobs/again', { ...path, body: { id, job, where } }))
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      setProblem(error.message)
      return
    }
    await refresh()
    go(`/part/${partId}/steps`)
  }
  return (
    <section aria-label="A place did not stick" className="flex flex-col gap-2 border-line border-t pt-4">
      <h3 className="font-semibold text-xl">A place did not stick?</h3>
      <div className="flex flex-wrap items-end gap-3">
        <TextField label="Where" value={where} onChange={setWhere} className="w-72" />
        <Button quiet onClick={() => void put()}>
          Lift it, coat both, set it again
        </Button>
      </div>
      {problem && <Notice tone="stop">{problem}</Notice>}
    </section>
  )
}
