import { useRef } from 'react'
import type { ShapeTyped } from '@/api/client'
import { useShop } from '@/api/questions'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { OneOf } from '@/ui/one-of'
import { put, Rows } from '@/ui/rows'
import { TextField } from '@/ui/text-field'
import { type Change, NO_SECTION, PIECE, STATION, STRIP, type Station } from './shape-typed'

type FormProps = { shape: ShapeTyped; onChange: Change; problem: (field: string) => string | undefined }

export function Stations({ shape, onChange, problem }: FormProps) {
  const metric = useShop().data?.units !== 'us'
  const rows = (stations: Station[]) => onChange({ ...shape, stations })
  const ribs = (more: Partial<ShapeTyped['ribs']>) => onChange({ ...shape, ribs: { ...shape.ribs, ...more } })
  return (
    <section aria-label="Stations" className="flex flex-col gap-3">
      <h3 className="font-semibold text-xl">Stations</h3>
      <Rows
        name="Station"
        rows={shape.stations}
        blank={STATION}
        columns={[
          { field: 'at', kept: 'at_m', label: 'Along the span' },
          { field: 'chord', kept: 'chord_m', label: 'Chord' },
          { field: 'leading_edge', kept: 'leading_edge_m', label: 'Leading edge aft' },
          { field: 'height', kept: 'height_m', label: 'Height' },
          { field: 'twist', kept: 'twist_deg', label: 'Twist, nose up' },
        ]}
        field="stations"
        problem={problem}
        onRows={rows}
        least={2}
        add="Another station"
        moreLabel="Section"
        more={(row, n) => (
          <SectionCell
            row={row}
            n={n}
            onSection={(section) => rows(put(shape.stations, n, { ...row, section }))}
          />
        )}
      />
      <p className="text-soft text-sm">
        {metric ? 'A bare number is metres; 283 1/2 in or 23 ft 7 is understood' : 'A bare number is inches'}.
        Empty is 0; a station without a section has that of the one before.
      </p>
      <h3 className="font-semibold text-xl">Ribs and lands</h3>
      <div className="grid items-start gap-3 sm:grid-cols-3">
        <TextField
          label="Ribs stand"
          placeholder={metric ? 'every 300 mm, or at stations' : 'every 12 in, or at stations'}
          value={shape.ribs.where}
          problem={problem('ribs')}
          onChange={(where) => ribs({ where })}
        />
        <TextField
          label="Width of a rib’s cap"
          value={shape.ribs.width}
          problem={problem('ribs.width')}
          onChange={(width) => ribs({ width })}
        />
        <TextField
          label="Land along the edges"
          value={shape.ribs.edge}
          problem={problem('ribs.edge')}
          onChange={(edge) => ribs({ edge })}
        />
      </div>
      <p className="text-soft text-sm">
        Ribs stand every so far, at the stations, or at places apart by semicolons
        {metric ? ' (a bare number is millimetres)' : ''}. All of it may stay empty.
      </p>
    </section>
  )
}

type SectionProps = { row: Station; n: number; onSection: (section: Station['section']) => void }

/** A station's section: four digits, or a coordinate file. */
function SectionCell({ row, n, onSection }: SectionProps) {
  const file = useRef<HTMLInputElement>(null)
  const { section } = row
  const named = section.file_name || (section.upper.length > 0 && !section.naca ? section.name : '')
  const read = async (chosen: File | undefined) => {
    if (chosen) onSection({ ...NO_SECTION, file: await chosen.text(), file_name: chosen.name })
  }
  return (
    <div className="flex min-w-0 gap-1">
      {named ? (
        <button
          type="button"
          className="min-h-11 min-w-0 flex-1 truncate border-2 border-line bg-panel px-2 text-left"
          aria-label={`Station ${n + 1}, section ${named}: type digits instead`}
          onClick={() => onSection(NO_SECTION)}
        >
          {named} ×
        </button>
      ) : (
        <TextField
          aria-label={`Station ${n + 1}, section`}
          placeholder={n ? 'as before' : 'NACA 4 digits'}
          value={section.naca}
          onChange={(naca) => onSection({ ...NO_SECTION, naca })}
          className="flex-1"
        />
      )}
      <Button
        quiet
        className="px-2!"
        aria-label={`Station ${n + 1}, section from a file`}
        onClick={() => file.current?.click()}
      >
        File
      </Button>
      <input
        ref={file}
        type="file"
        accept=".dat,.txt,.csv,text/plain"
        className="hidden"
        aria-label={`Section file of station ${n + 1}`}
        onChange={(event) => {
          void read(event.target.files?.[0])
          event.target.value = ''
        }}
      />
    </div>
  )
}

const UNITS = ['mm', 'cm', 'm', 'in', 'ft']
const AS_SAID = 'as it says'

