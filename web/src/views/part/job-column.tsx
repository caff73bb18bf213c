import { clsx } from 'clsx'
import { Plus } from 'lucide-react'
import { useEffect, useState } from 'react'
import { useSearchParams } from 'react-router'
import { answer, client, type JobHead, type PartHead } from '@/api/client'
import { useEdit } from '@/api/edit'
import { Button } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { SideSheet } from '@/ui/side-sheet'
import { AddJob, keptDraft } from './add-job'

const MARK: Record<JobHead['state'], string> = {
  done: 'edge-ready',
  now: 'edge-work',
  ahead: 'edge-ahead',
  "can't be made": 'edge-stop',
}

type Props = { head: PartHead; job: string; chosen: boolean; onPick: (job: string, tab?: string) => void }

/** A part's jobs in the order they are done, one of them chosen; another can be put between any two. */
export function JobColumn({ head, job, chosen, onPick }: Props) {
  const [query] = useSearchParams()
  // A job that was begun before, and the first of a part that was just founded, are open at once.
  const [after, setAfter] = useState<{ key: string | null } | null>(() => {
    const kept = keptDraft(head.id)
    if (kept) return { key: kept.after }
    return query.has('first') && head.jobs.length === 0 ? { key: null } : null
  })
  const [added, setAdded] = useState('')
  const fresh = head.jobs.find((one) => one.id === added)
  // What was added is what one goes on with.
  useEffect(() => {
    if (!fresh) return
    setAdded('')
    onPick(fresh.key, 'what')
  }, [fresh, onPick])
  return (
    <nav aria-label="Jobs" className="flex flex-col">
      <h2 className="mb-2 font-semibold text-xl">Jobs</h2>
      {head.jobs.length === 0 && (
        <p className="px-4 pb-2 text-soft">It has no job yet: a job is one way of building, like varnish.</p>
      )}
      <AddHere where="before all others" onAdd={() => setAfter({ key: null })} />
      {head.jobs.map((one, index) => (
        <div key={one.key} className="flex flex-col">
          <button
            type="button"
            aria-current={chosen && one.key === job ? 'true' : undefined}
            onClick={() => onPick(one.key)}
            className={clsx(
              MARK[one.state],
              'min-h-16 bg-panel px-4 py-2 text-left hover:bg-woad-wash',
              chosen && one.key === job && 'outline-2 outline-ink -outline-offset-2',
            )}
          >
            <span className="block font-semibold text-lg first-letter:uppercase">
              {index + 1} · {one.name}
            </span>
            <span className="block text-soft text-sm">
              <span className="font-semibold text-ink">{one.state}</span>
              {one.state === "can't be made" ? ': ' : '. '}
              {one.sentence}.
            </span>
          </button>
          <AddHere where={`after ${one.name}`} onAdd={() => setAfter({ key: one.key })} />
        </div>
      ))}
      {head.hidden.map((one) => (
        <PutBack key={one.key} partId={head.id} job={one} onDone={() => onPick(one.key)} />
      ))}
      <SideSheet open={after !== null} onClose={() => setAfter(null)} title="Add a job">
        {after && (
          <AddJob
            key={String(after.key)}
            head={head}
            after={after.key}
            onClose={() => setAfter(null)}
            onDone={(id) => {
              setAfter(null)
              setAdded(id)
            }}
          />
        )}
      </SideSheet>
    </nav>
  )
}

function AddHere({ where, onAdd }: { where: string; onAdd: () => void }) {
  return (
    <button
      type="button"
      aria-label={`Add a job here: ${where}`}
      onClick={onAdd}
      className="flex min-h-11 items-center gap-2 px-4 text-soft hover:text-ink"
    >
      <Plus aria-hidden size={18} /> Add a job here
    </button>
  )
}

type PutBackProps = { partId: string; job: PartHead['hidden'][number]; onDone: () => void }

function PutBack({ partId, job, onDone }: PutBackProps) {
  const edit = useEdit(job.version)
  const back = async () => {
    const path = { params: { path: { part_id: partId } } }
    const put = (version: number) =>
      answer(
        client.PATCH('/api/v1/parts/{part_id}/job', {
          ...path,
          body: { job: job.key, version, hidden: false },
        }),
      )
    if (await edit.save(put)) onDone()
  }
  return (
    <div className="flex flex-wrap items-center gap-3 border-line border-t py-2 pl-4 text-soft">
      <span className="flex-1">Taken out: {job.name}</span>
      <Button quiet onClick={() => void back()}>
        Put back
      </Button>
      <EditProblem edit={edit} />
    </div>
  )
}
