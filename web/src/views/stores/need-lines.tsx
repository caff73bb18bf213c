import { Link } from 'react-router'
import type { NeedsView } from '@/api/client'
import { stepAddress } from '@/app/step-address'

const TONE = {
  there: 'edge-ready',
  comes: 'edge-wait',
  short: 'edge-stop',
  uncounted: 'edge-care',
  'no sheet': '',
} as const

/** What is needed day by day, each for which step; of one ware where one is picked. */
export function NeedLines({ view, ware }: { view: NeedsView; ware: string }) {
  const days = view.days
    .map((day) => ({ ...day, lines: day.lines.filter((line) => !ware || line.ware === ware) }))
    .filter((day) => day.lines.length > 0)
  if (days.length === 0)
    return ware ? <p className="text-soft">Not in the days that are shown; ask for more days.</p> : null
  return (
    <div className="flex flex-col gap-5">
      {days.map((day) => (
        <section key={day.words} aria-label={day.words}>
          <h2 className="mb-1 font-semibold text-lg">{day.words}</h2>
          <ul className="border-line border-t">
            {day.lines.map((line) => (
              <li
                key={`${line.ware}/${line.part_id}/${line.step_key}`}
                className={`grid items-center gap-x-4 border-line border-b bg-panel px-3 py-1.5 sm:grid-cols-[14rem_6rem_1fr_9rem] ${TONE[line.state]}`}
              >
                <span className="font-semibold">{line.name}</span>
                <span className="tabular-nums sm:text-right">{line.amount}</span>
                <Link to={stepAddress(line.part_id, line.step_key)} className="underline">
                  {line.step}, {line.part}
                </Link>
                <span className={line.state === 'short' ? 'font-semibold text-madder' : 'text-soft'}>
                  {line.words}
                </span>
              </li>
            ))}
          </ul>
        </section>
      ))}
    </div>
  )
}
