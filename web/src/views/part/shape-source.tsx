import type { PartCard, ShapeTyped } from '@/api/client'
import { useAirframe, useShapeLook } from '@/api/questions'
import { OneOf } from '@/ui/one-of'
import { ShapeEditor, SharedShape } from './shape-editor'
import { blankShape } from './shape-typed'

export type Source = { kind: ShapeTyped['kind'] | 'of' | ''; of: string; shape: ShapeTyped | null }

type Props = {
  source: Source
  side: 'upper' | 'lower' | 'whole'
  hand: 'left' | 'right' | 'centre' | 'both'
  others: PartCard[]
  onChange: (source: Source) => void
}

/** Where a part's shape comes from: typed, or that of another part; or it is said later. */
export function ShapeSource({ source, side, hand, others, onChange }: Props) {
  const kinds = useAirframe().data?.kinds ?? []
  const shown = source.kind === 'of' ? null : source.shape
  const look = useShapeLook(shown ? { shape: shown, side, hand, part_id: '' } : null)
  const pick = (kind: Source['kind']) =>
    onChange({
      kind,
      of: kind === 'of' ? source.of : '',
      shape:
        kind === 'of' || kind === ''
          ? null
          : source.shape
            ? { ...source.shape, kind }
            : blankShape(kind as ShapeTyped['kind']),
    })
  return (
    <div className="flex flex-col gap-4">
      <OneOf
        label="Its shape"
        value={source.kind || 'later'}
        choices={[
          ...kinds.map(({ id, name }) => ({ value: id, name: name.charAt(0).toUpperCase() + name.slice(1) })),
          ...(others.length > 0 ? [{ value: 'of', name: 'Of another part' }] : []),
          { value: 'later', name: 'Later' },
        ]}
        onChange={(kind) => pick(kind === 'later' ? '' : (kind as Source['kind']))}
      />
      <p className="text-soft">{ABOUT[source.kind || 'later']}</p>
      {source.kind === 'of' && (
        <SharedShape
          value={source.of}
          choices={others.map(({ id, name }) => ({ value: id, name }))}
          onChange={(of) => onChange({ ...source, of })}
        />
      )}
      {shown && (
        <ShapeEditor
          shape={shown}
          look={look}
          side={side}
          onChange={(shape) => onChange({ ...source, shape })}
        />
      )}
    </div>
  )
}

const ABOUT: Record<string, string> = {
  loft: 'Wings, tails, control surfaces: sections at stations along the span, straight between them.',
  outline: 'Ribs, fins, sides, bulkheads: a flat outline with its holes, typed or from a drawing.',
  strips: 'A part that exists and has no drawing: girths or widths, measured with a tape.',
  pieces: 'Sets of ribs, stringers, blocks or brackets: how many, and the size of one.',
  of: 'Skins of one wing share its shape: a change of it counts for all of them.',
  later: 'A part may be founded by its name alone; its shape can be given at any time.',
}
