import { clsx } from 'clsx'
import { memo, useEffect, useRef, useState } from 'react'
import type { CutPlanView } from '@/api/client'
import { useWidth } from './use-width'

export type Stock = CutPlanView['ways'][number]['stocks'][number]
export type CutPiece = Stock['pieces'][number]

const RULER = 26
/** How wide the cloth is drawn [px]; and how much of a strip is drawn at a time. */
const TALL = 230
const CHUNK_PX = 1400

/** What a ruler counts in, and how long that is. */
type Rule = { unit: string; mm: number }

type Props = {
  stock: Stock
  lit: (piece: CutPiece) => boolean
  onTouch: (piece: CutPiece | null) => void
  rule: Rule
}

/** What pieces are cut from, drawn to scale: a long roll as a strip to be scrolled, with the whole of it above. */
export function CutLayout({ stock, lit, onTouch, rule }: Props) {
  const { box, width } = useWidth<HTMLDivElement>(900)
  const scroller = useRef<HTMLDivElement>(null)
  const [left, setLeft] = useState(0)
  const fits = (width - 2) / stock.length_mm
  const scale = Math.max(Math.min(TALL / stock.width_mm, 0.4), Math.min(fits, 0.4))
  const long = stock.length_mm * scale > width + 1
  const px = stock.length_mm * scale
  // A roll of five hundred pieces is two hundred screens long: what is far from the view is not made at all.
  const from = long ? Math.max(left - CHUNK_PX, 0) : 0
  const to = long ? Math.min(left + width + CHUNK_PX, px) : px
  const seen = stock.pieces.filter((piece) => {
    const xs = piece.outline_mm.map(([x = 0]) => (x - base(stock)[0]) * scale)
    return Math.max(...xs) >= from && Math.min(...xs) <= to
  })
  useEffect(() => {
    const there = scroller.current
    if (!there) return
    const look = () => setLeft(Math.round(there.scrollLeft / CHUNK_PX) * CHUNK_PX)
    there.addEventListener('scroll', look, { passive: true })
    return () => there.removeEventListener('scroll', look)
  }, [])
  return (
    <div ref={box} className="flex min-w-0 flex-col gap-1">
      {long && (
        <Overview stock={stock} width={width} lit={lit} onGo={(share) => go(scroller.current, share)} />
      )}
      <div ref={scroller} className="overflow-x-auto overflow-y-hidden">
        {/* biome-ignore lint/a11y/useSemanticElements: a drawing whose pieces are touched is no set of fields */}
        <svg
          width={px + 2}
          height={stock.width_mm * scale + RULER + 2}
          role="group"
          aria-label={`${stock.name}, ${stock.size}`}
          className="block"
        >
          <g transform={`translate(1 ${RULER})`}>
            <Edge stock={stock} scale={scale} from={from} to={to} />
            {seen.map((piece) => (
              <Drawn
                key={piece.key}
                piece={piece}
                stock={stock}
                scale={scale}
                lit={lit(piece)}
                onTouch={onTouch}
              />
            ))}
            {/* After all of them: no piece lies over its neighbour's name. */}
            {seen.map((piece) => (
              <Written key={piece.key} piece={piece} stock={stock} scale={scale} />
            ))}
          </g>
          <Ruler scale={scale} rule={rule} from={from} to={to} />
        </svg>
      </div>
    </div>
  )
}

const base = (stock: Stock): [number, number] => {
  const ring = stock.rings[0] ?? []
  return [Math.min(...ring.map(([x = 0]) => x)), Math.min(...ring.map(([, y = 0]) => y))]
}

const go = (there: HTMLDivElement | null, share: number) =>
  there?.scrollTo({ left: share * there.scrollWidth - there.clientWidth / 2 })

/** Points of an outline on the drawing: the roll lies with its lower selvedge below. */
const points = (ring: readonly (readonly number[])[], stock: Stock, scale: number) => {
  const [x0, y0] = base(stock)
  return ring
    .map(
      ([x = 0, y = 0]) =>
        `${((x - x0) * scale).toFixed(1)},${((stock.width_mm - (y - y0)) * scale).toFixed(1)}`,
    )
    .join(' ')
}

/** A length of what is drawn [px], and its scale [px/mm]. */
type Length = { scale: number; from: number; to: number }

