/** The cloth with its warp as it lies on the part, the leading edge above. */
export function WarpSquare({ warp, woven }: { warp: [number, number] | number[]; woven: boolean }) {
  const [side = 1, aft = 0] = warp
  const lines = Array.from({ length: 13 }, (_, n) => (n - 6) * 24)
  const line = (n: number, dx: number, dy: number) => (
    <line
      key={`${n} ${dx}`}
      x1={130 - dy * n - dx * 400}
      y1={130 + dx * n - dy * 400}
      x2={130 - dy * n + dx * 400}
      y2={130 + dx * n + dy * 400}
      stroke="var(--woad)"
      strokeWidth={dx === side ? 5 : 1.5}
    />
  )
  return (
    <svg
      viewBox="0 0 260 290"
      className="h-72 shrink-0 max-sm:h-28"
      role="img"
      aria-label="How its warp lies"
    >
      <clipPath id="cloth">
        <rect width={260} height={260} />
      </clipPath>
      <rect width={260} height={260} fill="var(--panel)" stroke="var(--ink)" strokeWidth={3} />
      <g clipPath="url(#cloth)">
        {lines.map((n) => line(n, side, aft))}
        {woven && lines.map((n) => line(n, -aft, side))}
      </g>
      <text x={130} y={284} textAnchor="middle" className="fill-soft text-[16px]">
        leading edge above, thick: warp
      </text>
    </svg>
  )
}
