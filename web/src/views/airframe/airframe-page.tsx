import { clsx } from 'clsx'
import { useState } from 'react'
import { Link, useNavigate, useSearchParams } from 'react-router'
import { type AirframeView, answer, client, newId, type PartCard } from '@/api/client'
import { useEdit } from '@/api/edit'
import { useAirframe } from '@/api/questions'
import { useShow } from '@/app/formats'
import { Button, ButtonLink } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { FigureValue } from '@/ui/figure'
import { Notice } from '@/ui/notice'
import { SavedField } from '@/ui/saved-field'
import { TextField } from '@/ui/text-field'
import { AirframeFile } from './airframe-file'
import { AirframeTakes } from './airframe-takes'
import { Plan } from './plan'

const EDGE = {
  planned: 'border-l-6 border-line',
  curing: 'edge-wait',
  'in work': 'edge-care',
  done: 'edge-ready',
} as const

export default function AirframePage() {
  const [query, setQuery] = useSearchParams()
  const airframe = useAirframe(query.get('id') ?? '')
  const view = airframe.data
  if (airframe.error && !view)
    return (
      <Notice tone="stop" className="m-6">
        {airframe.error.message}
      </Notice>
    )
  if (!view) return null
  if (!view.id) return <First />
  return <Hub key={view.id} view={view} onChoose={(id) => setQuery({ id })} />
}

function Hub({ view, onChoose }: { view: AirframeView; onChoose: (id: string) => void }) {
  const [editing, setEditing] = useState(false)
  const [taking, setTaking] = useState(false)
  const parts = view.assemblies.flatMap((assembly) => assembly.parts)
  const placed = parts.filter((part) => part.in_plan.length > 0)
  return (
    <div className="mx-auto flex max-w-6xl flex-col gap-6 p-6 max-sm:p-4">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-2">
        <div className="min-w-0 flex-1 basis-64">
          <h1 className="font-semibold text-3xl">{view.project}</h1>
          <p className="text-lg">
            <LeftWords left={view.left} none="Nothing is left to do." />
          </p>
        </div>
        <ButtonLink to={`/found?airframe=${view.id}`}>Found a part…</ButtonLink>
        {parts.length > 0 && (
          <>
            <Button quiet onClick={() => setTaking(true)}>
              What it takes…
            </Button>
            <ButtonLink quiet to={`/weights/${view.id}`}>
              What it weighs
            </ButtonLink>
            <ButtonLink quiet to={`/joints/${view.id}`}>
              How it is joined
            </ButtonLink>
          </>
        )}
        {taking && <AirframeTakes airframe={view.id} onClose={() => setTaking(false)} />}
        <Button quiet aria-pressed={editing} onClick={() => setEditing(!editing)}>
          {editing ? 'Done arranging' : 'Arrange…'}
        </Button>
      </div>
      {view.others.length > 1 && (
        <nav aria-label="Airframes" className="flex flex-wrap gap-2">
          {view.others.map((one) => (
            <button
              key={one.id}
              type="button"
              aria-current={one.id === view.id ? 'page' : undefined}
              onClick={() => onChoose(one.id)}
              className={clsx(
                'min-h-11 border-2 px-4',
                one.id === view.id
                  ? 'border-ink bg-ink text-ground'
                  : 'border-line bg-panel hover:border-ink',
              )}
            >
              {one.name}
            </button>
          ))}
        </nav>
      )}
      {editing && <Arrange view={view} onChoose={onChoose} />}
      {placed.length > 0 && <Plan assemblies={view.assemblies} />}
      {parts.length === 0 && (
        <p className="text-soft text-lg">
          Nothing of it is here yet. A part is a wing skin, a rudder, a set of ribs: give it a name, its
          shape, and the first job.
        </p>
      )}
      {view.assemblies.map((assembly) => (
        <section key={assembly.id} aria-label={assembly.name} className="flex flex-col gap-2">
          <h2 className="flex flex-wrap items-baseline gap-x-4 font-semibold text-xl">
            {assembly.name}
            <span className="font-normal text-base text-soft">
              <LeftWords
                left={assembly.left}
                none={assembly.parts.length ? 'nothing left to do' : 'no part yet'}
              />
            </span>
          </h2>
          {editing && <EditAssembly assembly={assembly} airframe={view.id} />}
          <ul className="grid gap-3 sm:grid-cols-2">
            {assembly.parts.map((part) => (
              <Card key={part.id} part={part} editing={editing} />
            ))}
          </ul>
        </section>
      ))}
      {view.hidden.length > 0 && (
        <section aria-label="Taken out" className="flex flex-col gap-2">
          <h2 className="font-semibold text-xl">Taken out</h2>
          {view.hidden.map((part) => (
            <Hidden key={part.id} part={part} />
          ))}
        </section>
      )}
    </div>
  )
}

