import { clsx } from 'clsx'
import { useState } from 'react'
import { useRefresh } from '@/api/changes'
import { answer, type CureCard, client, newId, Problem } from '@/api/client'
import { useEdit } from '@/api/edit'
import { useWho } from '@/api/present'
import { useBench } from '@/api/questions'
import { Button } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { Notice } from '@/ui/notice'
import { OneOf } from '@/ui/one-of'
import { Pick } from '@/ui/pick'
import { TextField } from '@/ui/text-field'

type View = NonNullable<CureCard['release']>
type Reading = {
  how: string
  passes: boolean
  batch_id?: string
  value?: string
  note?: string
  early?: boolean
}

const HOWS = [
  { value: 'thumbnail', name: 'Thumbnail' },
  { value: 'hardness', name: 'Hardness' },
  { value: 'tap', name: 'Tap' },
]
const ASKED: Record<string, [string, string]> = {
  thumbnail: ['No mark', 'A mark'],
  hardness: ['Hard enough', 'Not yet'],
  tap: ['Rings', 'Dull'],
}

/** All that was read, by whom and when; one by mistake is taken back, by somebody who says why. */
function Readings({ view }: { view: View }) {
  const edit = useEdit(undefined)
  const crew = useBench().data?.crew ?? []
  const [open, setOpen] = useState('')
  const [who, setWho] = useWho()
  const [why, setWhy] = useState('')
  if (view.readings.length === 0) return null
  const takeBack = async () => {
    const body = {
      id: newId(),
      what: 'witness',
      of_id: open,
      note: why,
      crew_member_id: who || null,
    } as const
    if (await edit.save(() => answer(client.POST('/api/v1/taken-back', { body })))) {
      setOpen('')
      setWhy('')
    }
  }
  return (
    <details className="border-line border-t">
      <summary className="flex min-h-11 cursor-pointer items-center font-semibold underline">
        {view.readings.length === 1 ? 'The reading' : `All ${view.readings.length} readings`}
      </summary>
      <ul>
        {view.readings.map((reading) => (
          <li
            key={reading.id}
            className="flex flex-wrap items-center justify-between gap-x-4 border-line border-b py-1"
          >
            <span className="min-w-64 flex-1">{reading.words}</span>
            <Button quiet onClick={() => setOpen(open === reading.id ? '' : reading.id)}>
              Take back…
            </Button>
            {open === reading.id && (
              <form
                className="flex basis-full flex-wrap items-end gap-3 py-2"
                onSubmit={(event) => {
                  event.preventDefault()
                  void takeBack()
                }}
              >
                <div className="w-40">
                  <Pick
                    label="Who takes it back"
                    value={who}
                    placeholder="–"
                    choices={crew.map((member) => ({ value: member.id, name: member.name }))}
                    onChange={setWho}
                  />
                </div>
                <TextField label="Why" value={why} onChange={setWhy} className="min-w-60 flex-1" />
                <Button type="submit">It does not count</Button>
              </form>
            )}
          </li>
        ))}
      </ul>
      <EditProblem edit={edit} />
    </details>
  )
}

/** The witnesses of a step: read one after the other, or signed for. They release it, not the clock.
 *  What is out of its ratio or marked bad is not read: somebody decides. */
