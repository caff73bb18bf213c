import { useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { answer, type CutPlanView, client, newId } from '@/api/client'
import { useEdit } from '@/api/edit'
import { useKeep } from '@/api/keep'
import { useCutPlan } from '@/api/questions'
import { Button } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { Notice } from '@/ui/notice'
import { OneOf } from '@/ui/one-of'
import { SavedField } from '@/ui/saved-field'
import { Compare } from './compare'
import { Jobs } from './jobs'
import { Way } from './way'

/** A cut plan: what is cut together, ways of cutting it side by side, the layout of the one that is picked. */
export default function CutPlanPage() {
  const { plan = '' } = useParams()
  const asked = useCutPlan(plan)
  if (asked.error && !asked.data)
    return (
      <Notice tone="stop" className="m-6">
        {asked.error.message}
      </Notice>
    )
  return asked.data ? <Plan key={asked.data.id} view={asked.data} /> : null
}

type Change = {
  name?: string
  rows?: { part_id: string; job: string | null }[]
  plies?: 'all' | 'on the bias' | 'not on the bias'
  hidden?: boolean
}

function Plan({ view }: { view: CutPlanView }) {
  const edit = useEdit(view.version)
  const { keep, busy, says } = useKeep()
  const leave = useNavigate()
  const [picked, setPicked] = useState('')
  const [choosing, setChoosing] = useState(false)
  const way =
    view.ways.find((one) => one.id === picked) ?? view.ways.find((one) => one.cut_at) ?? view.ways[0]
  const chosen = view.jobs.filter((job) => job.chosen)
  const change = (what: Change) =>
    edit.save((version) =>
      answer(
        client.PATCH('/api/v1/cut-plans/{plan_id}', {
          params: { path: { plan_id: view.id } },
          body: { version, ...what },
        }),
      ),
    )
  const another = async () => {
    if (!way) return
    const id = newId()
    const params = { path: { plan_id: view.id } }
    const body = { id, like: way.id }
    if (await keep(() => answer(client.POST('/api/v1/cut-plans/{plan_id}/ways', { params, body }))))
      setPicked(id)
  }
  const parts = [...new Set(chosen.map((job) => job.part))]
  return (
    <div className="mx-auto flex max-w-[90rem] flex-col gap-5 p-6 max-sm:p-4">
      <header className="flex flex-wrap items-end justify-between gap-x-6 gap-y-3">
        <div className="min-w-0">
          <p className="text-soft">
            <Link to="/cut" className="underline">
              Cut plans
            </Link>
          </p>
          <h1 className="font-semibold text-2xl">{view.name}</h1>
          <p className="text-soft">
            {view.plies !== 'all' && `Plies ${view.plies}: `}
            {parts.length > 3
              ? `${parts.slice(0, 3).join(', ')} and ${parts.length - 3} more`
              : parts.join(', ')}
          </p>
        </div>
        <div className="flex flex-wrap gap-3">
          <Button quiet onClick={() => setChoosing(true)}>
            What is cut
          </Button>
          <Button quiet disabled={busy} onClick={() => void another()}>
            Compare another way
          </Button>
        </div>
      </header>
      <EditProblem edit={edit} shownInFields={['name']} />
      {says && <Notice tone="stop">{says}</Notice>}
      {[...view.twice, ...view.lacks].map((words) => (
        <Notice key={words} tone="care">
          {words}
        </Notice>
      ))}
      {chosen.length === 0 && (
        <p className="text-lg">
          Nothing is in it yet.{' '}
          <button type="button" className="underline" onClick={() => setChoosing(true)}>
            Choose what is cut.
          </button>
        </p>
      )}
      {view.ways.length > 1 && way && <Compare view={view} picked={way.id} onPick={setPicked} />}
      {way && <Way key={way.id} plan={view} way={way} />}
      <p className="text-soft text-sm">{view.cautions}</p>
      <Jobs
        view={view}
        open={choosing}
        onClose={() => setChoosing(false)}
        onChange={(rows) => change({ rows })}
      >
        {view.which.length > 0 && (
          <OneOf
            label="Of their plies"
            value={view.plies}
            choices={view.which.map((value) => ({ value, name: value }))}
            onChange={(plies) => void change({ plies: plies as Change['plies'] })}
          />
        )}
        <SavedField
          label="Name of the plan"
          saved={view.name}
          problem={edit.problem?.fields.name}
          onSave={(name) => change({ name })}
        />
        <Button
          quiet
          className="self-start"
          onClick={async () => {
            if (await change({ hidden: true })) void leave('/cut')
          }}
        >
          Put this plan away
        </Button>
      </Jobs>
    </div>
  )
}
