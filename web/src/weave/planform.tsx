import { clsx } from 'clsx'
import { type ReactNode, useId } from 'react'
import { useWidth } from './use-width'

export type Corner = readonly number[]
export type Ring = readonly Corner[]
type Props = {
  /** Rings to be seen: outer edges and holes (to the side, aft). */
  outline: readonly Ring[]
  /** Whether it has a root and a tip: its one ring runs along the leading edge and back along the trailing one. */
  ends?: boolean
  /** Words beside the drawing's edges, already in the shop's units. */
  span?: string
  root?: string
  tip?: string
  /** Ribs across it, each from nose to tail. */
  ribs?: readonly (readonly Corner[])[]
  /** Warp of the ply that is lit (to the side, aft), and whether it has fibres across too. */
  warp?: readonly number[]
  woven?: boolean
  className?: string
  /** No deeper than so many pixels. */
  deepest?: number
  /** So much is left above and below it where it is narrow, for what is taken hold of there [px]. */
  room?: number
  /** Places on it, by a figure each. */
  marks?: { at: Corner; name: string }[]
  /** Lines that make no outline yet, drawn as they are. */
  loose?: readonly Ring[]
  /** Drawn over it, on its own scale. */
  over?: (scale: PlanScale) => ReactNode
  /** Touched: where, in the outline's own coordinates. */
  onPoint?: (at: [number, number]) => void
}

/** Where a place of the outline lies on the drawing [px], and how many pixels a metre and all of it have. */
export type PlanScale = {
  x: (p: Corner) => number
  y: (p: Corner) => number
  perMetre: number
  width: number
}

const MARGIN = { side: 84, top: 14 }
/** A mark at the edge is seen whole [px]. */
const MARK = 20
/** On a drawing narrower than this a chord is no deeper than a finger [px]. */
const NARROW = 480
/** No part is drawn deeper, unless it is said [px]. */
const DEEPEST = 260

