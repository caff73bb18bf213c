import { clsx } from 'clsx'
import { type KeyboardEvent, memo, useMemo, useRef } from 'react'
import type { Block, Lane, LoomView } from '@/api/loom'
import { useClock } from '@/app/formats'
import { Axis, Nights, NowLine, type Scale, TemperatureRibbon, Thread } from '@/weave/time-parts'
import { ms, type Span, timeScale } from '@/weave/time-scale'
import { useSeen } from '@/weave/use-seen'
import { useWidth } from '@/weave/use-width'
import { awaited } from './awaited'
import { useDrag } from './drag'

const RIBBON = 72
const AXIS = 30
const LANE = 58
const CREW = 26
const BAR = 24
const TOP = 24

type Props = {
  view: LoomView
  span: Span
  picked: string
  /** The step that held the picked one. */
  heldBy: string
  onPick: (id: string) => void
  onPin: (block: Block, at: string) => Promise<void>
}

/** Lanes by part under the temperature, the crew below; all on one time axis. */
export function Lanes({ view, span, picked, heldBy, onPick, onPin }: Props) {
  const { box, width } = useWidth<HTMLDivElement>()
  const grid = useRef<HTMLDivElement>(null)
  const names = width < 640 ? 92 : 190
  const plot = Math.max(width - names - 8, 100)
  const x = useMemo(() => timeScale(span, plot), [span, plot])
  const head = RIBBON + AXIS
  const rows = useMemo(() => rowsOf(view.lanes, x), [view.lanes, x])
  const crewTop = head + rows.height + 12
  const height = crewTop + view.crew.length * CREW + 8
  const chosen = view.lanes.flatMap((lane) => lane.blocks).find((block) => block.id === picked)
  // Of a build of hundreds of steps only the lanes near the screen are drawn.
  const seen = useSeen(grid)
  const near = (i: number) => {
    const top = head + (rows.top[i] ?? 0)
    return top + LANE * (rows.tracks[i] ?? 1) > seen.from && top < seen.to
  }
  const lanes = view.lanes.map((lane, i) => ({ lane, i })).filter(({ i }) => near(i))

  const onKey = (event: KeyboardEvent) => {
    const steps: Record<string, [number, number]> = {
      ArrowRight: [0, 1],
      ArrowLeft: [0, -1],
      ArrowDown: [1, 0],
      ArrowUp: [-1, 0],
    }
    const step = steps[event.key]
    const here = (event.target as HTMLElement).dataset.block
    if (!step || !here || !grid.current) return
    event.preventDefault()
    next(view, here, step, grid.current)?.focus()
  }

  return (
    <div
      ref={box}
      className="relative select-none overflow-hidden border-2 border-line bg-panel"
      style={{ height: height + 4 }}
    >
      <svg width={width} height={height} className="absolute" aria-hidden>
        <g transform={`translate(${names})`}>
          <Nights nights={view.nights} x={x} height={height} />
          {view.frozen_until && (
            <Kept from={ms(view.now)} until={ms(view.frozen_until)} x={x} top={head} height={height} />
          )}
          <Axis span={span} x={x} top={RIBBON} height={height} />
          <TemperatureRibbon points={view.ribbon} recordedUntil={view.recorded_until} x={x} height={RIBBON} />
          {lanes.map(({ lane, i }) => (
            <g key={lane.id} transform={`translate(0 ${head + (rows.top[i] ?? 0)})`}>
              <line x1={-names} x2={plot} y1={0} y2={0} stroke="var(--line)" />
              <Threads lane={lane} i={i} rows={rows} x={x} />
            </g>
          ))}
          {[...awaited(view.due)].map(([at, what], n) => (
            <g key={at} transform={`translate(${x(ms(at))} 0)`}>
              <line y1={head} y2={height} stroke="var(--weld)" strokeWidth={2} strokeDasharray="6 4" />
              <text
                x={5}
                y={16 + 17 * (n % 3)}
                className="fill-ink text-[14px]"
                stroke="var(--panel)"
                strokeWidth={4}
                paintOrder="stroke"
              >
                {what.join(', ')}
              </text>
            </g>
          ))}
          {chosen && <HeldBy view={view} chosen={chosen} by={heldBy} x={x} head={head} rows={rows} />}
          <line
            x1={-names}
            x2={plot}
            y1={crewTop - 6}
            y2={crewTop - 6}
            stroke="var(--ink)"
            strokeWidth={1.5}
          />
          {view.crew.map((member, i) =>
            member.pieces.map((piece) => (
              <rect
                key={member.name + piece.start}
                x={x(ms(piece.start))}
                width={Math.max(x(ms(piece.end)) - x(ms(piece.start)), 2)}
                y={crewTop + i * CREW + 6}
                height={CREW - 12}
                fill="var(--walnut)"
              />
            )),
          )}
          <NowLine now={view.now} x={x} height={height} />
        </g>
        <rect width={names} height={height} fill="var(--panel)" />
        <text x={names - 10} y={24} textAnchor="end" className="fill-soft text-[14px]">
          {width < 640 ? '' : 'main shop'}
        </text>
        {view.crew.map((member, i) => (
          <text key={member.name} x={12} y={crewTop + i * CREW + 18} className="fill-ink text-[14px]">
            {member.name}
          </text>
        ))}
      </svg>
      {/* biome-ignore lint/a11y/noStaticElementInteractions: the arrow keys go from button to button inside */}
      <div ref={grid} onKeyDown={onKey}>
        {lanes.map(({ lane, i }) => (
          <LaneRow
            key={lane.id}
            lane={lane}
            i={i}
            rows={rows}
            x={x}
            top={head}
            names={names}
            picked={lane.blocks.some((block) => block.id === picked) ? picked : ''}
            onPick={onPick}
            onPin={onPin}
          />
        ))}
      </div>
    </div>
  )
}

