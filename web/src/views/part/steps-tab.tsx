import { useRef, useState } from 'react'
import { useSearchParams } from 'react-router'
import { answer, client, newId, type StepView, type TimesView } from '@/api/client'
import { useEdit } from '@/api/edit'
import { usePlannedStep } from '@/api/loom-questions'
import { usePeople, usePieces, useTimes } from '@/api/questions'
import { Actions, useWork } from '@/app/work'
import { Button, ButtonLink } from '@/ui/button'
import { DayField, isDay } from '@/ui/day-field'
import { EditProblem } from '@/ui/edit-problem'
import { FigureValue } from '@/ui/figure'
import { Notice } from '@/ui/notice'
import { Pick } from '@/ui/pick'
import { SavedField } from '@/ui/saved-field'
import { TextField } from '@/ui/text-field'
import { Toggles } from '@/ui/toggles'
import { TimeLine } from '@/weave/time-line'
import { BuiltFrom } from './built-from'
import { Deliveries, Learned } from './step-extras'
import { StepItems } from './step-items'
import { Ways } from './ways'

type StepsProps = { partId: string; job: string; several: boolean; lit: number | null }

export function StepsTab({ partId, job, several, lit }: StepsProps) {
  const [laidIn] = usePieces(partId, lit === null ? null : job).data?.laid_in[String(lit)] ?? []
  const [start, setStart] = useState('')
  const [params] = useSearchParams()
  const [picked, setPicked] = useState(params.get('step') ?? '')
  const times = useTimes(partId, isDay(start) ? start : '')
  const view = times.data && several ? ofJob(times.data, job) : times.data
  const chosen =
    view?.steps.find((step) => step.key === (picked || laidIn)) ??
    view?.steps.find((step) => step.knots.length > 0) ??
    view?.steps[0]
  const detail = useRef<HTMLDivElement>(null)
  // What is touched is told further down: it is brought to where it can be read.
  const pick = (key: string) => {
    setPicked(key)
    const top = detail.current?.getBoundingClientRect().top ?? 0
    if (top > window.innerHeight * 0.6) detail.current?.scrollIntoView({ behavior: 'smooth' })
  }
  // All at once: what comes in above would push away what is being touched below.
  if (times.isPending) return null
  return (
    <div className="flex flex-col gap-5">
      {times.error && <Notice tone="stop">{times.error.message}</Notice>}
      {view?.sentence && <p className="text-xl">{view.sentence}</p>}
      {view?.ask && <Notice tone="care">{view.ask}</Notice>}
      {view?.span && <TimeLine view={view} picked={chosen?.key ?? ''} onPick={pick} />}
      {view && <LeftOut left={view.left} partId={partId} />}
      <div ref={detail} className="grid scroll-mt-24 gap-8 lg:grid-cols-[1.5fr_1fr]">
        {chosen && view ? (
          <StepDetail key={chosen.key} step={chosen} view={view} partId={partId} trying={isDay(start)} />
        ) : (
          <div />
        )}
        <div className="flex flex-col gap-6">
          <section className="flex flex-col gap-2">
            <h2 className="font-semibold text-xl">Try another start</h2>
            <p className="text-soft text-sm">Nothing of it is kept.</p>
            <div className="flex flex-wrap items-end gap-3">
              <DayField
                label="As if nothing began before"
                withTime
                value={start}
                onChange={setStart}
                className="min-w-48 flex-1"
              />
              <Button quiet onClick={() => setStart('')} disabled={!start}>
                As planned
              </Button>
            </div>
          </section>
          {view && <AddStep view={view} partId={partId} after={chosen?.key ?? ''} />}
          <BuiltFrom partId={partId} />
          <section className="flex flex-col items-start gap-2">
            <h2 className="font-semibold text-xl">Shop temperature</h2>
            <p className="text-soft text-sm">{view?.temperature}</p>
            <ButtonLink quiet to="/air">
              The shop’s air
            </ButtonLink>
          </section>
        </div>
      </div>
    </div>
  )
}

/** The same times, only with the steps of one job; a turning stands with the first. */
function ofJob(view: TimesView, job: string): TimesView {
  const steps = view.steps.filter((step) => step.job === job)
  const left = view.left.filter((one) => one.job === job)
  return { ...view, steps, left, sentence: left.length > 0 ? view.sentence : '' }
}

type DetailProps = { step: StepView; view: TimesView; partId: string; trying: boolean }

