import { useState } from 'react'
import { useNavigate } from 'react-router'
import { useRefresh } from '@/api/changes'
import { answer, client, type JobHead, newId, Problem } from '@/api/client'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { TextField } from '@/ui/text-field'

/** So long after one is put into the plan no other is [ms]. */
const SETTLES_MS = 1500

type Props = { partId: string; job: string; again: NonNullable<JobHead['again']> }

/** Some of a job done again at one tap: a place of cloth set again, one more fill. */
export function DoAgain({ partId, job, again }: Props) {
  const refresh = useRefresh()
  const go = useNavigate()
  const [id, setId] = useState(newId)
  const [settling, setSettling] = useState(false)
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
    setProblem('')
    setWhere('')
    // The next press is another place; the same finger a second later is not.
    setId(newId())
    setSettling(true)
    setTimeout(() => setSettling(false), SETTLES_MS)
    await refresh()
    go(`/part/${partId}/steps`)
  }
  return (
    <section aria-label={again.question} className="flex flex-col gap-2 border-line border-t pt-4">
      <h3 className="font-semibold text-xl">{again.question}</h3>
      <div className="flex flex-wrap items-end gap-3">
        {again.where && <TextField label="Where" value={where} onChange={setWhere} className="w-72" />}
        <Button quiet disabled={settling} onClick={() => void put()}>
          {again.words}
        </Button>
      </div>
      {problem && <Notice tone="stop">{problem}</Notice>}
    </section>
  )
}
