import { clsx } from 'clsx'
import { Link, useNavigate } from 'react-router'
import type { SurfaceCard } from '@/api/client'
import { useAirframe } from '@/api/questions'
import { FigureValue } from '@/ui/figure'
import { Notice } from '@/ui/notice'

const EDGE = { planned: 'border-l-6 border-line', curing: 'edge-wait', 'in work': 'edge-care' } as const
const FILL = { planned: 'var(--panel)', curing: 'var(--woad-wash)', 'in work': 'var(--weld-wash)' } as const

export default function AirframePage() {
  const airframe = useAirframe()
  if (airframe.error) return <Notice tone="stop">{airframe.error.message}</Notice>
  if (!airframe.data) return null
  const surfaces = airframe.data.assemblies.flatMap((assembly) => assembly.surfaces)
  return (
    <div className="mx-auto flex max-w-6xl flex-col gap-6 p-6">
      <h1 className="font-semibold text-3xl">{airframe.data.project || 'No airframe yet'}</h1>
      {surfaces.length === 0 ? (
        <p className="text-soft">This data folder is empty. Start the demo to see one: make demo.</p>
      ) : (
        (['upper', 'lower'] as const).map((side) => (
          <section key={side} className="flex flex-col gap-2">
            <h2 className="font-semibold text-xl">
              {side === 'upper' ? 'Upper skins' : 'Lower skins'}
              <span className="ml-3 font-normal text-base text-soft">seen from above, nose up</span>
            </h2>
            <Plan surfaces={surfaces.filter((surface) => surface.side === side)} />
            <ul className="grid gap-4 sm:grid-cols-2">
              {surfaces
                .filter((surface) => surface.side === side)
                .map((surface) => (
                  <li key={surface.id} className={clsx('bg-panel', EDGE[surface.state])}>
                    <div className="flex items-start justify-between gap-3 px-4 py-3">
                      <Link to={`/surface/${surface.id}/shape`} className="group min-w-0 flex-1">
                        <span className="block font-semibold text-lg group-hover:underline">
                          {surface.name}
                        </span>
                        <span className="block">
                          <span className="font-semibold">{surface.state}</span>. {surface.sentence}
                        </span>
                        <span className="block font-mono text-sm text-soft">{surface.code}</span>
                      </Link>
                      <FigureValue figure={surface.skin_area} bare className="shrink-0" />
                    </div>
                  </li>
                ))}
            </ul>
          </section>
        ))
      )}
    </div>
  )
}

const SCALE = 66
const GAP = 14

/** Left and right panels where they sit, from their own outlines. */
function Plan({ surfaces }: { surfaces: SurfaceCard[] }) {
  const go = useNavigate()
  const corners = surfaces.flatMap((surface) => surface.outline)
  const widest = Math.max(...corners.map((p) => Math.abs(p[0] ?? 0)))
  const deepest = Math.max(...corners.map((p) => p[1] ?? 0))
  const W = 2 * widest * SCALE + GAP + 8
  const H = deepest * SCALE + 8
  return (
    <svg viewBox={`0 0 ${W} ${H}`} className="w-full" role="img" aria-label="Surfaces in plan">
      {surfaces.map((surface) => {
        const shift = W / 2 + (surface.hand === 'left' ? -GAP / 2 : GAP / 2)
        const points = surface.outline
          .map((p) => `${shift + (p[0] ?? 0) * SCALE},${4 + (p[1] ?? 0) * SCALE}`)
          .join(' ')
        const across = surface.outline.map((p) => p[0] ?? 0)
        return (
          // biome-ignore lint/a11y/noStaticElementInteractions: the list below is the keyboard's way in
          <g
            key={surface.id}
            onClick={() => go(`/surface/${surface.id}/shape`)}
            className="cursor-pointer [&:hover>polygon]:stroke-[4]"
          >
            <polygon
              points={points}
              fill={FILL[surface.state]}
              stroke="var(--ink)"
              strokeWidth={2}
              strokeLinejoin="round"
            />
            <text
              x={shift + (Math.min(...across) + Math.max(...across)) * 0.46 * SCALE}
              y={deepest * SCALE * 0.46}
              textAnchor="middle"
              className="fill-ink text-[15px]"
            >
              {surface.hand} · {surface.state}
            </text>
          </g>
        )
      })}
    </svg>
  )
}
