import type { CheckView } from '@/api/client'
import { useWidth } from './use-width'

const HIGH = 150
const MIDDLE = 62
/** So high is the whole tolerance on one side [px]; what is further off is drawn at the edge. */
const BAND = 34
const FAR = 1.6

/** How far off each place is, along the part: the band is the tolerance; before is open, after is filled. */
export function CheckRow({ check }: { check: CheckView }) {
  const { box, width } = useWidth<HTMLDivElement>(700)
  if (check.readings.length === 0) return null
  const ats = check.places.map((place) => place.at_m)
  const placed = ats.every((at) => at !== null) && new Set(ats).size === ats.length
  const most = Math.max(...ats.map((at) => at ?? 0), 1e-9)
  const wide = Math.min(width, 768)
  const inner = Math.max(wide - 120, 100)
  const x = (n: number) => {
    const share = placed
      ? (ats[n] ?? 0) / most
      : check.places.length > 1
        ? n / (check.places.length - 1)
        : 0.5
    return 60 + share * inner
  }
  const y = (share: number) => MIDDLE - BAND * Math.max(-FAR, Math.min(FAR, share))
  return (
    <div ref={box} className="max-w-3xl">
      <svg width={wide} height={HIGH} role="img" aria-label="How far off each place is" className="block">
        <rect
          x={30}
          width={Math.max(wide - 60, 0)}
          y={MIDDLE - BAND}
          height={2 * BAND}
          fill="var(--lichen-wash)"
        />
        <line x1={30} x2={wide - 30} y1={MIDDLE} y2={MIDDLE} stroke="var(--soft)" />
        {check.readings.map((reading, m) => {
          const open = m === 0 && check.readings.length > 1
          const there = reading.values.map((value, n) => ({ value, n })).filter(({ value }) => value.found)
          return (
            <g key={reading.id}>
              <polyline
                points={there.map(({ value, n }) => `${x(n)},${y(value.share)}`).join(' ')}
                fill="none"
                stroke={open ? 'var(--soft)' : 'var(--ink)'}
                strokeWidth={open ? 1.5 : 2}
                strokeDasharray={open ? '4 4' : undefined}
              />
              {there.map(({ value, n }) => (
                <circle
                  key={n}
                  cx={x(n)}
                  cy={y(value.share)}
                  r={7}
                  fill={open ? 'var(--panel)' : value.holds ? 'var(--lichen)' : 'var(--madder)'}
                  stroke={value.holds ? 'var(--ink)' : 'var(--madder)'}
                  strokeWidth={2}
                />
              ))}
            </g>
          )
        })}
        {check.places.map((place, n) => (
          <text key={place.name} x={x(n)} y={HIGH - 6} textAnchor="middle" className="fill-soft text-[13px]">
            {place.name}
          </text>
        ))}
      </svg>
    </div>
  )
}
