import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { answer, client, newId, type TodayView } from '@/api/client'
import { useEdit } from '@/api/edit'
import { usePeople } from '@/api/questions'
import { useUnitOf } from '@/app/formats'
import { Button, ButtonLink } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { OneOf } from '@/ui/one-of'
import { TextField } from '@/ui/text-field'
import { Toggles } from '@/ui/toggles'
import { NewAirframe } from '../airframe/airframe-page'

export type Matter = NonNullable<TodayView['morning']['next']>

/** The first morning: one sentence, and one thing to say. */
export function Begin({ begin }: { begin: Matter }) {
  const edit = useEdit(0)
  const skip = () =>
    void edit.save(() => answer(client.POST('/api/v1/shop/later', { body: { matter: begin.matter } })))
  return (
    <section aria-label="First morning" className="flex flex-col gap-5">
      <h1 className="font-semibold text-3xl leading-snug" data-testid="first">
        {begin.sentence}
      </h1>
      <p className="max-w-3xl text-lg">{begin.detail}</p>
      <Answer key={begin.matter} begin={begin} />
      <EditProblem edit={edit} />
      {begin.skip && (
        <button
          type="button"
          onClick={skip}
          className="min-h-11 self-start text-soft underline decoration-line underline-offset-4 hover:text-ink"
        >
          {begin.skip}
        </button>
      )}
    </section>
  )
}

/** What was put off and is missed now. */
export function Missed({ missed }: { missed: Matter[] }) {
  const [open, setOpen] = useState('')
  return (
    <>
      {missed.map((one) => (
        <div key={one.matter} className="edge-care flex flex-col gap-3 bg-weld-wash px-4 py-2.5">
          <div className="flex flex-wrap items-center justify-between gap-3">
            <p>
              <span className="font-semibold">{one.sentence}</span> {one.detail}
            </p>
            {open !== one.matter && (
              <Button quiet onClick={() => setOpen(one.matter)}>
                Say it now
              </Button>
            )}
          </div>
          {open === one.matter && <Answer begin={one} />}
        </div>
      ))}
    </>
  )
}

function Answer({ begin }: { begin: Matter }) {
  const go = useNavigate()
  if (begin.matter === 'people') return <People button={begin.button} />
  if (begin.matter === 'stations') return <Stations button={begin.button} />
  if (begin.matter === 'air') return <Air button={begin.button} />
  if (begin.matter === 'airframe')
    return (
      <div className="max-w-xl">
        <NewAirframe label="The airframe’s name" onDone={(id) => void go(`/found?airframe=${id}`)} />
      </div>
    )
  const to = begin.matter === 'part' ? `/found?airframe=${begin.id}` : `/part/${begin.id}/shape?first=1`
  return (
    <ButtonLink big to={to} className="self-start">
      {begin.button}
    </ButtonLink>
  )
}

type Row = { id: string; name: string; skills: string[] }
const someone = (): Row => ({ id: newId(), name: '', skills: [] })

/** Everybody who works here, with what they can do. */
function People({ button }: { button: string }) {
  const edit = useEdit(0)
  const known = usePeople().data?.skills ?? []
  const [rows, setRows] = useState<Row[]>([someone()])
  const named = rows.filter((row) => row.name.trim())
  const save = () =>
    edit.save(async () => {
      for (const { id, name, skills } of named)
        await answer(client.POST('/api/v1/people', { body: { id, version: 0, name, skills, week: null } }))
    })
  const put = (n: number, more: Partial<Row>) =>
    setRows(rows.map((row, m) => (m === n ? { ...row, ...more } : row)))
  return (
    <div className="flex flex-col gap-4">
      {rows.map((row, n) => (
        <div
          key={row.id}
          className="grid items-end gap-x-6 gap-y-2 bg-panel p-3 md:grid-cols-[16rem_minmax(0,1fr)]"
        >
          <TextField label={`Name ${n + 1}`} value={row.name} onChange={(name) => put(n, { name })} />
          <Toggles
            label="Can do"
            known={known}
            chosen={row.skills}
            onChange={(skills) => put(n, { skills })}
          />
        </div>
      ))}
      <Button quiet className="self-start" onClick={() => setRows([...rows, someone()])}>
        Somebody else too
      </Button>
      <EditProblem edit={edit} />
      <Button big className="self-start" disabled={named.length === 0} onClick={() => void save()}>
        {button}
      </Button>
    </div>
  )
}