type OfLane = { lane: Lane; i: number; rows: Rows; x: Scale }

/** The waits of a lane, and where its steps were in the accepted plan. */
const Threads = memo(({ lane, i, rows, x }: OfLane) => (
  <>
    {lane.blocks.map((block) =>
      block.was ? (
        <g key={block.id} stroke="var(--ink)" strokeDasharray="3 3">
          <rect
            x={x(ms(block.was.start))}
            width={Math.max(x(ms(block.was.end)) - x(ms(block.was.start)), 4)}
            y={TOP + 3 + rows.down(block.id, i)}
            height={BAR - 6}
            fill="none"
          />
          {/* From where it was to where it is. */}
          <line
            x1={x(ms(block.was.end))}
            x2={x(starts(block))}
            y1={TOP + BAR + 4 + rows.down(block.id, i)}
            y2={TOP + BAR + 4 + rows.down(block.id, i)}
          />
        </g>
      ) : null,
    )}
    {lane.blocks.map(
      (block) =>
        block.wait && (
          <Thread
            key={block.id}
            thread={block.wait}
            knots={block.knots.map((at) => ({ name: '', at }))}
            ready={block.knots.at(-1) ?? null}
            x={x}
            y={TOP + BAR / 2 + rows.down(block.id, i)}
            thick={8}
          />
        ),
    )}
  </>
))

type LaneProps = OfLane & Pick<Props, 'picked' | 'onPick' | 'onPin'> & { top: number; names: number }

/** A lane's name and its steps. */
const LaneRow = memo(({ lane, i, rows, x, top, names, picked, onPick, onPin }: LaneProps) => (
  <section
    aria-label={lane.name}
    className="absolute right-0 left-0"
    style={{ top: top + (rows.top[i] ?? 0), height: LANE * (rows.tracks[i] ?? 1) }}
  >
    <p
      className="absolute left-0 flex h-full items-start px-3 pt-3 text-[0.95rem] leading-tight max-sm:px-1.5 max-sm:text-xs"
      style={{ width: names }}
    >
      {lane.name}
    </p>
    <div className="absolute top-0 right-0 bottom-0 overflow-hidden" style={{ left: names }}>
      {lane.blocks.map((block, n) => (
        <BlockButton
          key={block.id}
          block={block}
          down={rows.down(block.id, i)}
          room={roomFor(block, rows.after(lane.blocks, n, i), x)}
          x={x}
          picked={picked === block.id}
          onPick={onPick}
          onPin={onPin}
        />
      ))}
    </div>
  </section>
))

