import { clsx } from 'clsx'
import { useState } from 'react'
import { Link } from 'react-router'
import { answer, client, type Deviation, type DeviationsView, newId } from '@/api/client'
import { useEdit } from '@/api/edit'
import { useWho } from '@/api/present'
import { useDeviations } from '@/api/questions'
import { Button } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { Notice } from '@/ui/notice'
import { OneOf } from '@/ui/one-of'
import { Photos } from '@/ui/photos'
import { Pick } from '@/ui/pick'
import { TextField } from '@/ui/text-field'
import { Toggles } from '@/ui/toggles'
import { Planform } from '@/weave/planform'

/** What was found wrong on a part: where, how it looks, what somebody decided; and writing down another. */
export function Deviations({ partId }: { partId: string }) {
  const asked = useDeviations(partId)
  const [writing, setWriting] = useState(false)
  const view = asked.data
  if (asked.error && !view) return <Notice tone="stop">{asked.error.message}</Notice>
  if (!view) return null
  // The oldest is 1: a figure stays with its place whatever is found later.
  const named = view.deviations.map((one, n) => ({ one, name: String(view.deviations.length - n) }))
  const marks = named.flatMap(({ one, name }) => (one.at ? [{ at: one.at, name }] : []))
  return (
    <section aria-label="Found wrong" className="flex flex-col gap-4">
      <div className="flex flex-wrap items-center justify-between gap-3">
        <h2 className="font-semibold text-xl">Found wrong</h2>
        {!writing && (
          <Button quiet onClick={() => setWriting(true)}>
            Something is wrong with it…
          </Button>
        )}
      </div>
      {writing && <Found view={view} onDone={() => setWriting(false)} />}
      {!writing && marks.length > 0 && (
        <Planform
          outline={view.outline}
          ends={view.shape_kind === 'loft'}
          marks={marks}
          className="w-full max-w-4xl bg-panel"
        />
      )}
      {view.deviations.length === 0 && !writing && (
        <p className="text-soft">Nothing was found wrong on it.</p>
      )}
      {named.map(({ one, name }) => (
        <OneDeviation key={one.id} one={one} name={name} view={view} />
      ))}
    </section>
  )
}

/** What is wrong, where, and who found it. */
function Found({ view, onDone }: { view: DeviationsView; onDone: () => void }) {
  const edit = useEdit(0)
  const [id] = useState(newId)
  const [kind, setKind] = useState('')
  const [words, setWords] = useState('')
  const [who, setWho] = useWho()
  const [at, setAt] = useState<[number, number] | null>(null)
  const keep = async () => {
    const kept = await edit.save(() =>
      answer(
        client.POST('/api/v1/deviations', {
          body: { id, part_id: view.part_id, kind, words, at, crew_member_id: who || null },
        }),
      ),
    )
    if (kept) onDone()
  }
  return (
    <div className="flex flex-col gap-4 border-2 border-ink bg-panel p-4">
      <Toggles
        label="What is it?"
        known={view.kinds}
        chosen={kind ? [kind] : []}
        onChange={(chosen) => setKind(chosen.at(-1) ?? '')}
      />
      {view.outline.length > 0 && (
        <div>
          <p className="mb-1 text-soft">Touch where it is</p>
          <Planform
            outline={view.outline}
            ends={view.shape_kind === 'loft'}
            marks={at ? [{ at, name: '×' }] : []}
            onPoint={setAt}
            className="w-full max-w-4xl cursor-crosshair"
          />
        </div>
      )}
      <div className="flex flex-wrap items-end gap-3">
        <TextField
          label="How large, how deep, how it came about"
          value={words}
          problem={edit.problem?.fields.words}
          onChange={setWords}
          className="min-w-60 flex-1"
        />
        <div className="w-44">
          <Pick
            label="Found by"
            value={who}
            placeholder="–"
            choices={view.crew.map((one) => ({ value: one.id, name: one.name }))}
            onChange={setWho}
          />
        </div>
      </div>
      <EditProblem edit={edit} shownInFields={['words']} />
      <div className="flex flex-wrap gap-3">
        <Button disabled={!kind} onClick={() => void keep()}>
          Write it down
        </Button>
        <Button quiet onClick={onDone}>
          Leave it
        </Button>
      </div>
    </div>
  )
}

