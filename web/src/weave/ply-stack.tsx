import { clsx } from 'clsx'
import { useId } from 'react'
import type { PliesView } from '@/api/client'
import { Hatch } from './planform'
import { useWidth } from './use-width'

type Props = {
  view: PliesView
  lit: number | null
  /** Where on the side it is looked at: only what lies there is drawn in full. */
  here?: PliesView['regions'][number]
  onLight: (ply: number | null) => void
  angle: (deg: number) => string
}

const STRIP = 44
const CORE = 58
const NAME = 40

/** The stack in laying order, outside on top: fibres at their true angle, the core thick and broken,
a mark on every warp; beside it the same stack to true thickness. */
export function PlyStack({ view, lit, here, onLight, angle }: Props) {
  const absent = (index: number) => here !== undefined && !here.plies.includes(index)
  const id = useId()
  const { box, width: W } = useWidth<HTMLDivElement>(470)
  let y = 0
  const after = view.core?.after ?? -1
  const strips = view.plies.map((ply, index) => {
    if (index === after) y += CORE + 6
    const top = y
    y += STRIP + 6
    return { ply, index, top }
  })
  const coreTop = after < 0 ? 0 : after * (STRIP + 6)
  const height = (after === view.plies.length ? y + CORE : y - 6) + 4
  return (
    <div className="flex gap-5">
      <div ref={box} className="min-w-0 flex-1 [contain:inline-size]">
        <svg width={W} height={height} className="block" role="img" aria-label={`Ply stack ${view.code}`}>
          {strips.map(({ ply, index, top }) => (
            <g
              key={index}
              onPointerEnter={() => onLight(index)}
              opacity={absent(index) ? 0.12 : lit === null || lit === index ? 1 : 0.45}
            >
              <defs>
                <Hatch
                  id={`${id}-${index}`}
                  side={ply.warp[0] ?? 1}
                  aft={ply.warp[1] ?? 0}
                  woven={ply.balanced}
                  gap={11}
                  stroke="var(--woad)"
                />
              </defs>
              <text
                x={NAME - 8}
                y={top + STRIP / 2 + 6}
                textAnchor="end"
                className="fill-ink font-semibold text-[18px]"
              >
                {index + 1}
              </text>
              <rect x={NAME} y={top} width={W - NAME - 86} height={STRIP} fill="var(--panel)" />
              <rect
                x={NAME}
                y={top}
                width={W - NAME - 86}
                height={STRIP}
                fill={`url(#${CSS.escape(`${id}-${index}`)})`}
              />
              <rect
                x={NAME}
                y={top}
                width={W - NAME - 86}
                height={STRIP}
                fill="none"
                stroke="var(--ink)"
                strokeWidth={lit === index ? 4 : 1.5}
              />
              <WarpMark x={NAME + 30} y={top + STRIP / 2} side={ply.warp[0] ?? 1} aft={ply.warp[1] ?? 0} />
              <text x={W - 76} y={top + STRIP / 2 + 6} className="fill-ink font-semibold text-[19px]">
                {angle(ply.angle_deg)}
              </text>
            </g>
          ))}
          {view.core && (
            <g opacity={here && !here.core ? 0.12 : lit === null ? 1 : 0.45}>
              <rect
                x={NAME}
                y={coreTop}
                width={W - NAME - 86}
                height={CORE}
                fill="var(--weld-wash)"
                stroke="var(--ink)"
                strokeWidth={1.5}
              />
              <path
                d={`M${NAME} ${coreTop + 24} l14 -5 l8 10 l14 -5 M${W - 122} ${coreTop + 24} l14 -5 l8 10 l14 -5`}
                fill="none"
                stroke="var(--ink)"
                strokeWidth={1.5}
              />
              <text
                x={(NAME + W - 86) / 2}
                y={coreTop + CORE / 2 + 6}
                textAnchor="middle"
                className="fill-ink text-[17px]"
              >
                {view.core.name}
              </text>
              <text x={W - 76} y={coreTop + CORE / 2 + 6} className="fill-ink text-[17px]">
                core
              </text>
            </g>
          )}
        </svg>
      </div>
      <TrueThickness view={view} lit={lit} here={here} />
    </div>
  )
}

function WarpMark({ x, y, side, aft }: { x: number; y: number; side: number; aft: number }) {
  const r = 15
  return (
    <g>
      <circle cx={x} cy={y} r={r + 3} fill="var(--panel)" stroke="var(--ink)" strokeWidth={1} />
      <line
        x1={x - side * r * 0.8}
        y1={y - aft * r * 0.8}
        x2={x + side * r * 0.8}
        y2={y + aft * r * 0.8}
        stroke="var(--madder)"
        strokeWidth={3}
      />
      <circle cx={x + side * r * 0.8} cy={y + aft * r * 0.8} r={3.5} fill="var(--madder)" />
    </g>
  )
}

function TrueThickness({ view, lit, here }: Pick<Props, 'view' | 'lit' | 'here'>) {
  const every = view.plies.map((ply, index) => ({ mm: ply.thickness_mm, index }))
  if (view.core) every.splice(view.core.after, 0, { mm: view.core.thickness_mm, index: -1 })
  const rows = every.filter(({ index }) => !here || (index < 0 ? here.core : here.plies.includes(index)))
  const total = rows.reduce((sum, { mm }) => sum + mm, 0) || 1
  return (
    <figure className="flex w-24 shrink-0 flex-col">
      <div className="flex min-h-0 flex-1 flex-col border-2 border-ink">
        {rows.map(({ mm, index }, i) => (
          <div
            key={i}
            style={{ flexGrow: mm / total, flexBasis: 0 }}
            className={clsx(
              index < 0 ? 'bg-weld-wash' : lit === index ? 'bg-madder' : 'bg-woad',
              i > 0 && 'border-panel border-t',
            )}
          />
        ))}
      </div>
      <figcaption className="mt-1 text-center text-soft text-sm leading-tight">true thickness</figcaption>
    </figure>
  )
}