function LeftWords({ left, none }: { left: AirframeView['left']; none: string }) {
  const show = useShow()
  const words = [
    left.words && `${left.words} left`,
    left.grams >= 1 && `${show(left.grams, 'mass')} of products to mix`,
  ].filter(Boolean)
  return <>{words.length > 0 ? words.join(', ') : none}</>
}

function Card({ part, editing }: { part: PartCard; editing: boolean }) {
  return (
    <li className={clsx('bg-panel', EDGE[part.state])}>
      <div className="flex items-start justify-between gap-3 px-4 py-3">
        <Link to={`/part/${part.id}/${part.skin_area ? 'shape' : 'steps'}`} className="group min-w-0 flex-1">
          <span className="block font-semibold text-lg group-hover:underline">{part.name}</span>
          <span className="block">
            <span className="font-semibold">{part.state}</span>. {part.sentence}
          </span>
          <span className="block font-mono text-sm text-soft">{part.code}</span>
        </Link>
        {part.skin_area && <FigureValue figure={part.skin_area} bare className="shrink-0" />}
      </div>
      {editing && <Move part={part} />}
    </li>
  )
}

function Move({ part }: { part: PartCard }) {
  const edit = useEdit(part.version)
  const move = (where: 'sooner' | 'later') =>
    void edit.save((version) =>
      answer(
        client.PATCH('/api/v1/parts/{part_id}', {
          params: { path: { part_id: part.id } },
          body: { version, move: where },
        }),
      ),
    )
  return (
    <div className="flex flex-wrap gap-2 px-4 pb-3">
      <Button quiet aria-label={`${part.name} one place up`} onClick={() => move('sooner')}>
        Up
      </Button>
      <Button quiet aria-label={`${part.name} one place down`} onClick={() => move('later')}>
        Down
      </Button>
      <EditProblem edit={edit} />
    </div>
  )
}

/** The airframe's own name, another assembly, another airframe, and its file. */
function Arrange({ view, onChoose }: { view: AirframeView; onChoose: (id: string) => void }) {
  const edit = useEdit(view.version)
  const rename = (name: string) =>
    edit.save((version) =>
      answer(
        client.PATCH('/api/v1/airframes/{airframe_id}', {
          params: { path: { airframe_id: view.id } },
          body: { version, name },
        }),
      ),
    )
  return (
    <section aria-label="Arrange" className="grid gap-5 border-2 border-ink bg-panel p-4 md:grid-cols-2">
      <SavedField
        label="The airframe’s name"
        saved={view.project}
        problem={edit.problem?.fields.name}
        onSave={rename}
      />
      <NewAssembly airframe={view.id} />
      <NewAirframe label="Another airframe in this shop" onDone={onChoose} />
      <AirframeFile airframe={view.id} name={view.project} onTaken={onChoose} />
      <EditProblem edit={edit} shownInFields={['name']} />
    </section>
  )
}

