import { useState } from 'react'
import { useRefresh } from '@/api/changes'
import { answer, client, newId, Problem, type WeightView } from '@/api/client'
import { useEdit } from '@/api/edit'
import { useUnitOf } from '@/app/formats'
import { Button } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { FigureValue } from '@/ui/figure'
import { Notice } from '@/ui/notice'
import { OneOf } from '@/ui/one-of'
import { TakeBack } from '@/ui/take-back'
import { TextField } from '@/ui/text-field'

type Props = { partId: string; view: WeightView['hinge'] }

/** A control surface about its hinge: predicted, read on its hinge, the balance weight it asks for. */
export function HingeSection({ partId, view }: Props) {
  const [open, setOpen] = useState(false)
  if (!view.given && !open)
    return (
      <section className="border-line border-t pt-4">
        <Button quiet onClick={() => setOpen(true)}>
          It is a control surface: say where it hinges
        </Button>
      </section>
    )
  return (
    <section aria-label="About its hinge" className="flex flex-col gap-4 border-line border-t pt-4">
      <h3 className="font-semibold text-xl">About its hinge</h3>
      {view.care.map((words) => (
        <Notice key={words} tone="stop">
          {words}
        </Notice>
      ))}
      <div className="flex flex-wrap gap-x-6 gap-y-1">
        {view.figures.map((figure) => (
          <FigureValue key={figure.key} figure={figure} />
        ))}
      </div>
      <HingeFields partId={partId} view={view} />
      {view.given && <Readings partId={partId} view={view} />}
      <p className="text-soft text-sm">{view.caution}</p>
    </section>
  )
}

function HingeFields({ partId, view }: Props) {
  const edit = useEdit(view.version)
  const kept = Object.fromEntries(view.fields.map((field) => [field.field, field.text]))
  const [typed, setTyped] = useState<Record<string, string>>({})
  const texts = { ...kept, ...typed }
  const changed = Object.entries(typed).some(([field, text]) => text !== kept[field])
  const keep = async () => {
    const params = { path: { part_id: partId } }
    const saved = await edit.save((version) =>
      answer(client.PATCH('/api/v1/parts/{part_id}/hinge', { params, body: { version, texts } })),
    )
    if (saved) setTyped((now) => (now === typed ? {} : now))
  }
  return (
    <div className="flex flex-col gap-3">
      <div className="grid items-start gap-3 sm:grid-cols-2">
        {view.fields.map((field) => (
          <TextField
            key={field.field}
            label={`${field.label}, ${field.unit}`}
            value={texts[field.field] ?? ''}
            problem={edit.problem?.fields[field.field]}
            onChange={(text) => setTyped({ ...typed, [field.field]: text })}
          />
        ))}
      </div>
      <EditProblem edit={edit} shownInFields={view.fields.map((field) => field.field)} />
      {changed && (
        <Button className="self-start" onClick={() => void keep()}>
          Keep its hinge
        </Button>
      )}
    </div>
  )
}

function Readings({ partId, view }: Props) {
  const refresh = useRefresh()
  const unitOf = useUnitOf()
  const units = { mass: unitOf('scale'), length: unitOf('step') }
  const [id, setId] = useState(newId)
  const [typed, setTyped] = useState({ reads: '', arm: '', mounted: '' })
  const [heavy, setHeavy] = useState<'tail' | 'nose'>('tail')
  const [problem, setProblem] = useState<Problem | null>(null)
  const keep = async () => {
    const { reads, arm, mounted } = typed
    const body = {
      id,
      heavy,
      reads: { text: reads, unit: units.mass },
      arm: { text: arm, unit: units.length },
      mounted: { text: mounted, unit: units.mass },
    }
    try {
      await answer(
        client.POST('/api/v1/parts/{part_id}/hinge-readings', {
          params: { path: { part_id: partId } },
          body,
        }),
      )
    } catch (error) {
      if (error instanceof Problem) setProblem(error)
      return
    }
    setProblem(null)
    setTyped({ reads: '', arm: '', mounted: '' })
    setId(newId())
    await refresh()
  }
  const field = (name: keyof typeof typed, label: string, unit: string) => (
    <TextField
      label={label}
      unit={unit}
      value={typed[name]}
      problem={problem?.fields[name]}
      onChange={(text) => setTyped({ ...typed, [name]: text })}
    />
  )
  return (
    <div className="flex flex-col gap-3">
      <h4 className="font-semibold text-lg">Read on its hinge</h4>
      <p className="max-w-2xl text-soft">
        Hang it on its hinge line, free to turn, and hold it level on a scale. What the scale reads and how
        far behind the hinge it stands make the moment.
      </p>
      {view.readings.map((one) => (
        <div key={one.id} className="flex flex-col gap-1">
          <p className="flex flex-wrap items-center gap-3">
            {one.words}
            <TakeBack what="hinge reading" of_id={one.id} />
          </p>
          <Notice tone={one.holds ? 'ready' : 'care'}>{one.says}</Notice>
        </div>
      ))}
      <div className="grid items-start gap-3 sm:grid-cols-2 lg:grid-cols-4">
        {field('reads', 'The scale reads', units.mass)}
        {field('arm', 'Behind the hinge', units.length)}
        {field('mounted', 'Balance weight on it', units.mass)}
        <OneOf
          label="Goes down"
          value={heavy}
          choices={[
            { value: 'tail', name: 'Tail' },
            { value: 'nose', name: 'Nose' },
          ]}
          onChange={(value) => setHeavy(value as typeof heavy)}
        />
      </div>
      {problem && Object.keys(problem.fields).every((name) => !(name in typed)) && (
        <Notice tone="stop">{problem.message}</Notice>
      )}
      <Button
        className="self-start"
        disabled={!typed.reads.trim() || !typed.arm.trim()}
        onClick={() => void keep()}
      >
        Keep this reading
      </Button>
    </div>
  )
}