const FILL = {
  done: 'bg-lichen',
  running: 'bg-walnut outline-2 outline-offset-2 outline-walnut',
  paused: 'bg-walnut',
  'to do': 'bg-walnut',
}

type ButtonProps = {
  block: Block
  down: number
  room: number
  x: Scale
  picked: boolean
  onPick: (id: string) => void
  onPin: (block: Block, at: string) => Promise<void>
}

/** A step on its lane: its name over its stretches of work; the whole of it can be picked. */
function BlockButton({ block, down, room, x, picked, onPick, onPin }: ButtonProps) {
  const drag = useDrag(block, x, onPin)
  const clock = useClock()
  const first = block.pieces[0]
  const last = block.pieces[block.pieces.length - 1]
  if (!first || !last) return null
  const from = x(ms(first.start))
  const width = Math.max(x(ms(last.end)) - from, 6)
  return (
    <button
      type="button"
      data-block={block.id}
      aria-label={`${block.name}: ${clock.dayTime(first.start)}`}
      aria-pressed={picked}
      onClick={() => !drag.was() && onPick(block.id)}
      {...drag.on}
      className={clsx('absolute text-left', block.movable && 'touch-pan-y', drag.by !== 0 && 'z-10')}
      style={{
        top: down,
        left: from + drag.by,
        width: Math.max(width, Math.min(room, 44), TARGET),
        height: LANE,
      }}
    >
      {drag.by !== 0 && (
        <span className="absolute -top-0.5 left-0 whitespace-nowrap bg-ink px-1.5 text-[14px] text-ground">
          {drag.words}
        </span>
      )}
      <span
        className={clsx(
          'absolute top-0.5 left-0 truncate text-[14px] leading-5',
          picked ? 'font-semibold underline' : '',
        )}
        style={{ width: room }}
      >
        {room > 34 ? block.name : ''}
      </span>
      {block.pieces.map((piece) => (
        <span
          key={piece.start}
          className={clsx(
            'absolute',
            FILL[block.state],
            block.gate && 'closes',
            block.pinned && 'pinned',
            picked && 'outline-3 outline-woad outline-offset-1',
          )}
          style={{
            left: x(ms(piece.start)) - from,
            width: Math.max(x(ms(piece.end)) - x(ms(piece.start)), 5),
            top: TOP,
            height: BAR,
          }}
        />
      ))}
    </button>
  )
}

type Rows = ReturnType<typeof rowsOf>

/** A step can be touched over so much, however short it is [px]. */
const TARGET = 26

/** Steps of one lane that are worked at the same time, or nearly, stand under each other: each can be seen and picked. */
function rowsOf(lanes: Lane[], x: Scale) {
  const finger = Number(x.invert(TARGET)) - Number(x.invert(0))
  const track = new Map<string, number>()
  const tracks = lanes.map((lane, i) => {
    const busy: number[] = []
    const sorted = [...lane.blocks].sort((a, b) => starts(a) - starts(b))
    for (const block of sorted) {
      const free = busy.findIndex((until) => until <= starts(block))
      const at = free < 0 ? busy.length : free
      busy[at] = Math.max(ms(block.pieces.at(-1)?.end ?? ''), starts(block) + finger)
      track.set(`${i} ${block.id}`, at)
    }
    return Math.max(busy.length, 1)
  })
  const top = tracks.map((_, i) => LANE * tracks.slice(0, i).reduce((sum, n) => sum + n, 0))
  const at = (id: string, lane: number) => track.get(`${lane} ${id}`) ?? 0
  return {
    tracks,
    top,
    height: LANE * tracks.reduce((sum, n) => sum + n, 0),
    down: (id: string, lane: number) => LANE * at(id, lane),
    after: (blocks: Block[], n: number, lane: number) =>
      blocks.slice(n + 1).find((other) => at(other.id, lane) === at(blocks[n]?.id ?? '', lane)),
  }
}

