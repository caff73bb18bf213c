import { scaleLinear } from '@visx/scale'
import { AreaClosed, LinePath } from '@visx/shape'
import { clsx } from 'clsx'
import { useEffect, useId, useRef, useState } from 'react'
import type { StepView, TimesView } from '@/api/client'
import { useClock, useShow } from '@/app/formats'
import { ms, ticks, timeScale } from './time-scale'

type Props = { view: TimesView; picked: string; onPick: (key: string) => void }

const NAMES = 250
const RIBBON = 84
const ROW = 44
const AXIS = 30
/** On a phone a step's name stands above its row instead of beside it. */
const NARROW = 640
const NAME_ABOVE = 20

/** Steps over the nights they take: work as blocks, each wait as a thread that thins as the cure goes on,
the shop's temperature as a ribbon above; only what lies below the product's minimum is madder. */
export function TimeLine({ view, picked, onPick }: Props) {
  const box = useRef<HTMLDivElement>(null)
  const [width, setWidth] = useState(1000)
  useEffect(() => {
    if (!box.current) return
    const watch = new ResizeObserver(([entry]) => entry && setWidth(entry.contentRect.width))
    watch.observe(box.current)
    return () => watch.disconnect()
  }, [])
  if (!view.span) return null
  const names = width < NARROW ? 0 : NAMES
  const above = names ? 0 : NAME_ABOVE
  const pitch = ROW + above
  const plot = width - names - 8
  const x = timeScale(view.span, plot)
  const height = RIBBON + AXIS + view.steps.length * pitch
  return (
    <div ref={box} className="relative select-none border-2 border-line bg-panel">
      <svg width={width} height={height} role="img" aria-label="Steps over time">
        <g transform={`translate(${names})`}>
          {view.nights.map((night) => (
            <rect
              key={night.start}
              x={x(ms(night.start))}
              width={Math.max(x(ms(night.end)) - x(ms(night.start)), 0)}
              y={0}
              height={height}
              fill="var(--night)"
            />
          ))}
          <Axis view={view} x={x} plot={plot} height={height} />
          <Ribbon view={view} x={x} inside={!names} />
        </g>
        {view.steps.map((step, i) => (
          <g key={step.key} transform={`translate(0 ${RIBBON + AXIS + i * pitch})`}>
            <rect
              width={width}
              height={pitch}
              fill={picked === step.key ? 'var(--woad-wash)' : 'transparent'}
              opacity={0.7}
            />
            <g transform={`translate(${names} ${above})`}>
              <Thread step={step} x={x} />
              <Blocks step={step} x={x} />
            </g>
          </g>
        ))}
      </svg>
      <ul className="absolute left-0" style={{ top: RIBBON + AXIS, width: names || '100%' }}>
        {view.steps.map((step) => (
          <li key={step.key} style={{ height: pitch }}>
            <button
              type="button"
              aria-pressed={picked === step.key}
              onClick={() => onPick(step.key)}
              className={clsx(
                'h-full w-full truncate px-3 text-left text-[0.95rem] hover:underline',
                above > 0 && 'flex items-start gap-1.5 pt-0.5',
                picked === step.key && 'font-semibold',
              )}
            >
              {step.done && <span className="text-lichen">● </span>}
              {step.name}
            </button>
          </li>
        ))}
      </ul>
    </div>
  )
}

type Scale = ReturnType<typeof timeScale>

function Axis({ view, x, plot, height }: { view: TimesView; x: Scale; plot: number; height: number }) {
  const clock = useClock()
  if (!view.span) return null
  const days = (ms(view.span.end) - ms(view.span.start)) / 86_400_000
  const marks = ticks(view.span, (at) => Number(clock.time(at).slice(0, 2)), plot / days)
  return (
    <g>
      {marks.map(({ at, hour }) => (
        <g key={at}>
          <line
            x1={x(at)}
            x2={x(at)}
            y1={hour ? RIBBON : 0}
            y2={height}
            stroke="var(--line)"
            strokeWidth={hour ? 1 : 2}
          />
          {x(at) < plot - (plot / days < 90 ? 30 : 80) && (
            <text
              x={x(at) + 5}
              y={RIBBON + 20}
              className={clsx('text-[14px]', hour ? 'fill-soft' : 'fill-ink font-semibold')}
            >
              {hour ? clock.time(at) : plot / days < 90 ? clock.day(at).split(' ')[0] : clock.day(at)}
            </text>
          )}
        </g>
      ))}
    </g>
  )
}

