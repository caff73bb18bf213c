type Props = {
  /** Its edges, warp or grain to the right [mm]. */
  outline: readonly (readonly number[])[]
  /** How long what fills the width is [mm]: pieces beside each other are drawn to one scale. */
  longest: number
  className?: string
}

/** A piece by itself, to the scale of its fellows, its warp marked. */
export function PieceOutline({ outline, longest, className }: Props) {
  const deep = Math.max(...outline.map((p) => p[1] ?? 0))
  const unit = longest / 100
  const [from, to] = widest(outline, deep / 2)
  const [mx, my, arm] = [(from + to) / 2, deep / 2, Math.min((to - from) * 0.35, 18 * unit)]
  const head = Math.min(1.6 * unit, arm / 2)
  return (
    <svg
      viewBox={`${-unit} ${-unit} ${longest + 2 * unit} ${deep + 2 * unit}`}
      className={className}
      preserveAspectRatio="xMinYMid meet"
      aria-hidden
    >
      {/* Seen from above: what lies across the roll goes up. */}
      <polygon
        points={outline.map(([x = 0, y = 0]) => `${x},${deep - y}`).join(' ')}
        fill="var(--woad-wash)"
        stroke="var(--ink)"
        strokeWidth={2}
        strokeLinejoin="round"
        vectorEffect="non-scaling-stroke"
      />
      <path
        d={`M${mx - arm},${my} H${mx + arm} m${-head},${-head} l${head},${head} l${-head},${head} M${mx - arm + head},${my - head} l${-head},${head} l${head},${head}`}
        fill="none"
        stroke="var(--madder)"
        strokeWidth={2}
        vectorEffect="non-scaling-stroke"
      />
    </svg>
  )
}

/** Between which two places a piece is widest at a height across it. */
function widest(outline: readonly (readonly number[])[], at: number): [number, number] {
  const crossed = outline
    .flatMap(([x0 = 0, y0 = 0], n) => {
      const [x1 = 0, y1 = 0] = outline[(n + 1) % outline.length] ?? []
      return y0 > at !== y1 > at ? [x0 + ((at - y0) / (y1 - y0)) * (x1 - x0)] : []
    })
    .sort((a, b) => a - b)
  const pairs = crossed.flatMap((x, n) => (n % 2 === 0 ? [[x, crossed[n + 1] ?? x] as [number, number]] : []))
  return pairs.reduce((best, one) => (one[1] - one[0] > best[1] - best[0] ? one : best), [0, 0])
}
