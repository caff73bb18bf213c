import { scaleLinear } from '@visx/scale'
import { AreaClosed, LinePath } from '@visx/shape'
import { clsx } from 'clsx'
import { useId } from 'react'
import { useClock, useShow } from '@/app/formats'
import { ms, type Span, ticks, type timeScale } from './time-scale'

export type Scale = ReturnType<typeof timeScale>
export type Degrees = { at: string; c: number }
export type KnotMark = { name: string; at: string | null; early?: string | null; late?: string | null }

/** Nights darken the ground. */
export function Nights({ nights, x, height }: { nights: Span[]; x: Scale; height: number }) {
  const right = x.range()[1] ?? 0
  return (
    <>
      {nights.map((night) => {
        const from = Math.max(x(ms(night.start)), 0)
        const to = Math.min(x(ms(night.end)), right)
        return to > from ? (
          <rect key={night.start} x={from} width={to - from} height={height} fill="var(--night)" />
        ) : null
      })}
    </>
  )
}

/** Days, and hours where there is room; their names stand at `top`. */
export function Axis({ span, x, top, height }: { span: Span; x: Scale; top: number; height: number }) {
  const clock = useClock()
  const plot = x.range()[1] ?? 0
  const days = (ms(span.end) - ms(span.start)) / 86_400_000
  const perDay = plot / days
  const marks = ticks(span, (at) => clock.hour(at), perDay)
  return (
    <g>
      {marks.map(({ at, hour }) => (
        <g key={at}>
          <line
            x1={x(at)}
            x2={x(at)}
            y1={hour ? top : 0}
            y2={height}
            stroke="var(--line)"
            strokeWidth={hour ? 1 : 2}
          />
          {x(at) < plot - (perDay < 90 ? 30 : 80) && (perDay > 28 || clock.day(at).startsWith('Mon')) && (
            <text
              x={x(at) + 5}
              y={top + 20}
              className={clsx('text-[14px]', hour ? 'fill-soft' : 'fill-ink font-semibold')}
            >
              {hour
                ? clock.time(at)
                : perDay < 55
                  ? clock.dayNumber(at)
                  : perDay < 90
                    ? `${clock.day(at).split(' ')[0]} ${clock.dayNumber(at)}`
                    : clock.day(at)}
            </text>
          )}
        </g>
      ))}
    </g>
  )
}

type RibbonProps = {
  points: Degrees[]
  recordedUntil: string | null
  minC?: number | null
  x: Scale
  height: number
  /** Labels stand inside where there is no margin beside the plot. */
  inside?: boolean
}

/** The temperature as a band; recorded solid, expected dashed; only what is below the minimum is madder. */
export function TemperatureRibbon({ points, recordedUntil, minC = null, x, height, inside }: RibbonProps) {
  const id = useId()
  const show = useShow()
  const degrees = points.map((p) => p.c)
  const low = Math.min(...degrees, minC ?? Number.POSITIVE_INFINITY)
  const high = Math.max(...degrees, minC ?? Number.NEGATIVE_INFINITY)
  const y = scaleLinear({ domain: [low - 2, high + 2], range: [height - 2, 6] })
  const floor = minC === null ? null : y(minC)
  const area = { data: points, x: (p: Degrees) => x(ms(p.at)), y: (p: Degrees) => y(p.c) }
  const label = inside ? ({ x: 6, textAnchor: 'start' } as const) : ({ x: -8, textAnchor: 'end' } as const)
  const right = x.range()[1] ?? 0
  const recorded = recordedUntil ? Math.min(Math.max(x(ms(recordedUntil)), 0), right) : 0
  return (
    <g>
      <AreaClosed {...area} yScale={y} fill="var(--woad)" fillOpacity={0.22} />
      {floor !== null && (
        <>
          <clipPath id={id}>
            <rect x={0} width={right} y={floor} height={height} />
          </clipPath>
          {/* What is missing to the minimum: between the line and the temperature. */}
          <g clipPath={`url(#${CSS.escape(id)})`}>
            <AreaClosed
              data={points}
              x={(p) => x(ms(p.at))}
              y={(p) => Math.max(y(p.c), floor)}
              y0={() => floor}
              yScale={y}
              fill="var(--madder)"
              fillOpacity={0.75}
            />
          </g>
          <line
            x1={0}
            x2={right}
            y1={floor}
            y2={floor}
            stroke="var(--madder)"
            strokeWidth={1.5}
            strokeDasharray="7 4"
          />
          <text
            {...label}
            y={inside ? (floor > height - 20 ? floor - 5 : floor + 15) : floor + 5}
            className="halo fill-madder text-[14px]"
          >
            {show(minC, 'temperature')} least
          </text>
        </>
      )}
      <clipPath id={`${id}-past`}>
        <rect x={0} width={recorded} y={0} height={height} />
      </clipPath>
      <LinePath {...area} stroke="var(--woad)" strokeWidth={1.5} strokeDasharray="2 4" />
      <g clipPath={`url(#${CSS.escape(`${id}-past`)})`}>
        <LinePath {...area} stroke="var(--woad)" strokeWidth={2.5} />
      </g>
      <text
        {...label}
        y={inside ? 16 : y(Math.max(...degrees)) + 5}
        className={clsx('fill-ink text-[14px]', inside && 'halo')}
      >
        {show(Math.max(...degrees), 'temperature')}
      </text>
      {!inside && (floor === null || Math.abs(y(Math.min(...degrees)) - floor) > 14) && (
        <text {...label} y={y(Math.min(...degrees)) + 5} className="fill-ink text-[14px]">
          {show(Math.min(...degrees), 'temperature')}
        </text>
      )}
    </g>
  )
}