/** A part's real outline, seen from above with the nose up; the lit ply's fibres drawn over it. */
export function Planform({
  outline,
  ends,
  span,
  root,
  tip,
  ribs,
  warp,
  woven,
  className,
  marks,
  loose,
  over,
  deepest = DEEPEST,
  room = 0,
  onPoint,
}: Props) {
  // Drawn as wide as its place, so that its words are as large as all others.
  const { box, width: W } = useWidth<HTMLDivElement>(900)
  const id = useId()
  const points = [...outline, ...(loose ?? [])].flat()
  const sides = points.map((p) => p[0] ?? 0)
  const afts = points.map((p) => p[1] ?? 0)
  const [left, right] = [low(sides), -low(sides.map((v) => -v))]
  const [front, back] = [low(afts), -low(afts.map((v) => -v))]
  const margin = ends ? MARGIN.side : 24
  const beside = W < NARROW ? room : 0
  const top = Math.max(marks?.length ? MARK : MARGIN.top, beside)
  const scale = Math.min((W - 2 * margin) / (right - left || 1), deepest / (back - front || 1))
  const inset = (W - (right - left) * scale) / 2
  const x = (p: Corner) => inset + ((p[0] ?? 0) - left) * scale
  const y = (p: Corner) => top + ((p[1] ?? 0) - front) * scale
  const height = top + (back - front) * scale + Math.max(span ? 44 : marks?.length ? MARK : 12, beside)
  const drawn = (ring: Ring) => ring.map((p, i) => `${i ? 'L' : 'M'}${x(p)} ${y(p)}`).join('')
  const path = outline.map((ring) => `${drawn(ring)}Z`).join('')
  const first = outline[0]
  const [rootNose, tipNose, tipTail, rootTail] = first
    ? [first[0], first[first.length / 2 - 1], first[first.length / 2], first.at(-1)]
    : []
  // One that is widest between its ends goes on both ways, like a tailplane in one piece: neither end is its root.
  const chords = (first ?? []).map((nose, i) => (first?.at(-1 - i)?.[1] ?? 0) - (nose[1] ?? 0))
  const inner = chords.slice(1, chords.length / 2 - 1)
  const through = Math.max(0, ...inner) > Math.max(chords[0] ?? 0, chords[chords.length / 2 - 1] ?? 0) + 1e-6
  if (points.length === 0) return null
  const isLeft = rootNose && tipNose ? x(rootNose) > x(tipNose) : false
  const label = (nose: Corner, tail: Corner, words: string, outward: boolean) => (
    <text
      x={x(nose) + (outward === isLeft ? -1 : 1) * (marks?.length || over ? 24 : 10)}
      y={(y(nose) + y(tail)) / 2 + 6}
      textAnchor={outward === isLeft ? 'end' : 'start'}
      className="fill-ink text-[17px]"
    >
      {words}
    </text>
  )
  const touched = (event: React.MouseEvent<SVGSVGElement>) => {
    const screen = event.currentTarget.getScreenCTM()
    if (!screen) return
    const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(screen.inverse())
    onPoint?.([(at.x - inset) / scale + left, (at.y - top) / scale + front])
  }
  return (
    <div ref={box} className={clsx('w-full [contain:inline-size]', className)}>
      {/* biome-ignore lint/a11y/useKeyWithClickEvents: the same is said in words beside it */}
      <svg
        viewBox={`0 0 ${W} ${height}`}
        width={W}
        height={height}
        className="block"
        role={over ? 'group' : 'img'}
        aria-label="Planform"
        onClick={onPoint && touched}
      >
        <defs>
          {warp && (
            <Hatch
              id={id}
              side={warp[0] ?? 1}
              aft={warp[1] ?? 0}
              woven={woven ?? false}
              gap={13}
              stroke="var(--woad)"
            />
          )}
        </defs>
        <path d={path} fill="var(--panel)" fillRule="evenodd" />
        {warp && <path d={path} fill={`url(#${CSS.escape(id)})`} fillRule="evenodd" />}
        {ribs?.map(
          ([nose, tail]) =>
            nose &&
            tail && (
              <line
                key={nose.join()}
                x1={x(nose)}
                y1={y(nose)}
                x2={x(tail)}
                y2={y(tail)}
                stroke="var(--walnut)"
                strokeWidth={2}
              />
            ),
        )}
        <path d={path} fill="none" stroke="var(--ink)" strokeWidth={2.5} strokeLinejoin="round" />
        {loose?.map((line) => (
          <path
            key={`${line[0]?.join()} ${line.at(-1)?.join()}`}
            d={drawn(line)}
            fill="none"
            stroke="var(--ink)"
            strokeWidth={2}
          />
        ))}
        {ends && !through && rootNose && rootTail && (
          <line
            x1={x(rootNose)}
            y1={y(rootNose)}
            x2={x(rootTail)}
            y2={y(rootTail)}
            stroke="var(--walnut)"
            strokeWidth={6}
          />
        )}
        {over?.({ x, y, perMetre: scale, width: W })}
        {marks?.map((mark) => (
          <g key={mark.name + mark.at.join()}>
            <circle
              cx={x(mark.at)}
              cy={y(mark.at)}
              r={17}
              fill="var(--madder)"
              stroke="var(--panel)"
              strokeWidth={3}
            />
            <text
              x={x(mark.at)}
              y={y(mark.at) + 7}
              textAnchor="middle"
              className="fill-on-dye font-bold text-[20px]"
            >
              {mark.name}
            </text>
          </g>
        ))}
        {ends &&
          rootNose &&
          rootTail &&
          label(rootNose, rootTail, root ?? (through ? 'one end' : 'root'), false)}
        {ends && tipNose && tipTail && label(tipNose, tipTail, tip ?? (through ? 'other end' : 'tip'), true)}
        {span && (
          <g>
            <line
              x1={inset}
              x2={W - inset}
              y1={height - 26}
              y2={height - 26}
              stroke="var(--soft)"
              strokeWidth={1.5}
            />
            {[inset, W - inset].map((at) => (
              <line
                key={at}
                x1={at}
                x2={at}
                y1={height - 33}
                y2={height - 19}
                stroke="var(--soft)"
                strokeWidth={1.5}
              />
            ))}
            <text x={W / 2} y={height - 6} textAnchor="middle" className="fill-ink text-[17px]">
              {span}
            </text>
          </g>
        )}
      </svg>
    </div>
  )
}

/** The least of many: a drawing may have more corners than a call has arguments. */
const low = (values: number[]) => values.reduce((least, v) => Math.min(least, v), Number.POSITIVE_INFINITY)

type HatchProps = { id: string; side: number; aft: number; woven: boolean; gap: number; stroke: string }

/** Fibres at their true direction; woven cloth has them across too. */
export function Hatch({ id, side, aft, woven, gap, stroke }: HatchProps) {
  const degrees = (Math.atan2(aft, side) * 180) / Math.PI
  return (
    <pattern
      id={id}
      width={gap}
      height={gap}
      patternUnits="userSpaceOnUse"
      patternTransform={`rotate(${degrees})`}
    >
      <line x1={0} x2={gap} y1={gap / 2} y2={gap / 2} stroke={stroke} strokeWidth={2.2} />
      {woven && <line x1={gap / 2} x2={gap / 2} y1={0} y2={gap} stroke={stroke} strokeWidth={0.9} />}
    </pattern>
  )
}