export function Release({ view, part }: { view: View; part: string }) {
  const refresh = useRefresh()
  const crew = useBench().data?.crew ?? []
  const [how, setHow] = useState('thumbnail')
  const [who, setWho] = useWho()
  const [value, setValue] = useState('')
  const [note, setNote] = useState('')
  const [signing, setSigning] = useState(false)
  const [problem, setProblem] = useState('')
  /** A reading the shop took for too early: kept until whoever read it says that it is hard all the same. */
  const [doubted, setDoubted] = useState<Reading | null>(null)
  const readable = view.rows.some((row) => row.state !== 'spoilt')
  const spoilt = view.rows.some((row) => row.state === 'spoilt')
  const read = async (reading: Reading) => {
    if (!who) {
      setProblem('Say who reads it, then press again.')
      return
    }
    try {
      await answer(
        client.POST('/api/v1/witness', {
          body: {
            id: newId(),
            part_id: view.part_id,
            step_key: view.step_key,
            crew_member_id: who || null,
            note: '',
            ...reading,
          },
        }),
      )
      setProblem('')
      setDoubted(null)
      setValue('')
      setSigning(false)
      await refresh()
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      setProblem(error.message)
      setDoubted('early' in error.fields ? reading : null)
    }
  }
  const [pass, fail] = ASKED[how] ?? ['Hard', 'Soft']
  const given = how === 'hardness' ? value : ''
  return (
    <section aria-label={`Witnesses, ${part}`} className="flex flex-col gap-2">
      <Notice
        tone={
          view.released
            ? 'ready'
            : view.rows.some((row) => row.state === 'soft' || row.state === 'spoilt')
              ? 'stop'
              : 'care'
        }
      >
        <span className="font-semibold">{view.sentence}</span> {view.signed}
      </Notice>
      {!view.released && (
        <div className="flex flex-wrap items-end gap-4">
          {readable && <OneOf label="How it is read" value={how} choices={HOWS} onChange={setHow} />}
          {readable && how === 'hardness' && (
            <TextField
              label="The tester shows"
              value={value}
              onChange={setValue}
              className="w-28"
              inputMode="decimal"
            />
          )}
          <div className="w-40">
            <Pick
              label="Who"
              value={who}
              placeholder="–"
              choices={crew.map((member) => ({ value: member.id, name: member.name }))}
              onChange={setWho}
            />
          </div>
          <Button quiet onClick={() => setSigning(!signing)}>
            {signing ? 'Read them instead' : spoilt ? 'Decide and sign…' : 'Sign for all instead'}
          </Button>
        </div>
      )}
      {readable && how === 'tap' && !view.released && (
        <p className="text-soft text-sm">
          Tapping finds voids and says nothing of the cure: it is written down and releases nothing.
        </p>
      )}
      {signing && !view.released ? (
        <div className="flex flex-wrap items-end gap-4">
          <TextField label="What it rests on" value={note} onChange={setNote} className="min-w-64 flex-1" />
          <Button onClick={() => void read({ how: 'decision', passes: true, note })}>Release it</Button>
          <Button quiet onClick={() => void read({ how: 'decision', passes: false, note })}>
            Hold it
          </Button>
        </div>
      ) : (
        <ul>
          {view.rows.map((row) => (
            <li
              key={row.batch_id}
              className="flex flex-wrap items-center justify-between gap-x-4 gap-y-1 border-line border-t py-1.5"
            >
              <span className="min-w-64 flex-1">
                {row.state === 'hard' && <span className="text-lichen">● </span>}
                {row.words}
                <span
                  className={clsx(
                    'block text-sm',
                    row.state === 'soft' || row.state === 'spoilt' ? 'text-madder' : 'text-soft',
                  )}
                >
                  {row.state === 'spoilt' ? 'No reading releases it: decide, and sign why.' : row.found}
                </span>
              </span>
              {!view.released && row.state !== 'spoilt' && (
                <span className="flex gap-2">
                  <Button
                    quiet={row.state !== 'hard'}
                    aria-pressed={row.state === 'hard'}
                    onClick={() => void read({ how, passes: true, batch_id: row.batch_id, value: given })}
                  >
                    {pass}
                  </Button>
                  <Button
                    quiet={row.state !== 'soft'}
                    aria-pressed={row.state === 'soft'}
                    onClick={() => void read({ how, passes: false, batch_id: row.batch_id, value: given })}
                  >
                    {fail}
                  </Button>
                </span>
              )}
            </li>
          ))}
        </ul>
      )}
      {view.again && <p className="font-semibold">{view.again}</p>}
      <Readings view={view} />
      {problem && <Notice tone="stop">{problem}</Notice>}
      {doubted && (
        <Button quiet className="self-start" onClick={() => void read({ ...doubted, early: true })}>
          It is the thin witness, and it is hard already
        </Button>
      )}
    </section>
  )
}
