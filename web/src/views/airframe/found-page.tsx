import { useEffect, useState } from 'react'
import { useNavigate, useSearchParams } from 'react-router'
import { type AirframeView, answer, client, newId } from '@/api/client'
import { useEdit } from '@/api/edit'
import { useAirframe } from '@/api/questions'
import { Button, ButtonLink } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { Notice } from '@/ui/notice'
import { OneOf } from '@/ui/one-of'
import { Pick } from '@/ui/pick'
import { TextField } from '@/ui/text-field'
import { ShapeSource, type Source } from '../part/shape-source'
import { begun } from '../part/shape-typed'
import { PlaceFields } from './place-fields'

type Hand = 'left' | 'right' | 'centre' | 'both'
type Side = 'upper' | 'lower' | 'whole'
type Draft = {
  id: string
  other_id: string
  name: string
  assembly: string
  /** The name of a new assembly, where it belongs to none there is. */
  fresh: string
  hand: Hand
  side: Side
  source: Source
  place: Record<string, string>
}

const blank = (): Draft => ({
  id: newId(),
  other_id: newId(),
  name: '',
  assembly: '',
  fresh: '',
  hand: 'centre',
  side: 'whole',
  source: { kind: '', of: '', shape: null },
  place: {},
})

/** What was typed stays in this browser until the part is founded, also over a reload. */
function useDraft(key: string): [Draft, (more: Partial<Draft>) => void, () => void] {
  const [draft, setDraft] = useState<Draft>(() => {
    const kept = sessionStorage.getItem(key)
    return kept ? { ...blank(), ...(JSON.parse(kept) as Draft) } : blank()
  })
  useEffect(() => sessionStorage.setItem(key, JSON.stringify(draft)), [key, draft])
  return [
    draft,
    (more) => setDraft((now) => ({ ...now, ...more })),
    () => {
      sessionStorage.removeItem(key)
      setDraft(blank())
    },
  ]
}

export default function FoundPage() {
  const [query] = useSearchParams()
  const airframe = useAirframe(query.get('airframe') ?? '')
  if (airframe.error && !airframe.data)
    return (
      <Notice tone="stop" className="m-6">
        {airframe.error.message}
      </Notice>
    )
  if (!airframe.data) return null
  return <Form key={airframe.data.id} view={airframe.data} assembly={query.get('assembly') ?? ''} />
}

function Form({ view, assembly }: { view: AirframeView; assembly: string }) {
  const go = useNavigate()
  const edit = useEdit(0)
  const [draft, change, forget] = useDraft(`found ${view.id}`)
  const chosen =
    [draft.assembly, assembly, view.assemblies[0]?.id].find((id) =>
      view.assemblies.some((one) => one.id === id),
    ) ?? ''
  const others = view.assemblies.flatMap((one) => one.parts).filter((part) => part.shape)
  const problems = edit.problem?.fields ?? {}
  const found = async () => {
    const { id, other_id, name, hand, side, source, place } = draft
    const shape = source.shape && begun(source.shape) ? source.shape : null
    const of = { assembly_id: draft.fresh.trim() ? '' : chosen, airframe_id: view.id, assembly: draft.fresh }
    const body = { id, other_id, name, ...of, hand, side, shape, shape_of: source.of, place }
    if (!(await edit.save(() => answer(client.POST('/api/v1/airframes/parts', { body }))))) return
    forget()
    void go(`/part/${id}/shape?first=1`)
  }
  return (
    <div className="mx-auto flex max-w-5xl flex-col gap-6 p-6 max-sm:p-4">
      <div className="flex flex-wrap items-baseline justify-between gap-3">
        <h1 className="font-semibold text-2xl">Found a part of {view.project}</h1>
        <ButtonLink quiet to={`/airframe?id=${view.id}`}>
          Back to the airframe
        </ButtonLink>
      </div>
      <section aria-label="What it is" className="grid items-start gap-4 md:grid-cols-2">
        <TextField
          label="Its name"
          placeholder={
            draft.hand === 'both' ? 'aileron (a left and a right one)' : 'Rudder, left wing upper skin …'
          }
          value={draft.name}
          problem={problems.name}
          onChange={(name) => change({ name })}
        />
        <OneOf
          label="It is"
          value={draft.hand}
          choices={[
            { value: 'left', name: 'Left' },
            { value: 'right', name: 'Right' },
            { value: 'both', name: 'Both' },
            { value: 'centre', name: 'Centre' },
          ]}
          onChange={(hand) => change({ hand: hand as Hand })}
        />
        <div className="flex flex-col gap-2">
          {view.assemblies.length > 4 && (
            <Pick
              label="It belongs to"
              value={chosen}
              choices={view.assemblies.map(({ id, name }) => ({ value: id, name }))}
              onChange={(id) => change({ assembly: id })}
            />
          )}
          {view.assemblies.length > 0 && view.assemblies.length <= 4 && (
            <OneOf
              label="It belongs to"
              value={chosen}
              choices={view.assemblies.map(({ id, name }) => ({ value: id, name }))}
              onChange={(id) => change({ assembly: id })}
            />
          )}
          <TextField
            label={view.assemblies.length > 0 ? 'or to a new assembly' : 'It belongs to'}
            placeholder="Wing, tail, fuselage …"
            value={draft.fresh}
            problem={problems.assembly}
            onChange={(fresh) => change({ fresh })}
          />
        </div>
        <OneOf
          label="Built on its"
          value={draft.side}
          choices={[
            { value: 'whole', name: 'Both sides' },
            { value: 'upper', name: 'Upper side' },
            { value: 'lower', name: 'Lower side' },
          ]}
          onChange={(side) => change({ side: side as Side })}
        />
      </section>
      <ShapeSource
        source={draft.source}
        side={draft.side}
        hand={draft.hand}
        others={others}
        onChange={(source) => change({ source })}
      />
      <section aria-label="Where it lies" className="flex flex-col gap-2">
        <h2 className="font-semibold text-xl">Where it lies on the airframe</h2>
        <PlaceFields
          fields={view.place}
          texts={draft.place}
          problems={problems}
          onChange={(place) => change({ place })}
        />
        <p className="text-soft text-sm">
          Only for the drawing; it may stay empty. Measured to its root’s leading edge, of the left one.
        </p>
      </section>
      <EditProblem edit={edit} shownInFields={['name', 'assembly', ...view.place.map((one) => one.field)]} />
      <div className="flex flex-wrap gap-3">
        <Button big disabled={!draft.name.trim()} onClick={() => void found()}>
          {draft.hand === 'both' ? 'Found both' : 'Found it'}
        </Button>
        <Button quiet className="self-center" onClick={forget}>
          Begin anew
        </Button>
      </div>
    </div>
  )
}