const WORK = {
  done: 'var(--lichen)',
  running: 'var(--walnut)',
  paused: 'var(--walnut)',
  'to do': 'var(--walnut)',
}

/** Hands-on work: solid blocks. */
export function Blocks({
  pieces,
  state,
  x,
  y,
  height,
}: {
  pieces: Span[]
  state: keyof typeof WORK
  x: Scale
  y: number
  height: number
}) {
  return (
    <>
      {pieces.map((piece) => (
        <rect
          key={piece.start}
          x={x(ms(piece.start))}
          width={Math.max(x(ms(piece.end)) - x(ms(piece.start)), 5)}
          y={y}
          height={height}
          fill={WORK[state]}
        />
      ))}
    </>
  )
}

type ThreadProps = {
  thread: Span
  knots: KnotMark[]
  ready: string | null
  x: Scale
  /** The thread's middle. */
  y: number
  thick?: number
}

/** A taper from the end of the work to the end of its wait, a knot for each stage on the way. */
export function Thread({ thread, knots, ready, x, y, thick = 9 }: ThreadProps) {
  const clock = useClock()
  const [from, to] = [x(ms(thread.start)), x(ms(thread.end))]
  const right = x.range()[1] ?? 0
  const last = knots.findIndex((knot) => knot.at !== null && knot.at === ready)
  const wait = knots[last]
  const shown = knots.filter((knot) => knot.at !== null && ms(knot.at) <= ms(thread.end) + 60_000)
  return (
    <g>
      {wait?.early && wait.late && (
        <line
          x1={x(ms(wait.early))}
          x2={Math.min(x(ms(wait.late)), right)}
          y1={y}
          y2={y}
          stroke="var(--woad)"
          strokeWidth={1.5}
          strokeDasharray="3 3"
        />
      )}
      <path d={`M${from} ${y - thick}L${to} ${y - 1}V${y + 1}L${from} ${y + thick}Z`} fill="var(--woad)" />
      {shown.map((knot) =>
        knot.at ? (
          <g key={knot.name + knot.at}>
            <title>{`${knot.name} ${clock.dayTime(knot.at)}`.trim()}</title>
            <circle
              cx={x(ms(knot.at))}
              cy={y}
              r={knot === wait ? 7 : 5}
              fill={knot === wait ? 'var(--lichen)' : 'var(--panel)'}
              stroke="var(--ink)"
              strokeWidth={1.5}
            />
          </g>
        ) : null,
      )}
    </g>
  )
}

/** Where the shop's clock stands. */
export function NowLine({ now, x, height }: { now: string; x: Scale; height: number }) {
  const at = x(ms(now))
  if (at < 0 || at > (x.range()[1] ?? 0)) return null
  return (
    <g>
      <line x1={at} x2={at} y1={0} y2={height} stroke="var(--ink)" strokeWidth={2} />
      <path d={`M${at - 6} 0h12l-6 8Z`} fill="var(--ink)" />
    </g>
  )
}
