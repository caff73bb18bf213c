import type { ClothView } from '@/api/client'
import { useWidth } from './use-width'

const [EDGE, TOP, DEEPEST] = [96, 30, 350]
const WASH = ['var(--woad-wash)', 'var(--weld-wash)']

/** Cloth laid flat about the leading edge: widths with their seams, lands it is glued on, ribs it slides on. */
export function ClothFlat({ view }: { view: ClothView }) {
  const { box, width } = useWidth<HTMLDivElement>(900)
  const all = [...view.outline, ...view.widths.flatMap((one) => one.outline)]
  const xs = all.map(([x = 0]) => x)
  const ys = all.map(([, y = 0]) => y)
  const [left, right, low, high] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)]
  const scale = Math.min((width - 2 * EDGE) / (right - left || 1), DEEPEST / (high - low || 1))
  const inset = (width - (right - left) * scale) / 2
  const x = (at: number) => inset + (at - left) * scale
  const y = (at: number) => TOP + (high - at) * scale
  const deep = TOP + (high - low) * scale + 30
  const drawn = (ring: readonly (readonly number[])[]) =>
    ring.map(([a = 0, b = 0]) => `${x(a)},${y(b)}`).join(' ')
  // On the lower half of an envelope; on one side by itself, below what is written on its width.
  const turns = view.sides.length > 0 ? low / 2 : low + 0.25 * (high - low)
  const ribs = view.lands.filter((one) => one.number > 0)
  return (
    <div ref={box} className="w-full [contain:inline-size]">
      <svg
        width={width}
        height={deep}
        viewBox={`0 0 ${width} ${deep}`}
        role="img"
        aria-label="Cloth laid flat"
        className="bg-panel"
      >
        {view.widths.map((one, n) => (
          <polygon
            key={one.code}
            points={drawn(one.outline)}
            fill={WASH[n % 2]}
            fillOpacity={0.8}
            stroke="var(--ink)"
            strokeWidth={1.5}
            strokeDasharray="6 4"
          />
        ))}
        {view.lands.map((one) => (
          <polygon
            key={`${one.kind} ${one.number} ${one.ring.join()}`}
            points={drawn(one.ring)}
            fill={one.kind === 'loose rib' ? 'none' : 'var(--walnut)'}
            fillOpacity={0.6}
            stroke="var(--walnut)"
            strokeWidth={one.kind === 'loose rib' ? 1.5 : 0.5}
            strokeDasharray={one.kind === 'loose rib' ? '3 4' : undefined}
          />
        ))}
        <polygon points={drawn(view.outline)} fill="none" stroke="var(--ink)" strokeWidth={2.5} />
        {ribs.map((one) => (
          <text
            key={`name ${one.kind} ${one.number}`}
            x={x(middle(one.ring.map(([a = 0]) => a)))}
            y={y(Math.max(...one.ring.map(([, b = 0]) => b))) - 8}
            textAnchor="middle"
            className="fill-ink font-semibold text-[14px]"
          >
            {one.number}
          </text>
        ))}
        {view.sides.length > 0 && (
          <>
            <text x={inset - 8} y={y(0) + 5} textAnchor="end" className="fill-ink text-[14px]">
              leading edge
            </text>
            <text x={inset - 8} y={y(high / 2) + 5} textAnchor="end" className="fill-soft text-[14px]">
              {view.sides[0]}
            </text>
            <text x={inset - 8} y={y(low / 2) + 5} textAnchor="end" className="fill-soft text-[14px]">
              {view.sides[1]}
            </text>
          </>
        )}
        {(view.widths.length > 1 ? view.widths : []).map((one) => {
          const [mx, my] = [
            middle(one.outline.map(([a = 0]) => a)),
            view.sides.length > 0 ? middle(one.outline.map(([, b = 0]) => b)) : high - 0.35 * (high - low),
          ]
          return (
            <g key={`code ${one.code}`}>
              <rect
                x={x(mx) - 22}
                y={y(my) - 16}
                width={44}
                height={28}
                fill="var(--panel)"
                stroke="var(--ink)"
              />
              <text x={x(mx)} y={y(my) + 5} textAnchor="middle" className="fill-ink font-bold text-[18px]">
                {one.code}
              </text>
            </g>
          )
        })}
        {view.bays.map((bay) => (
          <g key={bay.turn}>
            <circle
              cx={x(bay.at_m)}
              cy={y(turns)}
              r={13}
              fill="var(--madder)"
              stroke="var(--panel)"
              strokeWidth={2}
            />
            <text
              x={x(bay.at_m)}
              y={y(turns) + 5}
              textAnchor="middle"
              className="fill-on-dye font-semibold text-[14px]"
            >
              {bay.turn}
            </text>
          </g>
        ))}
        <text x={x(left)} y={deep - 8} className="fill-soft text-[14px]">
          root
        </text>
        <text x={x(right)} y={deep - 8} textAnchor="end" className="fill-soft text-[14px]">
          tip
        </text>
      </svg>
    </div>
  )
}

const middle = (values: number[]) => (Math.min(...values) + Math.max(...values)) / 2
