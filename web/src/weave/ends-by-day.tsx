import type { HowSure } from '@/api/client'
import { useClock } from '@/app/formats'
import { ms } from '@/weave/time-scale'
import { useWidth } from '@/weave/use-width'

const HEIGHT = 170
const TOP = 46
const BOTTOM = 28
const DAY = 86_400_000

/** How many drawn plans end on each day: weights on a line, with the dates that hold in 5, 50 and 95 of 100. */
export function EndsByDay({ view }: { view: HowSure }) {
  const { box, width } = useWidth<HTMLDivElement>(700)
  const clock = useClock()
  const days = view.days.map((one) => ({ at: ms(one.day), plans: one.plans }))
  const marks = view.dates.map((date) => ms(date))
  const known = view.known ? ms(view.known) : null
  const first = Math.min(...days.map((one) => one.at), known ?? Number.POSITIVE_INFINITY) - DAY
  const last = Math.max(...days.map((one) => one.at + DAY), known ?? 0) + DAY
  const most = Math.max(...days.map((one) => one.plans), 1)
  const x = (at: number) => 8 + ((at - first) / (last - first)) * (width - 16)
  const y = (plans: number) => HEIGHT - BOTTOM - (plans / most) * (HEIGHT - TOP - BOTTOM)
  const names = ['5 of 100', 'half', '95 of 100']
  const words = marks.map((at, n) => `${names[n]} by ${clock.day(at)}`).join(', ')
  return (
    <div ref={box}>
      <svg width={width} height={HEIGHT} role="img" aria-label={`Ends of the drawn plans: ${words}`}>
        {days.map((one) => (
          <rect
            key={one.at}
            x={x(one.at) + 1}
            width={Math.max(x(one.at + DAY) - x(one.at) - 2, 2)}
            y={y(one.plans)}
            height={HEIGHT - BOTTOM - y(one.plans)}
            className="fill-woad"
          />
        ))}
        <line
          x1={0}
          x2={width}
          y1={HEIGHT - BOTTOM}
          y2={HEIGHT - BOTTOM}
          className="stroke-ink"
          strokeWidth={1.5}
        />
        {marks.map((at, n) => (
          <g key={names[n]}>
            <line
              x1={x(at)}
              x2={x(at)}
              y1={30}
              y2={HEIGHT - BOTTOM}
              className="stroke-ink"
              strokeDasharray="3 4"
            />
            <text
              x={x(at)}
              y={n === 1 ? 12 : 26}
              textAnchor={n === 0 ? 'end' : n === 2 ? 'start' : 'middle'}
              className="fill-ink text-sm"
            >
              {`${names[n]}: ${clock.day(at)}`}
            </text>
          </g>
        ))}
        {known !== null && (
          <g>
            <line
              x1={x(known)}
              x2={x(known)}
              y1={TOP}
              y2={HEIGHT - BOTTOM + 6}
              className="stroke-madder"
              strokeWidth={3}
            />
            <text
              x={x(known)}
              y={HEIGHT - 8}
              textAnchor={known < first + (last - first) / 5 ? 'start' : 'middle'}
              className="fill-madder font-semibold text-sm"
            >
              {`the plan: ${clock.day(known)}`}
            </text>
          </g>
        )}
      </svg>
    </div>
  )
}