const Edge = memo(function Edge({ stock, scale, from, to }: Length & { stock: Stock }) {
  return (
    <>
      {stock.rings.map((ring, n) => (
        <polygon
          key={n}
          points={points(ring, stock, scale)}
          fill={n === 0 ? 'var(--panel)' : 'var(--ground)'}
          stroke="var(--soft)"
          strokeDasharray={stock.kind === 'remnant' ? '6 4' : undefined}
        />
      ))}
      {stock.kind === 'roll' &&
        [0.5, stock.width_mm * scale - 0.5].map((y) => (
          <line
            key={y}
            x1={from}
            x2={Math.min(stock.length_mm * scale, to)}
            y1={y}
            y2={y}
            stroke="var(--walnut)"
            strokeWidth={3}
            strokeDasharray="2 3"
          />
        ))}
    </>
  )
})

type DrawnProps = {
  piece: CutPiece
  stock: Stock
  scale: number
  lit: boolean
  onTouch: (piece: CutPiece | null) => void
}

const Drawn = memo(function Drawn({ piece, stock, scale, lit, onTouch }: DrawnProps) {
  return (
    <g className="focus-within:[&>polygon]:stroke-[4]">
      {/* biome-ignore lint/a11y/useSemanticElements: a piece of a drawing */}
      <polygon
        role="button"
        tabIndex={0}
        aria-label={`Piece ${piece.code} of ${piece.part}, ${piece.size}${piece.cut ? ', cut' : ''}`}
        aria-pressed={lit}
        onClick={() => onTouch(lit ? null : piece)}
        onKeyDown={(event) => event.key === 'Enter' && onTouch(lit ? null : piece)}
        className="cursor-pointer outline-none"
        points={points(piece.outline_mm, stock, scale)}
        fill={lit ? 'var(--woad-wash)' : piece.cut ? 'var(--lichen-wash)' : 'var(--night)'}
        stroke={lit ? 'var(--woad)' : 'var(--ink)'}
        strokeWidth={lit ? 2.5 : 1.2}
        strokeLinejoin="round"
      />
    </g>
  )
})

/** What is written on a piece: its code, where there is room its warp, its tip and its part; a slim one its code alone. */
const Written = memo(function Written({ piece, stock, scale }: Omit<DrawnProps, 'lit' | 'onTouch'>) {
  const [x0, y0] = base(stock)
  const [mx = 0, my = 0] = piece.middle_mm
  const x = (mx - x0) * scale
  const y = (stock.width_mm - (my - y0)) * scale
  const room = piece.room_mm * scale
  const arm = Math.min(room * 0.8, 26)
  const named = room >= 20
  const slim = !named && piece.reach_mm * scale >= 4 * piece.code.length + 4
  const words = piece.part.length * 6.9 < 2 * piece.reach_mm * scale - 8 && room >= 30
  return (
    <g className="pointer-events-none">
      {room >= 9 && !slim && (
        <g transform={`translate(${x} ${y + (named ? 13 : 0)})`}>
          <line x1={-arm} x2={arm} y1={0} y2={0} stroke="var(--madder)" strokeWidth={2} />
          {[-1, 1].map((way) => (
            <path
              key={way}
              d={`M${way * (arm - 5)},-4 L${way * arm},0 L${way * (arm - 5)},4`}
              fill="none"
              stroke="var(--madder)"
              strokeWidth={2}
            />
          ))}
        </g>
      )}
      {room >= 38 && <Tip piece={piece} x={x + 5 * piece.code.length + (piece.cut ? 26 : 17)} y={y - 3} />}
      {(named || slim) && (
        <text
          aria-hidden
          x={x}
          y={y + (named ? 3 : 4)}
          textAnchor="middle"
          className={clsx(
            'halo fill-ink font-semibold',
            room >= 30 ? 'text-[17px]' : named ? 'text-[14px]' : 'text-[12px]',
          )}
        >
          {piece.cut ? '✓ ' : ''}
          {piece.code}
        </text>
      )}
      {words && (
        <text aria-hidden x={x} y={y + 32} textAnchor="middle" className="halo fill-ink text-[14px]">
          {piece.part}
        </text>
      )}
    </g>
  )
})

