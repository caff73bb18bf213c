import { clsx } from 'clsx'
import { useRef, useState } from 'react'
import type { PliesView, ShapeView } from '@/api/client'
import { FigureValue } from '@/ui/figure'
import { Hatch, Planform, type PlanScale, type Ring } from '@/weave/planform'
import type { Book, EditedBook } from './ply-book'

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

/** On a drawing this narrow [px] edges lie too near each other for a finger: they are typed. */
const NARROW = 480

/** The side with its zones to scale: touch a piece to see its stack, drag an edge and the figures follow. */
export function ZonedPlanform({ drawing, edited, ply, here, held, onHere }: Props) {
  const { view, look, save } = edited
  const zone = view.zones[held]
  // The more plies lie on each other, the darker.
  const fewest = Math.min(...view.regions.map((region) => region.plies.length))
  const moved = (handle: Handle, value: number) => (book: Book) => {
    const text = `${Number(value.toPrecision(4))} ${handle.unit}`
    const zones = book.zones.map((one, n) =>
      n === held ? { ...one, texts: { ...one.texts, [handle.field]: text } } : one,
    )
    return { ...book, zones }
  }
  return (
    <>
      <figure
        aria-label="Where each ply lies"
        className="sticky top-0 z-10 -mx-2 border-line border-b-2 bg-ground px-2 py-2"
      >
        <Planform
          deepest={170}
          outline={drawing.outline}
          ends={drawing.kind === 'loft'}
          ribs={drawing.ribs}
          warp={ply && !ply.zone ? ply.warp : undefined}
          woven={ply?.balanced}
          root="root"
          tip="tip"
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
              {(scale.width < NARROW ? [] : (zone?.handles ?? [])).map((handle) => (
                <Grip
                  key={`${held} ${handle.field}`}
                  handle={handle}
                  scale={scale}
                  name={`${zone?.name}: ${zone?.fields.find((f) => f.field === handle.field)?.label ?? ''}`}
                  onMove={(value) => void look(moved(handle, value))}
                  onLeave={(value) => void save(moved(handle, value))}
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

type GripProps = {
  handle: Handle
  scale: PlanScale
  name: string
  onMove: (value: number) => void
  onLeave: (value: number) => void
}

/** An edge to take hold of; arrow keys move it too. */
function Grip({ handle, scale, name, onMove, onLeave }: GripProps) {
  const begun = useRef<[number, number] | null>(null)
  const [to, setTo] = useState<number | null>(null)
  const along = (handle.per_m[0] ?? 0) !== 0
  // It stays under the finger while the drawing follows what was looked at.
  const shift = to === null ? 0 : to - handle.value
  const per = (along ? handle.per_m[0] : handle.per_m[1]) ?? 0
  const px = per ? (shift / per) * scale.perMetre : 0
  const [cx, cy] = [scale.x(handle.at) + (along ? px : 0), scale.y(handle.at) + (along ? 0 : px)]
  const valueAt = (event: React.PointerEvent) => {
    const [x0, y0] = begun.current ?? [event.clientX, event.clientY]
    const metres = (along ? event.clientX - x0 : event.clientY - y0) / scale.perMetre
    return held.current + metres * per
  }
  const held = useRef(handle.value)
  const stop = () => {
    begun.current = null
    setTo(null)
  }
  return (
    <g
      tabIndex={0}
      role="slider"
      aria-label={name}
      aria-valuenow={Number(handle.value.toPrecision(4))}
      aria-valuetext={`${Number(handle.value.toPrecision(4))} ${handle.unit}`}
      className={clsx('touch-none', along ? 'cursor-ew-resize' : 'cursor-ns-resize')}
      onPointerDown={(event) => {
        begun.current = [event.clientX, event.clientY]
        held.current = handle.value
        event.currentTarget.setPointerCapture(event.pointerId)
      }}
      onPointerMove={(event) => {
        if (!begun.current) return
        const value = valueAt(event)
        setTo(value)
        onMove(value)
      }}
      onPointerUp={(event) => {
        if (begun.current && to !== null) onLeave(valueAt(event))
        stop()
      }}
      onPointerCancel={stop}
      onKeyDown={(event) => {
        const way = { ArrowRight: [1, 0], ArrowLeft: [-1, 0], ArrowDown: [0, 1], ArrowUp: [0, -1] }[event.key]
        const step = way ? ((along ? way[0] : way[1]) ?? 0) : 0
        if (!step) return
        event.preventDefault()
        onLeave(handle.value + (step * per * 4) / scale.perMetre)
      }}
    >
      <circle cx={cx} cy={cy} r={22} fill="transparent" />
      <circle cx={cx} cy={cy} r={11} fill="var(--panel)" stroke="var(--woad)" strokeWidth={3} />
    </g>
  )
}