export function NewAssembly({ airframe, onDone }: { airframe: string; onDone?: (id: string) => void }) {
  const edit = useEdit(0)
  const [id, setId] = useState(newId)
  const [name, setName] = useState('')
  const found = async () => {
    const body = { id, airframe_id: airframe, name }
    if (!(await edit.save(() => answer(client.POST('/api/v1/assemblies', { body }))))) return
    onDone?.(id)
    setName('')
    setId(newId())
  }
  return (
    <form
      className="flex items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault()
        void found()
      }}
    >
      <TextField
        label="Another assembly"
        placeholder="Wing, tail, fuselage …"
        value={name}
        problem={edit.problem?.fields.name ?? edit.problem?.message}
        onChange={setName}
        className="flex-1"
      />
      <Button quiet type="submit" disabled={!name.trim()}>
        Add
      </Button>
    </form>
  )
}

export function NewAirframe({ label, onDone }: { label: string; onDone: (id: string) => void }) {
  const edit = useEdit(0)
  const [id] = useState(newId)
  const [name, setName] = useState('')
  const found = async () => {
    if (await edit.save(() => answer(client.POST('/api/v1/airframes', { body: { id, name } })))) onDone(id)
  }
  return (
    <form
      className="flex items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault()
        void found()
      }}
    >
      <TextField
        label={label}
        value={name}
        problem={edit.problem?.fields.name ?? edit.problem?.message}
        onChange={setName}
        className="flex-1"
      />
      <Button quiet type="submit" disabled={!name.trim()}>
        Found it
      </Button>
    </form>
  )
}

function EditAssembly({
  assembly,
  airframe,
}: {
  assembly: AirframeView['assemblies'][number]
  airframe: string
}) {
  const edit = useEdit(assembly.version)
  const change = (more: { name?: string; move?: 'sooner' | 'later'; away?: boolean }) =>
    edit.save((version) =>
      answer(
        client.PATCH('/api/v1/assemblies/{assembly_id}', {
          params: { path: { assembly_id: assembly.id } },
          body: { version, ...more },
        }),
      ),
    )
  return (
    <div className="flex flex-wrap items-end gap-2">
      <SavedField
        label="Its name"
        saved={assembly.name}
        problem={edit.problem?.fields.name}
        onSave={(name) => change({ name })}
      />
      <Button quiet onClick={() => void change({ move: 'sooner' })}>
        {assembly.name} up
      </Button>
      <Button quiet onClick={() => void change({ move: 'later' })}>
        {assembly.name} down
      </Button>
      <ButtonLink quiet to={`/found?airframe=${airframe}&assembly=${assembly.id}`}>
        Found a part of it…
      </ButtonLink>
      {assembly.parts.length === 0 && (
        <Button quiet onClick={() => void change({ away: true })}>
          Take {assembly.name} away
        </Button>
      )}
      <EditProblem edit={edit} shownInFields={['name']} />
    </div>
  )
}

function Hidden({ part }: { part: AirframeView['hidden'][number] }) {
  const edit = useEdit(part.version)
  const back = () =>
    void edit.save((version) =>
      answer(
        client.POST('/api/v1/parts/{part_id}/hidden', {
          params: { path: { part_id: part.id } },
          body: { version, hidden: false },
        }),
      ),
    )
  return (
    <div className="flex flex-wrap items-center gap-3 border-line border-t py-2">
      <p className="flex-1">
        <span className="font-semibold">{part.name}</span> <span className="text-soft">{part.words}</span>
      </p>
      <Button quiet onClick={back}>
        Take it back
      </Button>
      <EditProblem edit={edit} />
    </div>
  )
}

/** A shop without an airframe founds its first. */
function First() {
  const go = useNavigate()
  return (
    <div className="mx-auto flex max-w-3xl flex-col gap-6 p-6 max-sm:p-4">
      <h1 className="font-semibold text-3xl">No airframe yet</h1>
      <p className="text-lg">Give the aircraft you build a name; then found its parts, one by one.</p>
      <NewAirframe label="The airframe’s name" onDone={(id) => void go(`/found?airframe=${id}`)} />
      <AirframeFile airframe="" name="" onTaken={(id) => void go(`/airframe?id=${id}`)} />
    </div>
  )
}
