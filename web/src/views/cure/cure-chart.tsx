import { type PointerEvent, useRef } from 'react'
import type { CureCard } from '@/api/client'
import { useClock } from '@/app/formats'
import { Axis, Blocks, Nights, NowLine, TemperatureRibbon, Thread } from '@/weave/time-parts'
import { ms, timeScale } from '@/weave/time-scale'
import { useWidth } from '@/weave/use-width'

const RIBBON = 92
const AXIS = 28
const TRACK = 72
const HEIGHT = RIBBON + AXIS + TRACK
const STEP = 5 * 60_000

type Props = {
  card: CureCard
  /** The same cure before something was tried: it stays as a ghost. */
  before: CureCard | null
  now: string
  onStart: (at: string) => void
}

/** The thread over the temperature ribbon; the block of a mix still to come can be dragged. */
export function CureChart({ card, before, now, onStart }: Props) {
  const { box, width } = useWidth<HTMLDivElement>(900)
  const clock = useClock()
  const held = useRef<{ x: number; start: number } | null>(null)
  const names = width < 480 ? 0 : 94
  const plot = width - names - 8
  const from = Math.min(...[card, before].flatMap((c) => (c ? [ms(c.span.start)] : [])))
  const to = Math.max(...[card, before].flatMap((c) => (c ? [ms(c.span.end)] : [])))
  const span = { start: new Date(from).toISOString(), end: new Date(to).toISOString() }
  const x = timeScale(span, plot)
  const y = RIBBON + AXIS + TRACK * 0.56
  const movable = card.state === 'planned'
  const start = ms(card.work.start)

  // Keys pressed faster than answers come add up.
  const wanted = useRef<number | null>(null)
  if (!before) wanted.current = null

  const move = (at: number) => {
    wanted.current = Math.round(at / STEP) * STEP
    onStart(new Date(wanted.current).toISOString())
  }
  const grab = (event: PointerEvent<SVGRectElement>) => {
    event.currentTarget.setPointerCapture(event.pointerId)
    held.current = { x: event.clientX, start }
  }
  const drag = (event: PointerEvent<SVGRectElement>) => {
    if (!held.current) return
    const perPixel = (to - from) / plot
    move(held.current.start + (event.clientX - held.current.x) * perPixel)
  }
  const stage = card.knots.find((knot) => knot.name === card.stage)
  const left = x(ms(card.work.start))
  return (
    <div ref={box} className="select-none">
      {/* biome-ignore lint/a11y/useSemanticElements: a drawing that can be dragged is no set of fields */}
      <svg width={width} height={HEIGHT} role="group" aria-label={`Cure of ${card.part} over time`}>
        <g transform={`translate(${names})`}>
          <Nights nights={card.nights} x={x} height={HEIGHT} />
          <Axis span={span} x={x} top={RIBBON} height={HEIGHT} />
          <TemperatureRibbon
            points={card.ribbon}
            recordedUntil={card.recorded_until}
            minC={card.min_c}
            x={x}
            height={RIBBON}
            inside={!names}
          />
          {before && (
            <g opacity={0.45}>
              {movable && <Blocks pieces={[before.work]} state="to do" x={x} y={y + 15} height={10} />}
              <Thread
                thread={before.thread}
                knots={before.knots.filter((knot) => knot.name === before.stage)}
                ready={null}
                x={x}
                y={y + 20}
                thick={5}
              />
            </g>
          )}
          <Thread
            thread={card.thread}
            knots={card.knots.filter((knot) => knot.at && ms(knot.at) <= ms(card.thread.end) + 60_000)}
            ready={stage?.at ?? null}
            x={x}
            y={y}
            thick={10}
          />
          {card.knots.map((knot) => {
            const at = knot.at ? x(ms(knot.at)) : -1
            // On a phone there is room for the stage that is waited for.
            if (plot < 420 && knot.name !== card.stage) return null
            // Names that would stand on the one that is waited for are left to the list below.
            const waited = stage?.at ? x(ms(stage.at)) : -1000
            if (knot.name !== card.stage && Math.abs(at - waited) < 92) return null
            if (!knot.at || at < 0 || at > plot || ms(knot.at) > ms(card.thread.end) + 60_000) return null
            const end = at > plot - 90
            return (
              <text
                key={knot.name}
                x={end ? at + 8 : at - 6}
                y={y - 16}
                textAnchor={end ? 'end' : 'start'}
                className="fill-ink text-[14px]"
              >
                {knot.name} {clock.time(knot.at)}
              </text>
            )
          })}
          {card.state !== 'curing' && card.state !== 'reached' && (
            <Blocks pieces={[card.work]} state="to do" x={x} y={y - 13} height={26} />
          )}
          <NowLine now={now} x={x} height={HEIGHT} />
          {movable && (
            <rect
              role="slider"
              tabIndex={0}
              aria-label={`Start of ${card.name}, ${card.part}`}
              aria-valuenow={Math.round(start / 60_000)}
              aria-valuetext={clock.dayTime(card.work.start)}
              x={left - 8}
              y={y - 24}
              width={Math.max(x(ms(card.work.end)) - left, 6) + 16}
              height={48}
              fill="transparent"
              className="cursor-ew-resize touch-none"
              onPointerDown={grab}
              onPointerMove={drag}
              onPointerUp={() => {
                held.current = null
              }}
              onKeyDown={(event) => {
                const by = { ArrowRight: 1, ArrowLeft: -1, ArrowUp: 12, ArrowDown: -12 }[event.key]
                if (by === undefined) return
                event.preventDefault()
                move((wanted.current ?? start) + by * STEP)
              }}
            />
          )}
        </g>
      </svg>
    </div>
  )
}
