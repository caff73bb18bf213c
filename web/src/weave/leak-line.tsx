import type { TankView } from '@/api/client'
import { useShow } from '@/app/formats'
import { useWidth } from './use-width'

const [HIGH, LEFT, FOOT] = [240, 82, 34]

/** A tank under pressure: what a tight one would read as its air cools or warms, what may be missing, what was read. */
export function LeakLine({ view }: { view: TankView }) {
  const show = useShow()
  const { box, width: WIDE } = useWidth<HTMLDivElement>(520)
  const rows = view.readings
  const long = Math.max(view.lasts_h, ...rows.map((row) => row.at_h)) || 1
  const all = rows.flatMap((row) => [row.gauge_kpa, row.expected_kpa, row.expected_kpa - view.allowed_kpa])
  const spread = Math.max(...all) - Math.min(...all) || 1
  const [low, high] = [Math.min(...all) - spread * 0.15, Math.max(...all) + spread * 0.15]
  const x = (hours: number) => LEFT + (hours / long) * (WIDE - LEFT - 16)
  const y = (kpa: number) => 10 + ((high - kpa) / (high - low)) * (HIGH - FOOT - 10)
  const line = (kpa: (row: (typeof rows)[number]) => number) =>
    rows.map((row) => `${x(row.at_h)},${y(kpa(row))}`)
  const band = [
    ...line((row) => row.expected_kpa),
    ...line((row) => row.expected_kpa - view.allowed_kpa).reverse(),
  ]
  const [top, bottom] = [high - spread * 0.15, low + spread * 0.15]
  return (
    <div ref={box} className="w-full max-w-2xl [contain:inline-size]">
      <svg
        viewBox={`0 0 ${WIDE} ${HIGH}`}
        role="img"
        aria-label="What was read of the tank, and what a tight one would read"
        width={WIDE}
        height={HIGH}
        className="bg-panel"
      >
        {[top, bottom].map((kpa) => (
          <text
            key={kpa}
            x={LEFT - 8}
            y={y(kpa) + 5}
            textAnchor="end"
            className="fill-soft text-[14px] tabular-nums"
          >
            {show(kpa, 'pressure')}
          </text>
        ))}
        <polygon points={band.join(' ')} fill="var(--woad)" opacity={0.18} />
        <polyline
          points={line((row) => row.expected_kpa).join(' ')}
          fill="none"
          stroke="var(--woad)"
          strokeWidth={2.5}
          strokeDasharray="7 5"
        />
        <polyline
          points={line((row) => row.gauge_kpa).join(' ')}
          fill="none"
          stroke="var(--ink)"
          strokeWidth={2}
        />
        {rows.map((row) => (
          <circle
            key={row.id}
            cx={x(row.at_h)}
            cy={y(row.gauge_kpa)}
            r={6}
            fill="var(--panel)"
            stroke="var(--ink)"
            strokeWidth={2.5}
          />
        ))}
        <line x1={x(view.lasts_h)} x2={x(view.lasts_h)} y1={10} y2={HIGH - FOOT} stroke="var(--line)" />
        <text x={x(view.lasts_h)} y={HIGH - 10} textAnchor="end" className="fill-soft text-[14px]">
          it stands until here
        </text>
        <text x={LEFT} y={HIGH - 10} className="fill-soft text-[14px]">
          pumped up
        </text>
      </svg>
    </div>
  )
}
