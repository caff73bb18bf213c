import { clsx } from 'clsx'
import { Link } from 'react-router'
import { answer, client, newId, type TodayView } from '@/api/client'
import { useEdit } from '@/api/edit'
import { useOnce } from '@/api/once'
import { useClock } from '@/app/formats'
import { Button } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'

type Person = TodayView['day'][number]

/** What each person does until the shop closes, one line each; and who is not here. */
export function DayByPerson({ day, hours }: { day: Person[]; hours: TodayView['hours'] }) {
  const clock = useClock()
  const edit = useEdit(undefined)
  const once = useOnce()
  const toggle = (person: Person) =>
    once(person.id, () =>
      edit.save(() =>
        answer(
          person.absence_id
            ? client.POST('/api/v1/absences/{absence_id}/back', {
                params: { path: { absence_id: person.absence_id } },
              })
            : client.POST('/api/v1/absences', { body: { id: newId(), crew_member_id: person.id } }),
        ),
      ),
    )
  return (
    <section className="flex flex-col gap-2" data-testid="day">
      <h2 className="font-semibold text-xl">
        {hours ? `Until ${clock.time(hours.end)}` : 'Until the shop opens'}
        <Link to="/crew" className="ml-3 inline-flex min-h-11 items-center font-normal text-base underline">
          Crew and stations
        </Link>
      </h2>
      <EditProblem edit={edit} />
      <ul className="flex flex-col gap-1">
        {day.map((person) => (
          <li
            key={person.id}
            className={clsx(
              'flex flex-wrap items-center gap-x-4 gap-y-1 bg-panel px-4 py-1.5',
              !person.here && 'text-soft',
            )}
          >
            <span className="w-20 shrink-0 font-semibold text-lg">{person.name}</span>
            <ol className="grid min-w-0 flex-1 basis-80 gap-x-8 lg:grid-cols-2">
              {person.turns.map((turn) => (
                <li key={turn.part_id + turn.step_key + turn.span.start} className="flex gap-3">
                  <span
                    className={clsx(
                      'w-28 shrink-0 self-start text-center tabular-nums',
                      turn.running ? 'bg-walnut text-ground' : 'bg-ground',
                    )}
                  >
                    {/* A clock of twelve hours takes two lines; each time stays whole. */}
                    <span className="whitespace-nowrap">
                      {turn.running ? 'on it' : clock.time(turn.span.start)} –
                    </span>{' '}
                    <span className="whitespace-nowrap">{clock.time(turn.span.end)}</span>
                  </span>
                  <span>
                    {turn.name} <span className="text-soft">· {turn.part}</span>
                  </span>
                </li>
              ))}
              {person.words && <li className="text-soft lg:col-span-2">{person.words}</li>}
            </ol>
            <span className="flex gap-2">
              {/* Each has a place of its own: pressed twice, the second press meets nothing. */}
              <Toggle person={person} shown={person.absence_id !== ''} name="Here again" onPress={toggle} />
              <Toggle person={person} shown={person.here} name="Not here" onPress={toggle} />
            </span>
          </li>
        ))}
      </ul>
    </section>
  )
}

type ToggleProps = {
  person: Person
  shown: boolean
  name: 'Here again' | 'Not here'
  onPress: (person: Person) => void
}

function Toggle({ person, shown, name, onPress }: ToggleProps) {
  return (
    <Button
      quiet
      disabled={!shown}
      aria-label={`${person.name} is ${name === 'Not here' ? 'not here today' : 'here again'}`}
      className={clsx(!shown && 'invisible')}
      onClick={() => onPress(person)}
    >
      {name}
    </Button>
  )
}
