import { clsx } from 'clsx'
import { useRef, useState } from 'react'
import type { PliesView, ShapeView } from '@/api/client'
import { FigureValue } from '@/ui/figure'
import { Hatch, Planform, type PlanScale, type Ring } from '@/weave/planform'
import type { Book, EditedBook, ZoneTyped } from './ply-book'

type Region = PliesView['regions'][number]
type Handle = PliesView['zones'][number]['handles'][number]
type Props = {
  drawing: ShapeView['drawing']
  edited: EditedBook
  /** The ply that is lit. */
  ply: PliesView['plies'][number] | undefined
  here: Region | undefined
  /** The zone whose edges can be taken hold of. */
  held: number
  onHere: (region: Region | null) => void
}

/** So far apart two grips must be for a finger [px]. */
const FINGER = 52

/** The side with its zones to scale: touch a piece to see its stack, drag an edge and the figures follow. */
export function ZonedPlanform({ drawing, edited, ply, here, held, onHere }: Props) {
  const { view, look, save } = edited
  const zone = view.zones[held]
  // The more plies lie on each other, the darker.
  const fewest = Math.min(...view.regions.map((region) => region.plies.length))
  const moved = (handle: Handle, values: number[]) => (book: Book) => ({
    ...book,
    zones: book.zones.map((one, n) => (n === held ? movedZone(one, handle, values) : one)),
  })
  return (
    <>
      <figure
        aria-label="Where each ply lies"
        className="sticky top-0 z-10 -mx-2 border-line border-b-2 bg-ground px-2 py-2"
      >
        <Planform
          deepest={170}
          room={view.zones.length > 0 ? FINGER : 0}
          outline={drawing.outline}
          ends={drawing.kind === 'loft'}
          ribs={drawing.ribs}
          warp={ply && !ply.zone ? ply.warp : undefined}
          woven={ply?.balanced}
          className="w-full"
          over={(scale) => (
            <>
              {view.regions.map((region) => (
                // biome-ignore lint/a11y/noStaticElementInteractions: the same pieces are buttons below
                <path
                  key={region.name}
                  d={pathOf(region.rings, scale)}
                  fillRule="evenodd"
                  fill={region === here ? 'var(--weld-wash)' : 'var(--woad-wash)'}
                  fillOpacity={
                    region === here
                      ? 1
                      : (region.plies.length - fewest) / Math.max(view.plies.length - fewest, 1)
                  }
                  onClick={() => onHere(region === here ? null : region)}
                  className="cursor-pointer"
                />
              ))}
              {ply?.zone && <Fibres ply={ply} scale={scale} />}
              <Scores rings={view.scoring.rings} scale={scale} />
              {view.zones.map((zone) => (
                <path
                  key={zone.name}
                  d={pathOf(zone.rings, scale)}
                  fill="none"
                  stroke="var(--woad)"
                  strokeWidth={ply?.zone === zone.name ? 4 : 2}
                  pointerEvents="none"
                />
              ))}
              {zone &&
                placed(zone.handles, scale).map(({ handle, grip }) => (
                  <Grip
                    key={`${held} ${handle.field}`}
                    handle={handle}
                    grip={grip}
                    scale={scale}
                    name={`${zone.name}: ${handle.name}`}
                    onMove={(values) => void look(moved(handle, values))}
                    onLeave={(values) => void save(moved(handle, values))}
                  />
                ))}
            </>
          )}
        />
      </figure>
      {view.regions.length > 1 && (
        <ul className="grid gap-2 lg:grid-cols-2">
          {view.regions.map((region) => (
            <li
              key={region.name}
              className={clsx(
                'flex flex-wrap items-center gap-x-4 border-2 px-3',
                region === here ? 'border-ink bg-weld-wash' : 'border-line bg-panel',
              )}
            >
              <button
                type="button"
                aria-pressed={region === here}
                onClick={() => onHere(region === here ? null : region)}
                className="min-h-11 flex-1 basis-40 text-left"
              >
                <span className="font-semibold">{region.name}</span>{' '}
                <span className="font-mono text-sm">{region.code}</span>
              </button>
              {region.figures.map((figure) => (
                <FigureValue key={figure.key} figure={figure} bare />
              ))}
            </li>
          ))}
        </ul>
      )}
    </>
  )
}

const pathOf = (rings: readonly Ring[], { x, y }: PlanScale) =>
  rings.map((ring) => `${ring.map((p, i) => `${i ? 'L' : 'M'}${x(p)} ${y(p)}`).join('')}Z`).join('')

/** The lit ply's fibres where it lies. */
function Fibres({ ply, scale }: { ply: PliesView['plies'][number]; scale: PlanScale }) {
  return (
    <g pointerEvents="none">
      <defs>
        <Hatch
          id="fibres-in-a-zone"
          side={ply.warp[0] ?? 1}
          aft={ply.warp[1] ?? 0}
          woven={ply.balanced}
          gap={13}
          stroke="var(--woad)"
        />
      </defs>
      <path d={pathOf(ply.rings, scale)} fillRule="evenodd" fill="url(#fibres-in-a-zone)" />
    </g>
  )
}

const written = (handle: Handle, values: number[]) =>
  handle.moves.map(({ unit }, n) => `${Number((values[n] ?? 0).toPrecision(4))} ${unit}`)

/** A zone after one of its edges or corners was dragged: the same as if it had been typed. */
function movedZone(zone: ZoneTyped, handle: Handle, values: number[]): ZoneTyped {
  const texts = written(handle, values)
  const corner = /^corners\.(\d+)$/.exec(handle.field)
  if (!corner) return { ...zone, texts: { ...zone.texts, [handle.field]: texts[0] ?? '' } }
  const lines = zone.corners.split('\n').filter((line) => line.trim())
  lines[Number(corner[1])] = texts.join('; ')
  return { ...zone, corners: lines.join('\n') }
}

