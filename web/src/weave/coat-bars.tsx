import type { CoatsView } from '@/api/client'
import { useClock } from '@/app/formats'
import { ms } from './time-scale'
import { useWidth } from './use-width'

const [NAME, ROW, FOOT] = [170, 40, 30]

/** Parts coated in one go: each coat solid while it is put on, washed while it flashes off, part below part. */
export function CoatBars({ view }: { view: CoatsView }) {
  const { box, width } = useWidth<HTMLDivElement>(900)
  const clock = useClock()
  if (!view.span) return null
  const [from, to] = [ms(view.span.start), ms(view.span.end)]
  const x = (at: string) => NAME + ((ms(at) - from) / (to - from || 1)) * (width - NAME - 12)
  const parts = view.coats[0]?.rows ?? []
  const deep = parts.length * ROW + FOOT
  return (
    <div ref={box} className="w-full [contain:inline-size]">
      <svg
        width={width}
        height={deep}
        viewBox={`0 0 ${width} ${deep}`}
        role="img"
        aria-label="Coats in order"
        className="bg-panel"
      >
        {parts.map((part, n) => (
          <g key={part.part_id}>
            <line x1={0} x2={width} y1={n * ROW} y2={n * ROW} stroke="var(--line)" />
            <text x={10} y={n * ROW + 26} className="fill-ink text-[15px]">
              {part.part}
            </text>
          </g>
        ))}
        {view.coats.flatMap((coat, at) =>
          coat.rows.map((row, n) => {
            if (!row.work || !row.stands) return null
            const [a, b, c] = [x(row.work.start), x(row.work.end), x(row.stands.end)]
            return (
              <g key={`${coat.name} ${row.part_id}`}>
                <rect x={b} y={n * ROW + 9} width={Math.max(c - b, 0)} height={22} fill="var(--woad-wash)" />
                <rect x={a} y={n * ROW + 9} width={Math.max(b - a, 3)} height={22} fill="var(--woad)" />
                {c - a > 26 && (
                  <text
                    x={Math.max(b + 5, a + 8)}
                    y={n * ROW + 25}
                    className="fill-ink font-semibold text-[14px]"
                  >
                    {at + 1}
                  </text>
                )}
              </g>
            )
          }),
        )}
        <text x={NAME} y={deep - 9} className="fill-soft text-[14px]">
          {clock.dayTime(view.span.start)}
        </text>
        <text x={width - 12} y={deep - 9} textAnchor="end" className="fill-soft text-[14px]">
          {clock.dayTime(view.span.end)}
        </text>
      </svg>
    </div>
  )
}
