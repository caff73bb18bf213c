import { clsx } from 'clsx'

type Props = {
  label: string
  value: number | null
  target: number | null
  max: number
  band?: [number, number]
  verdict?: 'in' | 'near' | 'out' | null
}

const FILL = { in: 'bg-lichen', near: 'bg-weld', out: 'bg-madder' } as const

/** How full the cup is against what it should hold; the tolerance band is outlined. Edges come from the shop. */
export function Gauge({ label, value, target, max, band, verdict }: Props) {
  const at = (grams: number) => `${Math.min(Math.max((100 * grams) / max, 0), 100)}%`
  return (
    <div role="img" aria-label={label} className="relative h-9 border-2 border-ink bg-ground">
      {value !== null && (
        <div
          className={clsx('absolute inset-y-0 left-0', verdict ? FILL[verdict] : 'bg-walnut')}
          style={{ width: at(value) }}
        />
      )}
      {band && (
        <div
          className="absolute -inset-y-2 border-2 border-ink border-dashed"
          style={{ left: at(band[0]), width: `calc(${at(band[1])} - ${at(band[0])})`, minWidth: 6 }}
        />
      )}
      {target !== null && <div className="absolute -inset-y-2 w-0.5 bg-ink" style={{ left: at(target) }} />}
    </div>
  )
}