function Ribbon({ view, x, inside }: { view: TimesView; x: Scale; inside: boolean }) {
  const id = useId()
  const show = useShow()
  const degrees = view.ribbon.map((p) => p.c)
  const low = Math.min(...degrees, view.min_c ?? Number.POSITIVE_INFINITY)
  const high = Math.max(...degrees, view.min_c ?? Number.NEGATIVE_INFINITY)
  const y = scaleLinear({ domain: [low - 2, high + 2], range: [RIBBON - 2, 6] })
  const floor = view.min_c === null ? null : y(view.min_c)
  const area = { data: view.ribbon, x: (p: { at: string }) => x(ms(p.at)), y: (p: { c: number }) => y(p.c) }
  const label = inside ? ({ x: 6, textAnchor: 'start' } as const) : ({ x: -8, textAnchor: 'end' } as const)
  const recorded = view.recorded_until ? x(ms(view.recorded_until)) : 0
  const right = x.range()[1] ?? 0
  return (
    <g>
      <AreaClosed {...area} yScale={y} fill="var(--woad)" fillOpacity={0.22} />
      {floor !== null && (
        <>
          <clipPath id={id}>
            <rect x={0} width={right} y={floor} height={RIBBON} />
          </clipPath>
          {/* What is missing to the minimum: between the line and the temperature. */}
          <g clipPath={`url(#${CSS.escape(id)})`}>
            <AreaClosed
              data={view.ribbon}
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
          <text {...label} y={inside ? RIBBON - 5 : floor + 5} className="fill-madder text-[13px]">
            {show(view.min_c, 'temperature')} least
          </text>
        </>
      )}
      <clipPath id={`${id}-past`}>
        <rect x={0} width={Math.max(recorded, 0)} y={0} height={RIBBON} />
      </clipPath>
      <LinePath {...area} stroke="var(--woad)" strokeWidth={1.5} strokeDasharray="2 4" />
      <g clipPath={`url(#${CSS.escape(`${id}-past`)})`}>
        <LinePath {...area} stroke="var(--woad)" strokeWidth={2.5} />
      </g>
      <text {...label} y={inside ? 16 : y(high) + 5} className="fill-ink text-[13px]">
        {show(high, 'temperature')}
      </text>
    </g>
  )
}

function Blocks({ step, x }: { step: StepView; x: Scale }) {
  return (
    <>
      {step.pieces.map((piece) => (
        <rect
          key={piece.start}
          x={x(ms(piece.start))}
          width={Math.max(x(ms(piece.end)) - x(ms(piece.start)), 5)}
          y={9}
          height={ROW - 18}
          fill={step.done ? 'var(--lichen)' : 'var(--walnut)'}
        />
      ))}
    </>
  )
}

/** A taper from the end of the work to the end of its wait, with a knot for each stage on the way. */
function Thread({ step, x }: { step: StepView; x: Scale }) {
  const clock = useClock()
  if (!step.thread) return null
  const [from, to] = [x(ms(step.thread.start)), x(ms(step.thread.end))]
  const middle = ROW / 2
  const right = x.range()[1] ?? 0
  const last = step.knots.findIndex((knot) => knot.at !== null && knot.at === step.ready)
  const wait = step.knots[last]
  return (
    <g>
      {wait?.early && wait.late && (
        <line
          x1={x(ms(wait.early))}
          x2={Math.min(x(ms(wait.late)), right)}
          y1={middle}
          y2={middle}
          stroke="var(--woad)"
          strokeWidth={1.5}
          strokeDasharray="3 3"
        />
      )}
      <path
        d={`M${from} ${middle - 9}L${to} ${middle - 1}V${middle + 1}L${from} ${middle + 9}Z`}
        fill="var(--woad)"
      />
      {step.knots.slice(0, last + 1).map((knot, i) =>
        knot.at ? (
          <g key={knot.name}>
            <title>{`${knot.name} ${clock.dayTime(knot.at)}`}</title>
            <circle
              cx={x(ms(knot.at))}
              cy={middle}
              r={i === last ? 7 : 5}
              fill={i === last ? 'var(--lichen)' : 'var(--panel)'}
              stroke="var(--ink)"
              strokeWidth={1.5}
            />
          </g>
        ) : null,
      )}
    </g>
  )
}
