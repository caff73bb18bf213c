import { clsx } from 'clsx'
import { useState } from 'react'
import { Link } from 'react-router'
import { answer, client, type GatesView, newId } from '@/api/client'
import { useEdit } from '@/api/edit'
import { useGates } from '@/api/questions'
import { Button } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { Notice } from '@/ui/notice'
import { TextField } from '@/ui/text-field'

type Card = GatesView['gates'][number]
type List = GatesView['lists'][number]
const EDGE: Record<Card['state'], string> = {
  open: 'edge-care',
  'ready to sign': 'edge-wait',
  inspector: 'edge-wait',
  signed: 'edge-ready',
  closed: 'border-l-6 border-line',
}
const WORD: Record<Card['state'], string> = {
  open: 'open',
  'ready to sign': 'somebody looks and signs',
  inspector: 'the inspector looks',
  signed: 'signed: it may be closed',
  closed: 'closed',
}

/** Every closing: when, what is left before it, and what would be shut in; and the shop's own lists. */
export default function GatesPage() {
  const asked = useGates()
  if (asked.error && !asked.data)
    return (
      <Notice tone="stop" className="m-6">
        {asked.error.message}
      </Notice>
    )
  const view = asked.data
  if (!view) return null
  const open = view.gates.filter((gate) => gate.state !== 'signed' && gate.state !== 'closed').length
  return (
    <div className="mx-auto flex max-w-5xl flex-col gap-6 p-6 max-sm:p-4">
      <header>
        <h1 className="font-semibold text-2xl">
          {view.gates.length === 0
            ? 'Nothing is closed by a job yet'
            : open === 0
              ? 'Every closing is signed'
              : `${open} ${open === 1 ? 'closing waits for its list' : 'closings wait for their lists'}`}
        </h1>
        {view.gates.length === 0 && (
          <p className="text-lg text-soft">
            A joint that closes its part is a gate: say so on its page, under What. Then its list gathers
            here.
          </p>
        )}
      </header>
      <ul className="flex flex-col gap-3">
        {view.gates.map((gate) => (
          <li
            key={`${gate.part_id} ${gate.step_key}`}
            className={clsx('bg-panel px-5 py-4', EDGE[gate.state])}
          >
            <Link
              to={`/gates/${gate.part_id}/${encodeURIComponent(gate.step_key)}`}
              className="group flex flex-wrap items-baseline justify-between gap-x-6"
            >
              <span className="font-semibold text-xl group-hover:underline">{gate.part}</span>
              <span className="text-lg">
                <span className="font-semibold">{WORD[gate.state]}</span>, {gate.when}
              </span>
            </Link>
            {gate.state !== 'closed' && (
              <>
                {gate.left.length > 0 && (
                  <ul className="mt-1 list-disc pl-5">
                    {gate.left.map((words) => (
                      <li key={words}>{words}</li>
                    ))}
                    {gate.more > 0 && <li className="text-soft">and {gate.more} more</li>}
                  </ul>
                )}
                <p className="mt-2 text-soft">
                  {gate.hours && `${gate.hours} of work before it. `}
                  {gate.shuts_in.length > 0 && `It shuts in ${gate.shuts_in.join(', ')}.`}
                  {gate.asked && ` Inspector asked for: ${gate.asked}.`}
                </p>
              </>
            )}
          </li>
        ))}
      </ul>
      <Lists view={view} />
      <p className="text-soft text-sm">{view.caution}</p>
    </div>
  )
}

function Lists({ view }: { view: GatesView }) {
  const [adding, setAdding] = useState(false)
  return (
    <section aria-label="The shop’s lists" className="flex flex-col gap-3 border-line border-t-2 pt-4">
      <h2 className="font-semibold text-xl">The shop’s own lists</h2>
      <p className="max-w-3xl text-soft">
        What you look for before anything is closed. Grow it by what you regret: next time, before closing…
      </p>
      {view.lists.map((list) => (
        <ListForm key={list.id} list={list} />
      ))}
      {adding ? (
        <ListForm lines={view.usual} onDone={() => setAdding(false)} />
      ) : (
        <Button quiet className="self-start" onClick={() => setAdding(true)}>
          Another list…
        </Button>
      )}
    </section>
  )
}

function ListForm({ list, lines, onDone }: { list?: List; lines?: string[]; onDone?: () => void }) {
  const [open, setOpen] = useState(!list)
  if (!open && list)
    return (
      <p className="flex flex-wrap items-center gap-x-4">
        <span className="font-semibold">{list.name}</span>
        <span className="text-soft">{list.lines.length} lines</span>
        <Button quiet onClick={() => setOpen(true)}>
          Open it…
        </Button>
      </p>
    )
  const done = () => {
    setOpen(false)
    onDone?.()
  }
  return <Editing list={list} lines={lines} onDone={done} />
}

/** What is typed stands on the version it was opened with, whatever others save meanwhile. */
function Editing({ list, lines, onDone }: { list?: List; lines?: string[]; onDone: () => void }) {
  const [opened] = useState(list?.version ?? 0)
  const edit = useEdit(opened)
  const [id] = useState(() => list?.id ?? newId())
  const [name, setName] = useState(list?.name ?? '')
  const [text, setText] = useState((list?.lines ?? lines ?? []).join('\n'))
  const keep = async () => {
    const saved = await edit.save((version) =>
      answer(client.POST('/api/v1/gate-lists', { body: { id, version, name, lines: text.split('\n') } })),
    )
    if (saved) onDone()
  }
  return (
    <div className="flex max-w-3xl flex-col gap-3 border-line border-l-6 pl-4">
      <TextField label="Its name" value={name} problem={edit.problem?.fields.name} onChange={setName} />
      <label className="flex flex-col gap-1">
        <span className="text-soft">
          One line each; how long it takes may stand at its end: …, 30 min (else 10 min are taken)
        </span>
        <textarea
          value={text}
          rows={Math.max(text.split('\n').length + 1, 4)}
          onChange={(event) => setText(event.target.value)}
          className="border-2 border-line bg-panel px-3 py-2 leading-8"
        />
      </label>
      <EditProblem edit={edit} shownInFields={['name']} />
      <div className="flex gap-3">
        <Button onClick={() => void keep()}>Keep this list</Button>
        <Button quiet onClick={onDone}>
          Leave it
        </Button>
      </div>
    </div>
  )
}
