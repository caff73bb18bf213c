import { useState } from 'react'
import { useRefresh } from '@/api/changes'
import { answer, client, newId, Problem, type WeightView } from '@/api/client'
import { useEdit } from '@/api/edit'
import { useWeight } from '@/api/questions'
import { useUnitOf } from '@/app/formats'
import { Button } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { FigureValue } from '@/ui/figure'
import { Notice } from '@/ui/notice'
import { OneOf } from '@/ui/one-of'
import { Pick } from '@/ui/pick'
import { SavedField } from '@/ui/saved-field'
import { TakeBack } from '@/ui/take-back'
import { TextField } from '@/ui/text-field'
import { HingeSection } from './hinge-section'

/** What a part weighs: job by job as predicted, weighed before and after, the difference explained. */
export function WeightTab({ partId }: { partId: string }) {
  const weight = useWeight(partId)
  if (weight.error && !weight.data) return <Notice tone="stop">{weight.error.message}</Notice>
  const view = weight.data
  if (!view) return null
  return (
    <div className="flex flex-col gap-7">
      <Together view={view} />
      {view.jobs.map((job) => (
        <JobWeight key={job.job} job={job} />
      ))}
      {view.lacks.map((words) => (
        <p key={words} className="text-soft first-letter:uppercase">
          {words}.
        </p>
      ))}
      {view.jobs.length > 0 && <Weigh view={view} />}
      <HingeSection partId={partId} view={view.hinge} />
    </div>
  )
}

function Together({ view }: { view: WeightView }) {
  const edit = useEdit(view.version)
  const params = { path: { part_id: view.part_id } }
  const { arm_text: arm } = view
  return (
    <section aria-label="Together" className="flex flex-wrap items-start gap-x-8 gap-y-3">
      <FigureValue figure={view.now} />
      <div>
        <FigureValue figure={view.whole} />
        {view.band && <p className="px-2 text-soft text-sm">likely {view.band}</p>}
      </div>
      {view.arm && <FigureValue figure={view.arm} />}
      <div className="w-64">
        <SavedField
          label={`${view.arm ? 'Typed instead' : arm.label}, ${arm.unit}`}
          saved={arm.text}
          problem={edit.problem?.fields.arm}
          onSave={(text) =>
            edit.save((version) =>
              answer(
                client.PATCH('/api/v1/parts/{part_id}/arm', {
                  params,
                  body: { version, arm: { text, unit: arm.unit } },
                }),
              ),
            )
          }
        />
        <EditProblem edit={edit} shownInFields={['arm']} />
      </div>
    </section>
  )
}

function JobWeight({ job }: { job: WeightView['jobs'][number] }) {
  return (
    <section aria-label={job.name} className="flex flex-col gap-2 border-line border-t pt-3">
      <div className="flex flex-wrap items-baseline justify-between gap-x-6">
        <h3 className="font-semibold text-xl first-letter:uppercase">{job.name}</h3>
        <p>
          puts on <FigureValue figure={job.total} bare className="px-1" />
          {job.band && <span className="text-soft">, likely {job.band}</span>}
        </p>
      </div>
      <div className="flex flex-wrap gap-x-5 gap-y-1">
        {job.figures.map((figure) => (
          <FigureValue key={figure.key} figure={figure} />
        ))}
        {job.fibre && <FigureValue figure={job.fibre} />}
      </div>
      {job.weighed.map((one) => (
        <p key={one.id} className="flex flex-wrap items-center gap-3">
          {one.words}
          <TakeBack what="weighing" of_id={one.id} />
        </p>
      ))}
      {job.says && <Notice tone={job.holds ? 'ready' : 'care'}>{job.says}</Notice>}
    </section>
  )
}

function Weigh({ view }: { view: WeightView }) {
  const refresh = useRefresh()
  const unit = useUnitOf()('scale')
  const [job, setJob] = useState(view.jobs.find((one) => one.weighed.length === 0)?.job ?? '')
  const [moment, setMoment] = useState<'before' | 'after'>('after')
  const [weighs, setWeighs] = useState('')
  const [note, setNote] = useState('')
  const [id, setId] = useState(newId)
  const [problem, setProblem] = useState<Problem | null>(null)
  const keep = async (sure: boolean) => {
    const body = { id, job, moment, weighs: { text: weighs, unit }, sure, note }
    try {
      await answer(
        client.POST('/api/v1/parts/{part_id}/weighings', {
          params: { path: { part_id: view.part_id } },
          body,
        }),
      )
    } catch (error) {
      if (error instanceof Problem) setProblem(error)
      return
    }
    setProblem(null)
    setWeighs('')
    setNote('')
    setId(newId())
    await refresh()
  }
  return (
    <section aria-label="Weigh it" className="flex flex-col gap-3 border-line border-t pt-4">
      <h3 className="font-semibold text-xl">Weigh it</h3>
      <div className="grid items-start gap-3 sm:grid-cols-[14rem_1fr] xl:grid-cols-[13rem_1fr_11rem_1fr]">
        <OneOf
          label="When"
          value={moment}
          choices={[
            { value: 'before', name: 'Before' },
            { value: 'after', name: 'After' },
          ]}
          onChange={(value) => setMoment(value as typeof moment)}
        />
        <Pick
          label="Job"
          value={job || FIRST}
          choices={view.jobs.map((one) => ({ value: one.job || FIRST, name: one.name }))}
          onChange={(value) => setJob(value === FIRST ? '' : value)}
        />
        <TextField
          label="It weighs"
          unit={unit}
          value={weighs}
          problem={problem?.fields.weighs}
          inputMode="decimal"
          onChange={(text) => {
            setWeighs(text)
            setProblem(null)
          }}
        />
        <TextField label="Note" value={note} onChange={setNote} />
      </div>
      {problem?.fields.sure ? (
        <Notice tone="care" className="flex flex-wrap items-center gap-3">
          <span className="first-letter:uppercase">{problem.fields.sure}</span>
          <Button quiet onClick={() => void keep(true)}>
            Keep it all the same
          </Button>
        </Notice>
      ) : (
        problem && !problem.fields.weighs && <Notice tone="stop">{problem.message}</Notice>
      )}
      <Button className="self-start" disabled={!weighs.trim()} onClick={() => void keep(false)}>
        Keep this weight
      </Button>
    </section>
  )
}

/** The key of a part's first job is empty, which a list can't choose. */
const FIRST = 'first'
