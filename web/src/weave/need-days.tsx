import { clsx } from 'clsx'
import type { NeedsView } from '@/api/client'

type Props = { view: NeedsView; picked: string; onPick: (ware: string) => void }
type State = NeedsView['wares'][number]['state']

/** Told apart by form as by colour: a dot is there, a ring comes, a full square is short, a bar nobody counts. */
const KNOT: Record<State, string> = {
  there: 'size-3 rounded-full bg-lichen',
  comes: 'size-4 rounded-full border-4 border-woad',
  short: 'size-6 bg-madder',
  uncounted: 'h-1.5 w-5 bg-weld',
  'no sheet': 'h-0.5 w-4 bg-soft',
}
const SAYS: [State, string][] = [
  ['short', 'short'],
  ['comes', 'on order'],
  ['there', 'there'],
  ['uncounted', 'not counted'],
  ['no sheet', 'on no sheet'],
]
const WORSE: State[] = ['no sheet', 'there', 'uncounted', 'comes', 'short']

/** Wares as warp, days as weft: a knot where something is taken, in the colour of how it stands. */
export function NeedDays({ view, picked, onPick }: Props) {
  const days = view.days.filter((day) => day.day)
  const at = new Map<string, { state: State; words: string }>()
  for (const day of days)
    for (const line of day.lines) {
      const key = `${line.ware}/${day.day}`
      const known = at.get(key)
      const worse = !known || WORSE.indexOf(line.state) > WORSE.indexOf(known.state)
      const words = `${line.amount} for ${line.step}, ${line.part}: ${line.words}`
      at.set(key, {
        state: worse ? line.state : known.state,
        words: known ? `${known.words}\n${words}` : words,
      })
    }
  return (
    <div className="flex flex-col gap-2">
      <section
        // biome-ignore lint/a11y/noNoninteractiveTabindex: on a phone it is scrolled sideways, by keys too
        tabIndex={0}
        aria-label="Needs by day"
        className="overflow-x-auto border-2 border-line bg-panel"
      >
        <table className="w-full border-collapse text-left">
          <thead>
            <tr className="border-line border-b text-soft">
              <th className="sticky left-0 z-1 bg-panel px-3 py-2 font-normal">What</th>
              <th className="px-2 text-right font-normal">Takes</th>
              <th className="px-2 text-right font-normal">There</th>
              <th className="px-2 text-right font-normal">On order</th>
              <th className="px-2 text-right font-normal">Short</th>
              {days.map((day) => (
                <th key={day.words} className="whitespace-nowrap px-1 text-center font-normal text-sm">
                  {day.short}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {view.wares.map((ware) => (
              <tr
                key={ware.ware}
                className={clsx('border-line border-b', ware.ware === picked && 'bg-woad-wash')}
              >
                <th
                  scope="row"
                  className={clsx(
                    'sticky left-0 z-1 p-0 font-normal',
                    ware.ware === picked ? 'bg-woad-wash' : 'bg-panel',
                  )}
                >
                  <button
                    type="button"
                    aria-pressed={ware.ware === picked}
                    onClick={() => onPick(ware.ware)}
                    className="min-h-11 w-full whitespace-nowrap px-3 text-left font-semibold hover:underline max-sm:w-36 max-sm:whitespace-normal"
                  >
                    {ware.name}
                  </button>
                </th>
                <td className="whitespace-nowrap px-2 text-right tabular-nums">{ware.takes}</td>
                <td className="whitespace-nowrap px-2 text-right tabular-nums">{ware.there}</td>
                <td className="whitespace-nowrap px-2 text-right tabular-nums">{ware.coming}</td>
                <td className="whitespace-nowrap px-2 text-right font-semibold text-madder tabular-nums">
                  {ware.short}
                </td>
                {days.map((day) => {
                  const knot = at.get(`${ware.ware}/${day.day}`)
                  return (
                    <td key={day.words} className="border-line border-l p-0 text-center">
                      {knot && (
                        <span
                          role="img"
                          aria-label={knot.words}
                          title={knot.words}
                          className={clsx('mx-auto block', KNOT[knot.state])}
                        />
                      )}
                    </td>
                  )
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      <p className="flex flex-wrap gap-x-5 gap-y-1 text-soft">
        {SAYS.map(([state, words]) => (
          <span key={state} className="flex items-center gap-2">
            <span aria-hidden className={clsx('block', KNOT[state])} /> {words}
          </span>
        ))}
      </p>
    </div>
  )
}
