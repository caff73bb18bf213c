import type { BetterOrder } from '@/api/client'
import { useClock } from '@/app/formats'
import { ms } from '@/weave/time-scale'
import { useWidth } from '@/weave/use-width'

const HEIGHT = 132
const TOP = 26
const BOTTOM = 34
const LEFT = 12
const RIGHT = 110

/** The end of the best plan so far over the time that was searched: a thread that falls towards what none can end
before. */
export function FallingEnd({ view, elapsed }: { view: BetterOrder; elapsed: number }) {
  const { box, width } = useWidth<HTMLDivElement>(700)
  const clock = useClock()
  const ends = view.ends.map((end) => ({ s: end.after_s, at: ms(end.finish) }))
  const first = ends[0]
  const last = ends.at(-1)
  if (!first || !last) return null
  const bound = view.bound ? ms(view.bound) : last.at
  const high = Math.max(first.at, last.at)
  const low = Math.min(bound, last.at)
  const span = Math.max(view.seconds, last.s, 1)
  const x = (s: number) => LEFT + (Math.min(s, span) / span) * (width - LEFT - RIGHT)
  const y = (at: number) =>
    high === low ? TOP : TOP + ((high - at) / (high - low)) * (HEIGHT - TOP - BOTTOM)
  const until = view.state === 'looking' ? Math.max(elapsed, last.s) : Math.max(last.s, span)
  const path = ends.reduce(
    (drawn, end, n) => (n === 0 ? `M${x(end.s)} ${y(end.at)}` : `${drawn}H${x(end.s)}V${y(end.at)}`),
    '',
  )
  const words = ends.map((end) => `${clock.day(end.at)} after ${end.s} s`).join(', ')
  return (
    <div ref={box}>
      <svg width={width} height={HEIGHT} role="img" aria-label={`The end found: ${words}`}>
        <line
          x1={LEFT}
          x2={width - RIGHT}
          y1={y(bound)}
          y2={y(bound)}
          className="stroke-madder"
          strokeWidth={2}
          strokeDasharray="2 6"
        />
        <path d={`${path}H${x(until)}`} fill="none" className="stroke-woad" strokeWidth={3} />
        {ends.map((end) => (
          <circle key={`${end.s}/${end.at}`} cx={x(end.s)} cy={y(end.at)} r={5} className="fill-woad" />
        ))}
        <text x={LEFT} y={y(first.at) - 11} className="fill-soft text-sm">
          {clock.day(first.at)}
        </text>
        {last.at < first.at && (
          <text x={x(until) + 10} y={y(last.at) + 5} className="fill-ink font-semibold">
            {clock.day(last.at)}
          </text>
        )}
        {bound < last.at && (
          <text x={LEFT} y={y(bound) + 19} className="fill-madder text-sm">
            {`No plan can end before ${clock.day(bound)}${view.bound_why ? `: ${view.bound_why}` : ''}`}
          </text>
        )}
      </svg>
    </div>
  )
}
