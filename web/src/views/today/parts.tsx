import { clsx } from 'clsx'
import { type ReactNode, useState } from 'react'
import { Link } from 'react-router'
import { useRefresh } from '@/api/changes'
import { answer, client, newId, Problem, type TodayRow, type TodayView } from '@/api/client'
import { Notice } from '@/ui/notice'

type LiesProps = { lies: TodayView['lies'][number]; children: (row: TodayRow) => ReactNode }

/** Everything else that needs a thing as it lies now, before it is turned. */
export function AsItLies({ lies, children }: LiesProps) {
  return (
    <section className="flex flex-col gap-2">
      <h2 className="font-semibold text-xl">
        While {lies.name} lies {lies.way}
        <span className="ml-3 font-normal text-base text-soft">{lies.words}</span>
      </h2>
      {lies.rows.length > 0 && <ul className="flex flex-col gap-2">{lies.rows.map(children)}</ul>}
    </section>
  )
}

/** Who is here: a tap sends somebody home for the day, or back; the plan follows at once. */
export function WhoIsHere({ here }: { here: TodayView['here'] }) {
  const refresh = useRefresh()
  const [problem, setProblem] = useState('')
  const toggle = async (person: TodayView['here'][number]) => {
    try {
      await answer(
        person.absence_id
          ? client.POST('/api/v1/absences/{absence_id}/back', {
              params: { path: { absence_id: person.absence_id } },
            })
          : client.POST('/api/v1/absences', { body: { id: newId(), crew_member_id: person.id } }),
      )
      setProblem('')
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      setProblem(error.message)
    }
    await refresh()
  }
  return (
    <section className="flex flex-col gap-2">
      <h2 className="font-semibold text-xl">
        Who is here
        <span className="ml-3 font-normal text-base text-soft">Tap who is not.</span>
        <Link to="/crew" className="ml-3 inline-flex min-h-11 items-center font-normal text-base underline">
          Crew and stations
        </Link>
      </h2>
      {problem && <Notice tone="stop">{problem}</Notice>}
      <ul className="flex flex-wrap gap-2">
        {here.map((person) => (
          <li key={person.id}>
            <button
              type="button"
              aria-pressed={person.here}
              disabled={!person.here && !person.absence_id}
              onClick={() => void toggle(person)}
              className={clsx(
                'flex min-h-14 min-w-44 flex-col items-start justify-center border-2 px-3 py-1 text-left',
                person.here ? 'edge-ready border-line bg-panel' : 'border-line border-dashed text-soft',
              )}
            >
              <span className="font-semibold">
                {person.name}
                {!person.here && ' · not here'}
              </span>
              <span className="max-w-64 truncate text-sm">{person.words}</span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  )
}

const PARTS = [
  ['check_first', 'Check first'],
  ['half_done', 'Half done'],
  ['expired', 'Expired meanwhile'],
  ['arrived', 'Deliveries'],
  ['last_done', 'Done last'],
] as const

/** Where we left off, after days away. */
export function Resume({ card }: { card: NonNullable<TodayView['resume']> }) {
  return (
    <section className="edge-wait flex flex-col gap-3 bg-panel p-5" data-testid="resume">
      <h2 className="font-semibold text-xl">
        Where we left off <span className="ml-3 font-normal text-base text-soft">{card.away}</span>
      </h2>
      <div className="grid gap-x-8 gap-y-3 md:grid-cols-2">
        {PARTS.map(([key, title]) =>
          card[key].length === 0 ? null : (
            <div key={key}>
              <h3 className="font-semibold">{title}</h3>
              <ul>
                {card[key].map((line) => (
                  <li key={line}>{line}</li>
                ))}
              </ul>
            </div>
          ),
        )}
      </div>
    </section>
  )
}