const EDGE = {
  open: 'edge-stop',
  'to mend': 'edge-care',
  accepted: 'edge-ready',
  mended: 'edge-ready',
  scrapped: 'edge-stop',
} as const

type OneProps = { one: Deviation; name: string; view: DeviationsView }

function OneDeviation({ one, name, view }: OneProps) {
  const [deciding, setDeciding] = useState(false)
  return (
    <article className={clsx('flex flex-col gap-2 bg-panel px-4 py-3', EDGE[one.state])}>
      <p className="text-lg">
        <span className="mr-2 font-bold">{name}</span>
        {one.words}
      </p>
      {one.sentence && <p className="font-semibold">{one.sentence}</p>}
      {one.trail.map((words) => (
        <p key={words} className="text-soft">
          {words}
        </p>
      ))}
      <div className="flex flex-wrap items-center gap-3">
        {one.kind !== 'changed' && !deciding && (
          <Button quiet={one.state !== 'open'} onClick={() => setDeciding(true)}>
            {one.state === 'open' ? 'Decide…' : 'Decide otherwise…'}
          </Button>
        )}
        {one.job && (
          <Link
            to={`/part/${view.part_id}/what?job=${one.job}`}
            className="inline-flex min-h-11 items-center underline"
          >
            The patch: its size, plies and resin
          </Link>
        )}
        <Photos of={`deviations/${one.id}`} photos={one.photos} name={`the ${one.kind}`} />
      </div>
      {deciding && <Decide one={one} view={view} onDone={() => setDeciding(false)} />}
    </article>
  )
}

const AT_THE_END = 'when all else is done'

/** Accept it, mend it, or make the part anew: somebody signs, with the reason. */
function Decide({ one, view, onDone }: { one: Deviation; view: DeviationsView; onDone: () => void }) {
  const edit = useEdit(0)
  const [id] = useState(newId)
  const [kind, setKind] = useState<'accept' | 'mend' | 'scrap' | 'open' | ''>('')
  const [who, setWho] = useWho()
  const [note, setNote] = useState('')
  const [before, setBefore] = useState(view.before[0]?.id ?? AT_THE_END)
  const sign = async () => {
    if (!kind) return
    const kept = await edit.save(() =>
      answer(
        client.POST('/api/v1/deviations/{deviation_id}/decisions', {
          params: { path: { deviation_id: one.id } },
          body: { id, kind, crew_member_id: who || null, note, before: before === AT_THE_END ? '' : before },
        }),
      ),
    )
    if (kept) onDone()
  }
  return (
    <div className="flex flex-col gap-3 border-line border-t pt-3">
      <OneOf
        label="What is to be done"
        value={kind}
        choices={[
          { value: 'accept', name: 'Accept it' },
          { value: 'mend', name: 'Mend it' },
          { value: 'scrap', name: 'Scrap the part' },
          ...(one.trail.length > 0 ? [{ value: 'open', name: 'Open again' }] : []),
        ]}
        onChange={(chosen) => setKind(chosen as typeof kind)}
      />
      {kind === 'mend' && (
        <div className="max-w-md">
          <Pick
            label="Mended before"
            value={before}
            choices={[
              ...view.before.map((step) => ({ value: step.id, name: step.name })),
              { value: AT_THE_END, name: AT_THE_END },
            ]}
            onChange={setBefore}
          />
        </div>
      )}
      <div className="flex flex-wrap items-end gap-3">
        <div className="w-44">
          <Pick
            label="Who decides"
            value={who}
            placeholder="–"
            choices={view.crew.map((member) => ({ value: member.id, name: member.name }))}
            onChange={setWho}
          />
        </div>
        <TextField
          label="What it rests on"
          value={note}
          problem={edit.problem?.fields.note}
          onChange={setNote}
          className="min-w-60 flex-1"
        />
      </div>
      <p className="text-soft">
        The kit maker’s instructions and a licensed inspector say what may be accepted and how it is mended.
      </p>
      <EditProblem edit={edit} shownInFields={['note']} />
      <div className="flex flex-wrap gap-3">
        <Button disabled={!kind} onClick={() => void sign()}>
          Sign it
        </Button>
        <Button quiet onClick={onDone}>
          Leave it
        </Button>
      </div>
    </div>
  )
}