export function OutlineForm({ shape, onChange, problem }: FormProps) {
  const metric = useShop().data?.units !== 'us'
  const file = useRef<HTMLInputElement>(null)
  const { outline } = shape
  const set = (more: Partial<ShapeTyped['outline']>) =>
    onChange({ ...shape, outline: { ...outline, ...more } })
  const drawn = outline.dxf || outline.svg
  const read = async (chosen: File | undefined) => {
    if (!chosen) return
    const text = await chosen.text()
    const svg = chosen.name.toLowerCase().endsWith('.svg') || text.slice(0, 500).includes('<svg')
    set({
      points: '',
      dxf: svg ? '' : text,
      svg: svg ? text : '',
      file_name: chosen.name,
      unit: '',
      keep: false,
    })
  }
  return (
    <section aria-label="Outline" className="flex flex-col gap-3">
      <h3 className="font-semibold text-xl">Outline</h3>
      <div className="flex flex-wrap items-end gap-3">
        <Button quiet onClick={() => file.current?.click()}>
          {drawn || outline.keep ? 'Another DXF or SVG file' : 'From a DXF or SVG file'}
        </Button>
        <input
          ref={file}
          type="file"
          accept=".dxf,.svg"
          className="hidden"
          aria-label="Outline file"
          onChange={(event) => {
            void read(event.target.files?.[0])
            event.target.value = ''
          }}
        />
        {drawn && (
          <>
            <p className="self-center font-semibold">{outline.file_name}</p>
            <OneOf
              label="It was drawn in"
              value={outline.unit || AS_SAID}
              choices={[AS_SAID, ...UNITS].map((name) => ({ value: name, name }))}
              onChange={(unit) => set({ unit: unit === AS_SAID ? '' : unit })}
            />
            <Button quiet onClick={() => set({ dxf: '', svg: '', file_name: '', unit: '' })}>
              Type corners instead
            </Button>
          </>
        )}
      </div>
      {problem('unit') && <Notice tone="stop">{problem('unit')}.</Notice>}
      {outline.keep && !drawn && (
        <p className="text-soft">It has too many corners to be typed; another file replaces it.</p>
      )}
      {!drawn && !outline.keep && (
        <label className="flex flex-col gap-1">
          <span className="text-soft">
            Corners, a line each: along from root to tip, then toward the leading edge. An empty line begins a
            hole.
          </span>
          <textarea
            value={outline.points}
            rows={8}
            spellCheck={false}
            placeholder={metric ? '0, 0\n1200, 0\n1200, 340\n0, 410' : '0, 0\n47, 0\n47, 13 1/2\n0, 16'}
            onChange={(event) => set({ points: event.target.value })}
            className="border-2 border-line bg-panel px-3 py-2 font-mono outline-none focus:border-woad"
          />
          <span className="text-soft text-sm">
            {metric
              ? 'A bare number is millimetres; 47 in or 1.2 m is understood.'
              : 'A bare number is inches.'}
          </span>
        </label>
      )}
    </section>
  )
}

export function StripsForm({ shape, onChange, problem }: FormProps) {
  const metric = useShop().data?.units !== 'us'
  return (
    <section aria-label="Measures" className="flex flex-col gap-3">
      <h3 className="font-semibold text-xl">Measures</h3>
      <OneOf
        label="The tape was laid"
        value={shape.measured}
        choices={[
          { value: 'one face', name: 'Across one face' },
          { value: 'all round', name: 'All round the part' },
        ]}
        onChange={(measured) => onChange({ ...shape, measured: measured as ShapeTyped['measured'] })}
      />
      <Rows
        name="Measure"
        rows={shape.strips}
        blank={STRIP}
        columns={[
          { field: 'at', kept: 'at_m', label: 'Along, as the tape lies' },
          { field: 'across', kept: 'across_m', label: 'Measured' },
        ]}
        field="strips"
        problem={problem}
        onRows={(strips) => onChange({ ...shape, strips })}
        least={2}
        add="Another measure"
      />
      <p className="text-soft text-sm">
        A bare number is {metric ? 'metres' : 'inches'}. Straight is assumed from measure to measure: take one
        wherever it bends.
      </p>
    </section>
  )
}

export function PiecesForm({ shape, onChange, problem }: FormProps) {
  const metric = useShop().data?.units !== 'us'
  return (
    <section aria-label="Pieces" className="flex flex-col gap-3">
      <h3 className="font-semibold text-xl">Pieces</h3>
      <Rows
        name="Piece"
        rows={shape.pieces}
        blank={PIECE}
        columns={[
          { field: 'name', kept: 'name', label: 'What', wide: true },
          { field: 'count', kept: 'count', label: 'How many' },
          { field: 'length', kept: 'length_m', label: 'Length' },
          { field: 'width', kept: 'width_m', label: 'Width' },
          { field: 'thickness', kept: 'thickness_m', label: 'Thickness' },
          { field: 'face', kept: 'face_m2', label: 'or one face' },
        ]}
        field="pieces"
        problem={problem}
        onRows={(pieces) => onChange({ ...shape, pieces })}
        least={1}
        add="Another kind of piece"
      />
      <p className="text-soft text-sm">
        The size of one; a bare number is {metric ? 'millimetres, of a face m²' : 'inches, of a face ft²'}. A
        length is enough for stringers; varnish needs a width or a face.
      </p>
    </section>
  )
}