/** Where each grip is drawn [px]: on its edge, or out from the zone's middle where two would lie under one finger. */
function placed(handles: readonly Handle[], { x, y }: PlanScale) {
  const on = handles.map((handle) => [x(handle.at), y(handle.at)] as const)
  const middle = [0, 1].map((i) => on.reduce((sum, p) => sum + (p[i] ?? 0), 0) / (on.length || 1))
  const near = (n: number) =>
    on.some((p, i) => i !== n && Math.hypot(p[0] - (on[n]?.[0] ?? 0), p[1] - (on[n]?.[1] ?? 0)) < FINGER)
  return handles.map((handle, n) => {
    const [px, py] = on[n] ?? [0, 0]
    const [dx, dy] = [px - (middle[0] ?? 0), py - (middle[1] ?? 0)]
    const far = Math.hypot(dx, dy)
    const out = near(n) && far > 1 ? Math.max(FINGER - far, 0) / far : 0
    return { handle, grip: [px + dx * out, py + dy * out] as const }
  })
}

/** Where the core is scored: lines along the span. */
function Scores({ rings, scale }: { rings: readonly Ring[]; scale: PlanScale }) {
  return (
    <g pointerEvents="none" stroke="var(--walnut)" strokeWidth={1} strokeDasharray="7 4">
      {rings.map((ring) => {
        const [a, b, c, d] = ring.map((p) => [scale.x(p), scale.y(p)] as const)
        if (!a || !b || !c || !d) return null
        const between = (p: readonly [number, number], q: readonly [number, number], t: number) =>
          [p[0] + (q[0] - p[0]) * t, p[1] + (q[1] - p[1]) * t] as const
        return [0, 0.33, 0.67, 1].map((t) => {
          const [from, to] = [between(a, d, t), between(b, c, t)]
          return <line key={`${ring.join()} ${t}`} x1={from[0]} y1={from[1]} x2={to[0]} y2={to[1]} />
        })
      })}
    </g>
  )
}

type GripProps = {
  handle: Handle
  grip: readonly [number, number]
  scale: PlanScale
  name: string
  onMove: (values: number[]) => void
  onLeave: (values: number[]) => void
}

/** An edge or a corner to take hold of; arrow keys move it too. */
function Grip({ handle, grip, scale, name, onMove, onLeave }: GripProps) {
  const begun = useRef<{ at: [number, number]; values: number[]; grip: readonly [number, number] } | null>(
    null,
  )
  const [by, setBy] = useState<[number, number] | null>(null)
  const now = handle.moves.map(({ value }) => value)
  const [along, across] = [0, 1].map((i) => handle.moves.some(({ per_m }) => per_m[i] !== 0))
  const shifted = (values: number[], px: readonly number[]) =>
    handle.moves.map(({ per_m, low, high }, n) => {
      const metres = px.map((one) => one / scale.perMetre)
      const value = (values[n] ?? 0) + (metres[0] ?? 0) * (per_m[0] ?? 0) + (metres[1] ?? 0) * (per_m[1] ?? 0)
      return Math.min(Math.max(value, low), high)
    })
  const dragged = (event: React.PointerEvent): [number, number] => {
    const [x0, y0] = begun.current?.at ?? [event.clientX, event.clientY]
    return [along ? event.clientX - x0 : 0, across ? event.clientY - y0 : 0]
  }
  const stop = () => {
    begun.current = null
    setBy(null)
  }
  // It stays under the finger while the drawing follows what was looked at.
  const [gx, gy] = begun.current?.grip ?? grip
  const [cx, cy] = [gx + (by?.[0] ?? 0), gy + (by?.[1] ?? 0)]
  const [ex, ey] = [scale.x(handle.at), scale.y(handle.at)]
  return (
    <g
      tabIndex={0}
      role="slider"
      aria-label={name}
      aria-valuenow={Number((now[0] ?? 0).toPrecision(4))}
      aria-valuetext={written(handle, now).join(', ')}
      className={clsx(
        'touch-none',
        along && across ? 'cursor-move' : along ? 'cursor-ew-resize' : 'cursor-ns-resize',
      )}
      onPointerDown={(event) => {
        begun.current = { at: [event.clientX, event.clientY], values: now, grip }
        event.currentTarget.setPointerCapture(event.pointerId)
      }}
      onPointerMove={(event) => {
        if (!begun.current) return
        const px = dragged(event)
        setBy(px)
        onMove(shifted(begun.current.values, px))
      }}
      onPointerUp={(event) => {
        if (begun.current && by) onLeave(shifted(begun.current.values, dragged(event)))
        stop()
      }}
      onPointerCancel={stop}
      onKeyDown={(event) => {
        const way = { ArrowRight: [4, 0], ArrowLeft: [-4, 0], ArrowDown: [0, 4], ArrowUp: [0, -4] }[event.key]
        if (!way || !((along && way[0]) || (across && way[1]))) return
        event.preventDefault()
        onLeave(shifted(now, way))
      }}
    >
      {Math.hypot(cx - ex, cy - ey) > 1 && (
        <line x1={ex} y1={ey} x2={cx} y2={cy} stroke="var(--woad)" strokeWidth={1.5} />
      )}
      <circle cx={cx} cy={cy} r={22} fill="transparent" />
      <circle cx={cx} cy={cy} r={11} fill="var(--panel)" stroke="var(--woad)" strokeWidth={3} />
    </g>
  )
}
