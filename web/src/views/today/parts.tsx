import type { ReactNode } from 'react'
import type { TodayRow, TodayView } from '@/api/client'

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
