import type { TodayView } from '@/api/client'

type Closing = NonNullable<TodayView['closing']>

const LISTS = [
  ['before', 'Still being worked on'],
  ['runs', 'Runs overnight'],
  ['stays_on', 'Stays on, and stays where it is'],
  ['first', 'First when it opens'],
] as const

/** Closing down: the list to walk through before the lights go out. */
export function ClosingDown({ closing }: { closing: Closing }) {
  return (
    <section className="edge-wait flex flex-col gap-3 bg-panel p-5 max-sm:p-4" data-testid="closing">
      <h2 className="font-semibold text-xl">
        Closing down
        <span className="ml-3 font-normal text-base text-soft">{closing.words}</span>
      </h2>
      <div className="grid gap-x-8 gap-y-4 md:grid-cols-2">
        {LISTS.map(([key, title]) =>
          closing[key].length === 0 && key === 'before' ? null : (
            <div key={key}>
              <h3 className="font-semibold">{title}</h3>
              {closing[key].length === 0 && <p className="text-soft">Nothing.</p>}
              <ul>
                {closing[key].map((line) => (
                  <li key={line} className="border-line border-b py-1">
                    {line}
                  </li>
                ))}
              </ul>
            </div>
          ),
        )}
      </div>
    </section>
  )
}
