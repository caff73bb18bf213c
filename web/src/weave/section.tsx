type Point = readonly number[]
type Props = { upper: Point[]; lower: Point[]; lit: 'upper' | 'lower' }

const W = 420

/** A section to its own scale, the side that this skin covers drawn heavy. */
export function SectionDrawing({ upper, lower, lit }: Props) {
  const all = [...upper, ...lower].map((p) => p[1] ?? 0)
  const [low, high] = [Math.min(...all), Math.max(...all)]
  const pad = 10
  const scale = W - 2 * pad
  const line = (points: Point[]) =>
    points
      .map((p, i) => `${i ? 'L' : 'M'}${pad + (p[0] ?? 0) * scale} ${pad + (high - (p[1] ?? 0)) * scale}`)
      .join('')
  const stroke = (side: 'upper' | 'lower') =>
    side === lit ? { stroke: 'var(--walnut)', strokeWidth: 4 } : { stroke: 'var(--soft)', strokeWidth: 1.5 }
  return (
    <svg
      viewBox={`0 0 ${W} ${2 * pad + (high - low) * scale}`}
      className="w-full"
      role="img"
      aria-label="Section"
    >
      <path d={line(upper)} fill="none" {...stroke('upper')} />
      <path d={line(lower)} fill="none" {...stroke('lower')} />
    </svg>
  )
}
