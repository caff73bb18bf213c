import type { AirframeWeights } from '@/api/client'
import { useShow } from '@/app/formats'
import { useWidth } from './use-width'

const HEIGHT = 206
const MIDDLE = 96

/** The airframe from nose to tail as a line: parts by their weight, its limits, and the centre of gravity of each stage. */
export function BalanceLine({ view }: { view: AirframeWeights }) {
  const show = useShow()
  const { box, width } = useWidth<HTMLDivElement>()
  const x = (metres: number) => 12 + ((width - 24) * metres) / view.length_m
  const heaviest = Math.max(
    ...view.parts.map((part) => part.whole.value ?? 0),
    ...view.items.map((i) => i.grams),
    1,
  )
  const size = (grams: number) => 3 + 17 * Math.sqrt(grams / heaviest)
  const placed = [
    ...view.parts.map((part) => ({ name: part.name, at: part.arm?.value, grams: part.whole.value ?? 0 })),
    ...view.items.map((item) => ({ name: item.name, at: item.aft_m, grams: item.grams })),
  ].filter((one) => typeof one.at === 'number' && one.grams > 0)
  const marks = view.stages.filter((stage) => typeof stage.cg?.value === 'number')
  const { fore_m: fore, aft_m: aft } = view
  return (
    <figure ref={box} className="min-w-0">
      <svg
        width={width}
        height={HEIGHT}
        role="img"
        aria-label={
          marks.map((one) => `${one.name}: ${show(one.cg?.value ?? 0, 'length')}`).join('; ') ||
          'Nothing has a place yet'
        }
      >
        {fore !== null && aft !== null && (
          <g>
            <rect
              x={x(fore)}
              width={Math.max(x(aft) - x(fore), 2)}
              y={30}
              height={MIDDLE - 6}
              fill="var(--lichen-wash)"
              stroke="var(--lichen)"
            />
            <text x={(x(fore) + x(aft)) / 2} y={22} textAnchor="middle" className="fill-ink text-[14px]">
              limits {show(fore, 'length')} to {show(aft, 'length')}
            </text>
          </g>
        )}
        <line x1={12} x2={width - 12} y1={MIDDLE} y2={MIDDLE} stroke="var(--soft)" strokeWidth={1.5} />
        {placed.map((one) => (
          <circle
            key={one.name}
            cx={x(one.at as number)}
            cy={MIDDLE}
            r={size(one.grams)}
            fill="var(--walnut)"
            fillOpacity={0.35}
            stroke="var(--walnut)"
          />
        ))}
        {marks.map((stage, n) => {
          const at = x(stage.cg?.value as number)
          const y = MIDDLE + 36 + 22 * n
          const flip = at > width - 260
          return (
            <g key={stage.name}>
              <line x1={at} x2={at} y1={MIDDLE - 44} y2={y} stroke="var(--ink)" strokeWidth={2} />
              <path
                d={`M${at - 7},${MIDDLE - 56} L${at + 7},${MIDDLE - 56} L${at},${MIDDLE - 44} Z`}
                fill="var(--ink)"
              />
              <text
                x={at + (flip ? -6 : 6)}
                y={y}
                textAnchor={flip ? 'end' : 'start'}
                className="halo fill-ink text-[14px]"
              >
                {stage.name}: {show(stage.cg?.value as number, 'length')}
              </text>
            </g>
          )
        })}
        <text x={12} y={HEIGHT - 6} className="fill-soft text-[14px]">
          nose
        </text>
        <text x={width - 12} y={HEIGHT - 6} textAnchor="end" className="fill-soft text-[14px]">
          {show(view.length_m, 'length')}
        </text>
      </svg>
    </figure>
  )
}
