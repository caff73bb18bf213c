import { clsx } from 'clsx'
import { Plus } from 'lucide-react'
import { useEffect, useState } from 'react'
import { answer, client, type JobHead, newId, type PartHead } from '@/api/client'
import { useEdit } from '@/api/edit'
import { Button } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { OneOf } from '@/ui/one-of'
import { SideSheet } from '@/ui/side-sheet'

const MARK: Record<JobHead['state'], string> = {
  done: 'edge-ready',
  now: 'edge-work',
  ahead: 'edge-ahead',
  "can't be made": 'edge-stop',
}

type Props = { head: PartHead; job: string; chosen: boolean; onPick: (job: string, tab?: string) => void }

/** A part's jobs in the order they are done, one of them chosen; another can be put between any two. */
export function JobColumn({ head, job, chosen, onPick }: Props) {
  const [after, setAfter] = useState<{ key: string | null } | null>(null)
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

type AddProps = { head: PartHead; after: string | null; onDone: (id: string) => void }

function AddJob({ head, after, onDone }: AddProps) {
  const edit = useEdit(0)
  const [id] = useState(newId)
  const [whose, setWhose] = useState('all')
  const add = async (recipe: string) => {
    const body = { id, recipe, after, alone: whose === 'alone' }
    const path = { params: { path: { part_id: head.id } } }
    if (await edit.save(() => answer(client.POST('/api/v1/parts/{part_id}/jobs', { ...path, body }))))
      onDone(id)
  }
  return (
    <div className="flex flex-col gap-4">
      {head.mirrored.length > 0 && (
        <OneOf
          label={`For ${head.mirrored.join(', ')} too?`}
          value={whose}
          choices={[
            { value: 'all', name: 'For all of them' },
            { value: 'alone', name: 'Only this part' },
          ]}
          onChange={setWhose}
        />
      )}
      <EditProblem edit={edit} />
      <ul className="flex flex-col gap-2">
        {head.ways.map((way) => (
          <li key={way.key}>
            <button
              type="button"
              onClick={() => void add(way.key)}
              className="min-h-14 w-full border-2 border-line px-4 py-2 text-left hover:border-ink"
            >
              <span className="block font-semibold first-letter:uppercase">{way.name}</span>
              <span className="block text-soft text-sm">{way.about}</span>
            </button>
          </li>
        ))}
      </ul>
    </div>
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