function StepDetail({ step, view, partId, trying }: DetailProps) {
  const edit = useEdit(step.version)
  const work = useWork()
  const actions = usePlannedStep(partId, step.key).data?.actions ?? []
  const path = { params: { path: { part_id: partId } } }
  const saveMinutes = (text: string | null) =>
    edit.save((version) =>
      answer(
        client.PATCH('/api/v1/parts/{part_id}/minutes', {
          ...path,
          body: { version, step_key: step.key, minutes: text === null ? null : { text, unit: 'min' } },
        }),
      ),
    )
  const stationKinds = usePeople().data?.kinds ?? []
  const saveName = (name: string) =>
    edit.save((version) =>
      answer(
        client.PATCH('/api/v1/parts/{part_id}/step-name', {
          ...path,
          body: { version, step_key: step.key, name },
        }),
      ),
    )
  const saveStations = (stations: string[]) =>
    edit.save((version) =>
      answer(
        client.PATCH('/api/v1/parts/{part_id}/step-stations', {
          ...path,
          body: { version, step_key: step.key, stations },
        }),
      ),
    )
  const drop = () =>
    edit.save((version) =>
      answer(
        client.POST('/api/v1/parts/{part_id}/steps/drop', {
          ...path,
          body: { version, step_key: step.key },
        }),
      ),
    )
  return (
    <section className="flex flex-col gap-2">
      <h2 className="font-semibold text-xl">{step.name}</h2>
      <p>{step.words}</p>
      {step.skipped && <Notice tone="care">It does not apply: {step.skipped}</Notice>}
      {step.open_time && <Notice tone="stop">{step.open_time}</Notice>}
      {step.who.length > 0 && step.state !== 'done' && <p>{step.who.join(', ')}</p>}
      {step.state !== 'done' && <p className="text-soft">{step.why}</p>}
      {!trying && <Actions actions={actions} work={work} />}
      {work.said && <Notice tone={work.failed ? 'stop' : 'ready'}>{work.said}</Notice>}
      {/* What the plan made by itself is no job's to be changed: a turning, the list before a closing. */}
      {step.state !== 'done' && step.version > 0 && (
        <div className="flex flex-wrap items-end gap-3">
          <SavedField
            label="Hands-on"
            saved={`${Math.round(step.minutes)} min`}
            problem={edit.problem?.fields.minutes}
            onSave={saveMinutes}
            className="w-36"
          />
          {step.edited && (
            <Button quiet onClick={() => void saveMinutes(null)}>
              As assumed again
            </Button>
          )}
          <SavedField label="Called" saved={step.name} onSave={saveName} className="min-w-48 flex-1" />
          {step.own && (
            <Button quiet onClick={() => void drop()}>
              Take this step out
            </Button>
          )}
          {step.own && (
            <Toggles
              label="Stands on"
              known={[...new Set([...stationKinds, ...step.stations])]}
              chosen={step.stations}
              onChange={(stations) => void saveStations(stations)}
            />
          )}
          <p className="basis-full text-soft text-sm">
            {step.estimate}
            {view.mirrored.length > 0 && ` Changed for ${view.mirrored.join(', ')} too.`}
          </p>
        </div>
      )}
      {step.unserved.map((kind) => (
        <Notice key={kind} tone="care">
          It asks for a {kind}, and nothing in the shop serves as one: it is planned as if there were room.
          <ButtonLink quiet to={`/crew?serves=${encodeURIComponent(kind)}`} className="mt-2">
            Set a {kind} up
          </ButtonLink>
        </Notice>
      ))}
      {step.learned && <Learned words={step.learned} used={step.learned_used} />}
      <EditProblem edit={edit} shownInFields={['minutes']} />
      {step.has_sheet && (
        <ButtonLink quiet to={`/run/${partId}/${encodeURIComponent(step.key)}`} className="self-start">
          Run sheet
        </ButtonLink>
      )}
      {step.state !== 'done' && step.version > 0 && <Deliveries partId={partId} stepKey={step.key} />}
      {step.state !== 'done' && step.version > 0 && <StepItems partId={partId} stepKey={step.key} />}
      {step.caution && (
        <p className="text-sm">
          <span className="font-semibold">Take care:</span> {step.caution} The maker’s instructions decide.
        </p>
      )}
      {step.knots.length > 0 && (
        <table className="mt-1 w-full">
          <tbody>
            {step.knots.map((knot) => (
              <tr key={knot.name} className="border-line border-b">
                <th className="py-1 pr-4 text-left font-semibold capitalize">{knot.name}</th>
                <td className="py-1 pr-4">{knot.words}</td>
                <td className="whitespace-nowrap py-1 text-right">
                  {knot.figure && <FigureValue figure={knot.figure} bare />}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {step.stalled && <Notice tone="care">{step.stalled}</Notice>}
      {step.knots.length > 0 && (
        <p className="text-soft text-sm">
          “Check from”, not “done at”: a reading on the thin witness of each mix releases the part.
        </p>
      )}
    </section>
  )
}

type AddProps = { view: TimesView; partId: string; after: string }

/** A step of the shop's own: what the recipe does not know of. */
function AddStep(props: AddProps) {
  const [open, setOpen] = useState(false)
  if (open) return <OwnStep {...props} onDone={() => setOpen(false)} />
  return (
    <div>
      <Button quiet onClick={() => setOpen(true)}>
        Add a step of our own…
      </Button>
    </div>
  )
}

/** What is typed stays, whatever is changed of the job meanwhile. */
function OwnStep({ view, partId, after, onDone }: AddProps & { onDone: () => void }) {
  const [id] = useState(newId)
  const [name, setName] = useState('')
  const [minutes, setMinutes] = useState('')
  const [wait, setWait] = useState('')
  const [people, setPeople] = useState('1')
  const [before, setBefore] = useState('')
  const [access, setAccess] = useState(false)
  const [skills, setSkills] = useState<string[]>([])
  const known = usePeople().data?.skills ?? []
  const edit = useEdit(view.steps.find((step) => step.key === (before || after))?.version)
  const problems = edit.problem?.fields ?? {}
  const add = async () => {
    const added = await edit.save((version) =>
      answer(
        client.POST('/api/v1/parts/{part_id}/steps', {
          params: { path: { part_id: partId } },
          body: {
            version,
            id,
            name,
            after: before || after,
            minutes: { text: minutes, unit: 'min' },
            people: Number(people),
            wait: { text: wait || '0', unit: 'min' },
            access,
            skills,
          },
        }),
      ),
    )
    if (added) onDone()
  }
  return (
    <section className="flex flex-col gap-3">
      <h2 className="font-semibold text-xl">A step of our own</h2>
      <TextField label="What is done" value={name} problem={problems.name} onChange={setName} />
      <Pick
        label="After"
        value={before || after}
        choices={view.steps.map((step) => ({ value: step.key, name: step.name }))}
        onChange={setBefore}
      />
      <div className="grid grid-cols-3 gap-3">
        <TextField
          label="Hands-on"
          unit="min"
          value={minutes}
          problem={problems.minutes}
          onChange={setMinutes}
        />
        <Pick
          label="People"
          value={people}
          choices={['0', '1', '2', '3', '4'].map((n) => ({ value: n, name: n }))}
          onChange={setPeople}
        />
        <TextField label="Then wait" unit="min" value={wait} problem={problems.wait} onChange={setWait} />
      </div>
      <Toggles label="Somebody who can do" known={known} chosen={skills} onChange={setSkills} />
      <label className="flex min-h-11 items-center gap-3">
        <input
          type="checkbox"
          checked={access}
          onChange={(event) => setAccess(event.target.checked)}
          className="size-6"
        />
        It needs access: it comes before the part is closed
      </label>
      <EditProblem edit={edit} shownInFields={['name', 'minutes', 'wait']} />
      <div className="flex gap-3">
        <Button onClick={() => void add()}>Add it</Button>
        <Button quiet onClick={onDone}>
          Leave it
        </Button>
      </div>
    </section>
  )
}

/** The first step that can't be placed, why, and how it could go; what only comes after it is counted. */
function LeftOut({ left, partId }: { left: TimesView['left']; partId: string }) {
  const [all, setAll] = useState(false)
  const [first, ...rest] = left
  if (!first) return null
  return (
    <div className="flex flex-col gap-3">
      <Notice tone="stop">
        <span className="font-semibold">{first.name}</span> is left out: {first.why}.
      </Notice>
      {first.decide && (
        <ButtonLink className="self-start" to={`/part/${first.decide[0]}/${first.decide[1]}`}>
          Look and decide
        </ButtonLink>
      )}
      {first.cold && <Ways partId={partId} stepKey={first.key} />}
      {rest.length > 0 && (
        <Button quiet className="self-start" aria-expanded={all} onClick={() => setAll(!all)}>
          {rest.length === 1 ? 'One more step is' : `${rest.length} more steps are`} left out with it
        </Button>
      )}
      {all &&
        rest.map((one) => (
          <p key={one.key}>
            <span className="font-semibold">{one.name}</span>: {one.why}.
          </p>
        ))}
    </div>
  )
}
