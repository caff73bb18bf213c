import { scaleLinear } from '@visx/scale'
import { AreaClosed } from '@visx/shape'

type Point = { at: string; c: number }

const W = 150
const H = 40

/** The next 24 hours of shop temperature, the low marked. */
export function Ribbon24({ points }: { points: Point[] }) {
  if (points.length < 2) return null
  const degrees = points.map((p) => p.c)
  const low = Math.min(...degrees)
  const x = scaleLinear({ domain: [0, points.length - 1], range: [0, W] })
  const y = scaleLinear({ domain: [low - 3, Math.max(...degrees) + 1], range: [H, 0] })
  const at = degrees.indexOf(low)
  return (
    <svg width={W} height={H} role="img" aria-label="Shop temperature over the next 24 hours">
      <AreaClosed
        data={points}
        x={(_, i) => x(i)}
        y={(p) => y(p.c)}
        yScale={y}
        fill="var(--woad-wash)"
        stroke="var(--woad)"
        strokeWidth={1.5}
      />
      <circle cx={x(at)} cy={y(low)} r={4} fill="var(--panel)" stroke="var(--ink)" strokeWidth={2} />
    </svg>
  )
}