/** The usual stations, ticked in one go. */
function Stations({ button }: { button: string }) {
  const edit = useEdit(0)
  const kinds = usePeople().data?.kinds ?? []
  const [chosen, setChosen] = useState<string[]>([])
  const [ids] = useState(() => new Map<string, string>())
  const idOf = (kind: string) => {
    const id = ids.get(kind) ?? newId()
    ids.set(kind, id)
    return id
  }
  const save = () =>
    edit.save(async () => {
      for (const kind of chosen)
        await answer(
          client.POST('/api/v1/stations', {
            body: {
              id: idOf(kind),
              version: 0,
              name: `The ${kind}`,
              capacity: 1,
              zone_id: '',
              serves: [kind],
            },
          }),
        )
    })
  return (
    <div className="flex flex-col gap-4">
      <Toggles label="One of each" known={kinds} chosen={chosen} onChange={setChosen} />
      <div className="flex flex-wrap items-center gap-3">
        <Button big disabled={chosen.length === 0} onClick={() => void save()}>
          {button}
        </Button>
        <Button quiet onClick={() => setChosen(kinds)}>
          Tick all of them
        </Button>
      </div>
      <p className="text-soft">
        How many each serves, and which room it is in, is said under{' '}
        <Link to="/crew" className="underline">
          Crew and stations
        </Link>
        .
      </p>
      <EditProblem edit={edit} />
    </div>
  )
}

/** Tonight's low and tomorrow's high. */
function Air({ button }: { button: string }) {
  const edit = useEdit(0)
  const unit = useUnitOf()('temperature')
  const [id] = useState(newId)
  const [low, setLow] = useState('')
  const [high, setHigh] = useState('')
  const [place, setPlace] = useState<'room' | 'outside'>('room')
  const save = () =>
    edit.save(() =>
      answer(
        client.POST('/api/v1/climate/outlooks', {
          body: {
            id,
            zone: 'main shop',
            place,
            low: { text: low, unit },
            high: { text: high, unit },
          },
        }),
      ),
    )
  const problems = edit.problem?.fields ?? {}
  return (
    <form
      className="flex flex-col gap-4"
      onSubmit={(event) => {
        event.preventDefault()
        void save()
      }}
    >
      <div className="grid max-w-3xl items-end gap-4 sm:grid-cols-[1fr_1fr_1.6fr]">
        <TextField
          label="Tonight’s low"
          unit={unit}
          value={low}
          problem={problems.low ?? problems.low_c}
          onChange={setLow}
        />
        <TextField
          label="Tomorrow’s high"
          unit={unit}
          value={high}
          problem={problems.high ?? problems.high_c}
          onChange={setHigh}
        />
        <OneOf
          label="Of"
          value={place}
          choices={[
            { value: 'room', name: 'The shop itself' },
            { value: 'outside', name: 'The weather' },
          ]}
          onChange={(where) => setPlace(where as 'room' | 'outside')}
        />
      </div>
      <EditProblem edit={edit} shownInFields={['low', 'high', 'low_c', 'high_c']} />
      <div className="flex flex-wrap items-center gap-3">
        <Button big type="submit" disabled={!low.trim() || !high.trim()}>
          {button}
        </Button>
        <ButtonLink quiet to="/air">
          I have a logger’s file
        </ButtonLink>
      </div>
    </form>
  )
}
