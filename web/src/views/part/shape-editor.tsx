import type { ShapeLook, ShapeTyped } from '@/api/client'
import { AssumedNote, FigureValue } from '@/ui/figure'
import { Notice } from '@/ui/notice'
import { Pick } from '@/ui/pick'
import { Planform } from '@/weave/planform'
import { SectionDrawing } from '@/weave/section'
import { OutlineForm, PiecesForm, Stations, StripsForm } from './shape-forms'
import { begun, type Change } from './shape-typed'

type Props = {
  shape: ShapeTyped
  look: ShapeLook | undefined
  /** The side that is built, drawn heavy in its sections. */
  side: 'upper' | 'lower' | 'whole'
  onChange: Change
}

/** A shape typed in a table, and its drawing that follows. */
export function ShapeEditor({ shape, look, side, onChange }: Props) {
  const unread = begun(shape) ? look?.unread : undefined
  const problem = (field: string) => (unread?.field === field ? unread.sentence : undefined)
  const of = { shape, onChange, problem }
  const inField = FIELDS.some((known) => unread?.field.startsWith(known))
  return (
    <div className="flex flex-col gap-4">
      <ShapeDrawing shape={shape} look={look} />
      {unread && (!inField || unread.field === 'outline') && (
        <Notice tone="stop">
          <p className="first-letter:uppercase">{unread.sentence}.</p>
        </Notice>
      )}
      {look?.notes.map((note) => (
        <Notice key={note} tone="care">
          {note}
        </Notice>
      ))}
      {shape.kind === 'loft' && <Stations {...of} />}
      {shape.kind === 'outline' && <OutlineForm {...of} />}
      {shape.kind === 'strips' && <StripsForm {...of} />}
      {shape.kind === 'pieces' && <PiecesForm {...of} />}
      {look?.drawing && <ComesTo drawing={look.drawing} side={side} />}
    </div>
  )
}

const FIELDS = ['stations.', 'ribs', 'strips.', 'pieces.']

function ShapeDrawing({ shape, look }: { shape: ShapeTyped; look: ShapeLook | undefined }) {
  const drawing = look?.drawing
  const gaps = look?.unread?.places ?? []
  if (drawing) {
    const loft = shape.kind === 'loft'
    return (
      <Planform
        outline={drawing.outline}
        ends={loft}
        ribs={drawing.ribs}
        root={drawing.root}
        tip={drawing.tip}
        className="w-full"
      />
    )
  }
  if (look?.unread && look.unread.lines.length > 0)
    return (
      <Planform
        outline={[]}
        loose={look.unread.lines}
        marks={gaps.slice(0, 20).map((at) => ({ at, name: '!' }))}
        className="w-full"
      />
    )
  return null
}

function ComesTo({ drawing, side }: { drawing: NonNullable<ShapeLook['drawing']>; side: Props['side'] }) {
  return (
    <section aria-label="Comes to" className="flex flex-col gap-2">
      <h3 className="font-semibold text-xl">Comes to</h3>
      <div className="grid grid-cols-2 gap-x-2 md:grid-cols-4">
        {drawing.figures.map((figure) => (
          <FigureValue key={figure.key} figure={figure} />
        ))}
      </div>
      <p className="px-2 text-soft text-sm">Pick a figure to see what it comes from.</p>
      <AssumedNote figures={drawing.figures} />
      {drawing.sections.length > 0 && (
        <div className="grid gap-4 sm:grid-cols-2">
          {drawing.sections.slice(0, 6).map((section) => (
            <figure key={section.stations}>
              <SectionDrawing
                upper={section.upper}
                lower={section.lower}
                lit={side === 'lower' ? 'lower' : 'upper'}
              />
              <figcaption className="text-sm">
                {section.stations}: <span className="font-semibold">{section.name}</span>
              </figcaption>
            </figure>
          ))}
        </div>
      )}
    </section>
  )
}

type SharedProps = {
  value: string
  choices: { value: string; name: string }[]
  onChange: (id: string) => void
}

/** The part whose shape it has too. */
export function SharedShape({ value, choices, onChange }: SharedProps) {
  return (
    <Pick
      label="It has the shape of"
      value={value}
      placeholder="Which part?"
      choices={choices}
      onChange={onChange}
    />
  )
}
