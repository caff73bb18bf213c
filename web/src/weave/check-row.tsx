import type { CheckView } from '@/api/client'
import { useWidth } from './use-width'

const HIGH = 150
const MIDDLE = 62
/** So high is the whole tolerance on one side [px]; what is further off is drawn at the edge. */
const BAND = 34
const FAR = 1.6
type Values = CheckView['readings'][number]['values']

/** How far off each place is, along the part: the band is the tolerance; the last reading is filled, those before it
 *  are open; the other parts of its kind are thin lines, to build it like them. */
export function CheckRow({ check }: { check: CheckView }) {
  const { box, width } = useWidth<HTMLDivElement>(700)
  if (check.readings.length === 0 && check.others.length === 0) return null
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
  const read = (values: Values) => values.map((value, n) => ({ value, n })).filter(({ value }) => value.found)
  const line = (values: Values) =>
    read(values)
      .map(({ value, n }) => `${x(n)},${y(value.share)}`)
      .join(' ')
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
        {check.others.map((other) => (
          <g key={other.part_id}>
            <polyline points={line(other.values)} fill="none" stroke="var(--woad)" strokeWidth={1.5} />
            {read(other.values).map(({ value, n }) => (
              <rect key={n} x={x(n) - 4} y={y(value.share) - 4} width={8} height={8} fill="var(--woad)" />
            ))}
          </g>
        ))}
        {check.readings.map((reading, m) => {
          const open = m < check.readings.length - 1
          return (
            <g key={reading.id}>
              <polyline
                points={line(reading.values)}
                fill="none"
                stroke={open ? 'var(--soft)' : 'var(--ink)'}
                strokeWidth={open ? 1.5 : 2}
                strokeDasharray={open ? '4 4' : undefined}
              />
              {read(reading.values).map(({ value, n }) => (
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
      {check.others.length > 0 && (
        <p className="flex items-center gap-2 text-soft text-sm">
          <span className="size-2.5 shrink-0 bg-woad" aria-hidden />
          {check.others.length > 3
            ? `the ${check.others.length} others of its kind`
            : check.others.map(({ name }) => name).join(', ')}
        </p>
      )}
    </div>
  )
}
