import { answer, client, type JobView, type PartHead } from '@/api/client'
import { useEdit } from '@/api/edit'
import { useJob } from '@/api/questions'
import { Button } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { GivenField } from '@/ui/given-field'
import { Notice } from '@/ui/notice'
import { Pick } from '@/ui/pick'

type Change = { given?: Record<string, string>; products?: Record<string, string> }
type Props = { partId: string; job: string; head: PartHead }

/** What a job is given, as its recipe asks it, and the products it is built with. */
export function WhatTab({ partId, job, head }: Props) {
  const answerOf = useJob(partId, job)
  const view = answerOf.data
  if (answerOf.error && !view) return <Notice tone="stop">{answerOf.error.message}</Notice>
  return view ? <Form key={view.key} view={view} partId={partId} head={head} /> : null
}

function Form({ view, partId, head }: { view: JobView; partId: string; head: PartHead }) {
  const edit = useEdit(view.version)
  const path = { params: { path: { part_id: partId } } }
  const change = (what: Change | { move: 'sooner' | 'later' } | { hidden: boolean }) =>
    edit.save((version) =>
      answer(
        client.PATCH('/api/v1/parts/{part_id}/job', { ...path, body: { job: view.key, version, ...what } }),
      ),
    )
  const problems = edit.problem?.fields ?? {}
  const at = head.jobs.findIndex((one) => one.key === view.key)
  const said = [...view.given.map((field) => field.field), ...view.roles.map((role) => role.role)]
  return (
    <div className="flex flex-col gap-6">
      <p className="max-w-2xl text-lg">{view.about}</p>
      {view.cant.length > 0 && (
        <Notice tone="stop">
          <span className="font-semibold">It can’t be made yet.</span> Everything else is planned without it.
          <ul className="mt-1 list-disc pl-5">
            {view.cant.map((reason) => (
              <li key={reason} className="first-letter:uppercase">
                {reason}.
              </li>
            ))}
          </ul>
        </Notice>
      )}
      {view.asks.map((words) => (
        <Notice key={words} tone="care">
          {words}
        </Notice>
      ))}
      <EditProblem edit={edit} shownInFields={said} />
      <div className="grid gap-8 lg:grid-cols-2">
        <section className="flex flex-col gap-3">
          <h3 className="font-semibold text-xl">Built with</h3>
          {view.roles.map((role) => (
            <div key={role.role}>
              <Pick
                label={role.label}
                value={role.sheet_id}
                placeholder={`Choose a ${role.label.toLowerCase()}`}
                choices={role.choices.map((choice) => ({ value: choice.id, name: choice.name }))}
                onChange={(sheet) => void change({ products: { [role.role]: sheet } })}
              />
              <p className="mt-1 text-soft text-sm">
                {role.choices.length === 0
                  ? 'None on the shelf: put its data sheet there under Stores.'
                  : role.stages.length > 0 &&
                    `Its sheet must give the hours to ${role.stages.map((name) => `“${name}”`).join(' and ')}.`}
              </p>
            </div>
          ))}
        </section>
        <section className="flex flex-col gap-3">
          <h3 className="font-semibold text-xl">What it is given</h3>
          {view.given.length === 0 && (
            <p className="text-soft">Its amounts and hours follow from the part’s shape and the ply book.</p>
          )}
          <div className="grid items-end gap-3 sm:grid-cols-2">
            {view.given.map((field) => (
              <GivenField
                key={field.field}
                field={field}
                problem={problems[field.field]}
                onSave={(text) => change({ given: { [field.field]: text } })}
              />
            ))}
          </div>
        </section>
      </div>
      {view.shared.length > 0 && (
        <p className="text-soft">Whatever is changed here counts for {view.shared.join(', ')} too.</p>
      )}
      <section className="flex flex-wrap gap-3 border-line border-t pt-4">
        <Button quiet disabled={at <= 0} onClick={() => void change({ move: 'sooner' })}>
          Do it one job sooner
        </Button>
        <Button quiet disabled={at === head.jobs.length - 1} onClick={() => void change({ move: 'later' })}>
          Do it one job later
        </Button>
        <Button quiet onClick={() => void change({ hidden: true })}>
          Take this job out
        </Button>
      </section>
    </div>
  )
}
