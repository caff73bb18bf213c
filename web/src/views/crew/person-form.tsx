import { clsx } from 'clsx'
import { useState } from 'react'
import { answer, client, newId, type PeopleView, type Person } from '@/api/client'
import { useEdit } from '@/api/edit'
import { useLeads, useMe } from '@/api/present'
import { Button } from '@/ui/button'
import { DayField } from '@/ui/day-field'
import { EditProblem } from '@/ui/edit-problem'
import { TextField } from '@/ui/text-field'
import { Toggles } from '@/ui/toggles'
import { DAYS, Week } from '@/ui/week'
import { PinForm } from './pin-form'

type Props = { person?: Person; view: PeopleView; onDone?: () => void }

/** Somebody: name, skills, hours of their own, and when they are away. Opens when it is picked. */
export function PersonForm({ person, view, onDone }: Props) {
  const [open, setOpen] = useState(!person)
  if (!open && person) return <Card person={person} view={view} onOpen={() => setOpen(true)} />
  return <Editing person={person} view={view} onDone={person ? () => setOpen(false) : onDone} />
}

/** What is typed stands on the version it was opened with, whatever others save meanwhile. */
function Editing({ person, view, onDone }: Props) {
  const [opened] = useState(person?.version ?? 0)
  const edit = useEdit(opened)
  const [id] = useState(person?.id ?? newId())
  const [name, setName] = useState(person?.name ?? '')
  const [skills, setSkills] = useState<string[]>(person?.skills ?? [])
  const [more, setMore] = useState('')
  const [week, setWeek] = useState(person?.week ?? DAYS.map(() => ''))
  const known = [...new Set([...view.skills, ...skills])]
  const save = async () => {
    const all = more.trim() ? [...skills, more.trim()] : skills
    const done = await edit.save((version) =>
      answer(client.POST('/api/v1/people', { body: { id, version, name, skills: all, week } })),
    )
    if (done) onDone?.()
  }
  return (
    <div className="flex flex-col gap-4 border-2 border-ink bg-panel p-4">
      <TextField label="Name" value={name} problem={edit.problem?.fields.name} onChange={setName} />
      <Toggles label="Can do" known={known} chosen={skills} onChange={setSkills}>
        <TextField
          aria-label="Another skill"
          placeholder="another…"
          value={more}
          onChange={setMore}
          className="w-32"
        />
      </Toggles>
      <fieldset className="flex flex-col gap-1">
        <legend className="mb-1 text-soft">Hours of their own; all empty is the shop’s hours</legend>
        <Week week={week} problems={edit.problem?.fields ?? {}} onChange={setWeek} />
      </fieldset>
      <EditProblem edit={edit} shownInFields={['name', ...DAYS.map((_, n) => `week.${n}`)]} />
      <div className="flex flex-wrap gap-3">
        <Button onClick={() => void save()}>{person ? 'Save' : 'Welcome them'}</Button>
        <Button quiet onClick={onDone}>
          Leave it
        </Button>
        {person && (
          <Button
            quiet
            className="ml-auto"
            onClick={() =>
              void edit.save((version) =>
                answer(
                  client.POST('/api/v1/people/{person_id}/farewell', {
                    params: { path: { person_id: person.id } },
                    body: { version },
                  }),
                ),
              )
            }
          >
            Does not work here any more
          </Button>
        )}
      </div>
    </div>
  )
}

type CardProps = { person: Person; view: PeopleView; onOpen: () => void }

function Card({ person, view, onOpen }: CardProps) {
  const me = useMe()
  const [pin, setPin] = useState(false)
  const signs = view.people.some((one) => one.has_pin)
  const leads = useLeads()
  const mayPin = leads || me?.id === person.id
  const [leaving, setLeaving] = useState(false)
  const days = person.week.flatMap((line, n) => (line ? [`${DAYS[n]?.slice(0, 3)} ${line}`] : [])).join('; ')
  return (
    <div className={clsx('flex flex-col gap-2 bg-panel px-4 py-3', person.here ? 'edge-ready' : 'edge-care')}>
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <div className="min-w-0 flex-1 basis-56">
          <p className="font-semibold text-lg">{person.name}</p>
          <p>{person.skills.join(', ') || 'No skill named'}</p>
          <p className="text-soft">{days || 'The shop’s hours'}</p>
          {person.hours_words && <p className="text-soft">{person.hours_words}</p>}
          {signs && (
            <p className={person.has_pin ? 'text-soft' : 'text-madder'}>
              {person.has_pin ? `Signs in; ${person.role}` : `Has no PIN: can’t sign in; ${person.role}`}
            </p>
          )}
        </div>
        <Button quiet onClick={() => setLeaving(!leaving)}>
          Away…
        </Button>
        {leads && (
          <Button quiet onClick={onOpen}>
            Change
          </Button>
        )}
        {mayPin && (
          <Button quiet onClick={() => setPin(!pin)}>
            {me?.leads ? 'PIN, role…' : 'PIN…'}
          </Button>
        )}
      </div>
      {person.away.map((away) => (
        <Away key={away.id} id={away.id} words={away.words} />
      ))}
      {pin && <PinForm person={person} view={view} onDone={() => setPin(false)} />}
      {leaving && <Leave person={person} onDone={() => setLeaving(false)} />}
    </div>
  )
}

function Away({ id, words }: { id: string; words: string }) {
  const edit = useEdit(0)
  return (
    <p className="flex flex-wrap items-center gap-3">
      <span className="edge-care bg-weld-wash px-3 py-1">Away {words}</span>
      <Button
        quiet
        onClick={() =>
          void edit.save(() =>
            answer(
              client.POST('/api/v1/absences/{absence_id}/back', { params: { path: { absence_id: id } } }),
            ),
          )
        }
      >
        Here after all
      </Button>
    </p>
  )
}

function Leave({ person, onDone }: { person: Person; onDone: () => void }) {
  const edit = useEdit(0)
  const [id] = useState(newId)
  const [start, setStart] = useState('')
  const [end, setEnd] = useState('')
  const [note, setNote] = useState('')
  const save = async () => {
    const done = await edit.save(() =>
      answer(
        client.POST('/api/v1/absences', {
          body: { id, crew_member_id: person.id, start: start || null, end: end || null, note },
        }),
      ),
    )
    if (done) onDone()
  }
  const field = (label: string, value: string, set: (text: string) => void) => (
    <DayField label={label} withTime value={value} onChange={set} className="w-60" />
  )
  return (
    <div className="flex flex-wrap items-end gap-3">
      {field('From (empty: now)', start, setStart)}
      {field('To (empty: the day’s end)', end, setEnd)}
      <TextField label="Why" value={note} onChange={setNote} className="w-40" />
      <Button onClick={() => void save()}>Say so</Button>
      <EditProblem edit={edit} />
    </div>
  )
}
