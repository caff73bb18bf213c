import type { IronView } from '@/api/client'

const [WIDE, HIGH, EDGE] = [320, 180, 28]

/** An iron's readings and the line through them: its dial across, the thermometer up. */
export function DialLine({ iron }: { iron: IronView }) {
  const dials = [...iron.readings.map((one) => one.dial), ...iron.line.map(([dial]) => dial ?? 0)]
  const hot = [...iron.readings.map((one) => one.celsius), ...iron.line.map(([, celsius]) => celsius ?? 0)]
  const [left, right] = [Math.min(...dials), Math.max(...dials)]
  const [low, high] = [Math.min(...hot), Math.max(...hot)]
  const x = (dial: number) => EDGE + ((dial - left) / (right - left || 1)) * (WIDE - 2 * EDGE)
  const y = (celsius: number) => HIGH - EDGE - ((celsius - low) / (high - low || 1)) * (HIGH - 2 * EDGE)
  const [from, to] = iron.line
  return (
    <svg width={WIDE} height={HIGH} role="img" aria-label={`The dial of ${iron.name}`} className="bg-panel">
      {from && to && (
        <line
          x1={x(from[0] ?? 0)}
          y1={y(from[1] ?? 0)}
          x2={x(to[0] ?? 0)}
          y2={y(to[1] ?? 0)}
          stroke="var(--woad)"
          strokeWidth={2.5}
        />
      )}
      {iron.readings.map((one) => (
        <circle
          key={one.id}
          cx={x(one.dial)}
          cy={y(one.celsius)}
          r={6}
          fill="var(--panel)"
          stroke="var(--ink)"
          strokeWidth={2}
        />
      ))}
      <text x={WIDE / 2} y={HIGH - 6} textAnchor="middle" className="fill-soft text-[14px]">
        dial
      </text>
    </svg>
  )
}