const starts = (block: Block) => ms(block.pieces[0]?.start ?? '')

/** How wide a name may be before the next one begins. */
function roomFor(block: Block, after: Block | undefined, x: Scale) {
  const first = block.pieces[0]
  const next = after?.pieces[0]
  const to = next ? x(ms(next.start)) : (x.range()[1] ?? 0)
  return Math.max(to - (first ? x(ms(first.start)) : 0) - 4, 0)
}

type KeptProps = { from: number; until: number; x: Scale; top: number; height: number }

/** The days that are kept as the plan was accepted: a ground of their own, to the line they end at. */
function Kept({ from, until, x, top, height }: KeptProps) {
  const right = x.range()[1] ?? 0
  const [left, end] = [Math.max(x(from), 0), Math.min(x(until), right)]
  if (end <= left) return null
  return (
    <g>
      <rect x={left} width={end - left} y={top} height={height - top} fill="var(--woad-wash)" opacity={0.6} />
      <line x1={end} x2={end} y1={0} y2={height} stroke="var(--woad)" strokeWidth={2} strokeDasharray="8 4" />
      <text x={end - 6} y={RIBBON - 8} textAnchor="end" className="fill-woad font-semibold text-[14px]">
        kept as accepted
      </text>
    </g>
  )
}

type HeldProps = { view: LoomView; chosen: Block; by: string; x: Scale; head: number; rows: Rows }

/** From the step that held the chosen one to it. */
function HeldBy({ view, chosen, by, x, head, rows }: HeldProps) {
  const row = (id: string) => view.lanes.findIndex((lane) => lane.blocks.some((block) => block.id === id))
  const from = view.lanes.flatMap((lane) => lane.blocks).find((block) => block.id === by)
  const [last, first] = [from?.pieces.at(-1), chosen.pieces[0]]
  if (!from || !last || !first) return null
  const y = (id: string) => head + (rows.top[row(id)] ?? 0) + rows.down(id, row(id)) + TOP + BAR / 2
  const [x1, x2] = [x(ms(last.end)), x(ms(first.start))]
  return (
    <path
      d={`M${x1} ${y(from.id)}C${x1 + 24} ${y(from.id)} ${x2 - 24} ${y(chosen.id)} ${x2} ${y(chosen.id)}`}
      fill="none"
      stroke="var(--ink)"
      strokeWidth={2}
      strokeDasharray="2 3"
    />
  )
}

/** The button to go to from one, by rows and columns. */
function next(view: LoomView, here: string, [down, along]: [number, number], grid: HTMLElement) {
  const row = view.lanes.findIndex((lane) => lane.blocks.some((block) => block.id === here))
  const at = view.lanes[row]?.blocks.findIndex((block) => block.id === here) ?? 0
  const start = ms(view.lanes[row]?.blocks[at]?.pieces[0]?.start ?? view.now)
  let id: string | undefined
  if (along) id = view.lanes[row]?.blocks[at + along]?.id
  for (let r = row + down; down && !id && r >= 0 && r < view.lanes.length; r += down) {
    const near = [...(view.lanes[r]?.blocks ?? [])].sort(
      (a, b) =>
        Math.abs(ms(a.pieces[0]?.start ?? '') - start) - Math.abs(ms(b.pieces[0]?.start ?? '') - start),
    )
    id = near[0]?.id
  }
  return id ? grid.querySelector<HTMLElement>(`[data-block="${CSS.escape(id)}"]`) : null
}