/** Towards the tip of the part: a filled triangle, beside the code, so that it lies on no word. */
function Tip({ piece, x, y }: { piece: CutPiece; x: number; y: number }) {
  return (
    <path
      transform={`translate(${x} ${y}) rotate(${-piece.tip_deg})`}
      d="M-6,-6 L7,0 L-6,6 Z"
      fill="var(--ink)"
    />
  )
}

function Ruler({ scale, rule, from, to }: Length & { rule: Rule }) {
  const step = ruled(scale * rule.mm)
  const apart = step * rule.mm * scale
  const [first, last] = [Math.ceil(from / apart), Math.floor(to / apart)]
  return (
    <g aria-hidden>
      {Array.from({ length: last - first + 1 }, (_, k) => first + k).map((n) => (
        <g key={n} transform={`translate(${1 + n * apart} 0)`}>
          <line y1={RULER - 8} y2={RULER} stroke="var(--soft)" strokeWidth={1.5} />
          <text x={n === 0 ? 0 : 3} y={RULER - 10} className="fill-soft text-[14px]">
            {Number((n * step).toFixed(2))} {rule.unit}
          </text>
        </g>
      ))}
    </g>
  )
}

/** How far apart the ruler's marks are, in its unit, so that their words have room. */
const ruled = (px: number) => [0.1, 0.25, 0.5, 1, 2.5, 5, 10].find((step) => step * px >= 90) ?? 25

type OverviewProps = {
  stock: Stock
  width: number
  lit: Props['lit']
  onGo: (share: number) => void
}

/** The whole strip in one line; a touch goes there. */
const Overview = memo(function Overview({ stock, width, lit, onGo }: OverviewProps) {
  const scale = (width - 2) / stock.length_mm
  return (
    <button
      type="button"
      aria-label="Go along the roll"
      className="block min-h-11 text-left"
      onClick={(event) => {
        const there = event.currentTarget.getBoundingClientRect()
        onGo((event.clientX - there.left) / there.width)
      }}
    >
      <svg width={width} height={stock.width_mm * scale + 2} aria-hidden className="block">
        <g transform="translate(1 1)">
          <Edge stock={stock} scale={scale} from={0} to={width} />
          {stock.pieces.map((piece) => (
            <polygon
              key={piece.key}
              points={points(piece.outline_mm, stock, scale)}
              fill={lit(piece) ? 'var(--woad)' : piece.cut ? 'var(--lichen)' : 'var(--soft)'}
              stroke="var(--panel)"
              strokeWidth={0.5}
            />
          ))}
        </g>
      </svg>
    </button>
  )
})

/** All that a way is cut from, small, to the same scale as the others: a long roll in lengths one below the other. */
export const SmallLayout = memo(function SmallLayout({
  stocks,
  longest,
}: {
  stocks: Stock[]
  longest: number
}) {
  const length = Math.min(longest, LENGTH_MM)
  let down = 0
  const rows = stocks.flatMap((stock) =>
    Array.from({ length: Math.ceil(stock.length_mm / length) }, (_, n) => {
      const at = down
      down += stock.width_mm * 1.12
      return { stock, from: n * length, at }
    }),
  )
  if (rows.length === 0) return null
  return (
    <svg
      viewBox={`0 0 ${length} ${down}`}
      className="max-h-56 w-full"
      preserveAspectRatio="xMinYMin"
      aria-hidden
    >
      {rows.map(({ stock, from, at }) => (
        // biome-ignore lint/a11y/noSvgWithoutTitle: a part of the drawing around it
        <svg
          key={`${stock.name} ${from}`}
          y={at}
          width={Math.min(length, stock.length_mm - from)}
          height={stock.width_mm}
          viewBox={`${from} 0 ${Math.min(length, stock.length_mm - from)} ${stock.width_mm}`}
        >
          <polygon
            points={points(stock.rings[0] ?? [], stock, 1)}
            fill="var(--panel)"
            stroke="var(--line)"
            strokeWidth={30}
          />
          {stock.pieces.map((piece) => (
            <polygon
              key={piece.key}
              points={points(piece.outline_mm, stock, 1)}
              fill="var(--soft)"
              stroke="var(--panel)"
              strokeWidth={length / 300}
            />
          ))}
        </svg>
      ))}
    </svg>
  )
})

/** A roll is drawn small in lengths of this [mm]. */
const LENGTH_MM = 15_000
