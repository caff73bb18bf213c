import { clsx } from 'clsx'
import { ArrowDown, ArrowUp, Trash2 } from 'lucide-react'
import { Fragment } from 'react'
import type { PliesView } from '@/api/client'
import { useShow } from '@/app/formats'
import { Button } from '@/ui/button'
import { FigureValue } from '@/ui/figure'
import { Notice } from '@/ui/notice'
import { Pick } from '@/ui/pick'
import { SavedField } from '@/ui/saved-field'
import type { Book, EditedBook } from './ply-book'

const NO_CORE = 'none'

type Props = {
  view: PliesView
  edited: EditedBook
  lit: number | null
  onLight: (ply: number | null) => void
}

/** The ply book, edited a ply at a time; each change is saved at once. */
export function PlyRows({ view, edited, lit, onLight }: Props) {
  const show = useShow()
  const { save, rearrange, edit } = edited
  const withPly = (index: number, part: Partial<Book['plies'][number]>) =>
    save((book) => ({
      ...book,
      plies: book.plies.map((row, i) => (i === index ? { ...row, ...part } : row)),
    }))
  /** One place up or down; past the core it changes sides first. */
  const move = (index: number, by: -1 | 1) =>
    rearrange((book) => {
      const crosses = book.core_id && (by < 0 ? index === book.core_after : index === book.core_after - 1)
      if (crosses) return { ...book, core_after: book.core_after - by }
      const rows = [...book.plies]
      const [row] = rows.splice(index, 1)
      if (row) rows.splice(index + by, 0, row)
      return { ...book, plies: rows }
    })
  const remove = (index: number) =>
    rearrange((book) => ({
      ...book,
      plies: book.plies.filter((_, i) => i !== index),
      core_after: book.core_after - (index < book.core_after ? 1 : 0),
    }))
  const add = (outside: boolean) =>
    rearrange((book) => {
      const rows = [...book.plies]
      const at = outside && book.core_id ? book.core_after : rows.length
      const before = outside || at > book.core_after ? rows[at - 1] : undefined
      const cloth_id = before?.cloth_id ?? rows[at]?.cloth_id ?? rows[0]?.cloth_id ?? view.cloths[0]?.id ?? ''
      const stage = before?.stage ?? 1
      rows.splice(at, 0, { cloth_id, angle: { text: '0', unit: '°' }, zone: '', stage })
      return { ...book, plies: rows, core_after: book.core_after + (outside ? 1 : 0) }
    })
  const last = view.plies.length - 1
  const coreRow = (
    <div className="flex flex-wrap items-end gap-3 border-line border-y-2 bg-weld-wash px-2 py-2">
      <div className="min-w-0 flex-1">
        <Pick
          label="Core"
          hideLabel
          value={view.core?.core_id ?? NO_CORE}
          choices={[
            ...view.cores.map((c) => ({ value: c.id, name: c.name })),
            { value: NO_CORE, name: 'no core' },
          ]}
          onChange={(chosen) =>
            save((book) => ({
              ...book,
              core_id: chosen === NO_CORE ? null : chosen,
              core_after: book.core_id ? book.core_after : book.plies.length,
            }))
          }
        />
      </div>
      {view.core && (
        <Where
          label="Zone of the core"
          view={view}
          value={view.core.zone}
          onChange={(core_zone) => save((book) => ({ ...book, core_zone }))}
        />
      )}
    </div>
  )
  return (
    <section className="flex flex-col gap-3">
      <h2 className="font-semibold text-xl">Ply book</h2>
      <div>
        {view.plies.map((ply, i) => (
          <Fragment key={i}>
            {view.core?.after === i && coreRow}
            {/* biome-ignore lint/a11y/noStaticElementInteractions: lights the same ply in the drawings */}
            <div
              onPointerEnter={() => onLight(i)}
              onFocus={() => onLight(i)}
              className={clsx('border-line border-b px-2 py-2', lit === i && 'bg-woad-wash')}
            >
              <div className="grid grid-cols-[1.5rem_minmax(0,1fr)_5.5rem_auto] items-start gap-2 max-sm:grid-cols-[1.5rem_minmax(0,1fr)_auto] max-sm:[&>*:nth-child(2)]:col-span-2 max-sm:[&>*:nth-child(3)]:col-start-2">
                <span className="pt-2.5 font-semibold">{i + 1}</span>
                <Pick
                  label={`Cloth of ply ${i + 1}`}
                  hideLabel
                  value={ply.cloth_id}
                  choices={view.cloths.map((c) => ({ value: c.id, name: c.name }))}
                  onChange={(cloth_id) => withPly(i, { cloth_id })}
                />
                <div className="[&_label]:sr-only">
                  <SavedField
                    label={`Angle of ply ${i + 1}`}
                    saved={show(ply.angle_deg, 'angle')}
                    onSave={(text) => withPly(i, { angle: { text, unit: '°' } })}
                  />
                </div>
                <span className="flex">
                  <Tool
                    label={`Move ply ${i + 1} outward`}
                    off={i === 0 && !(view.core?.after === 0)}
                    onClick={() => move(i, -1)}
                  >
                    <ArrowUp aria-hidden size={20} />
                  </Tool>
                  <Tool
                    label={`Move ply ${i + 1} inward`}
                    off={i === last && !(view.core?.after === last + 1)}
                    onClick={() => move(i, 1)}
                  >
                    <ArrowDown aria-hidden size={20} />
                  </Tool>
                  <Tool label={`Remove ply ${i + 1}`} off={last === 0} onClick={() => remove(i)}>
                    <Trash2 aria-hidden size={20} />
                  </Tool>
                </span>
              </div>
              {['angle', 'zone', 'stage'].map(
                (field) =>
                  edit.problem?.fields[`plies.${i}.${field}`] && (
                    <Notice key={field} tone="stop" className="mt-2">
                      {edit.problem.fields[`plies.${i}.${field}`]}
                    </Notice>
                  ),
              )}
              <div className="mt-1 flex flex-wrap items-center gap-x-6 gap-y-2 text-sm sm:ml-8">
                <Where
                  label={`Zone of ply ${i + 1}`}
                  view={view}
                  value={ply.zone}
                  onChange={(zone) => withPly(i, { zone })}
                />
                {view.stages.length > 0 && (
                  <Pick
                    label={`Stage of ply ${i + 1}`}
                    hideLabel
                    value={String(ply.stage)}
                    choices={view.stages.map((name, n) => ({ value: String(n + 1), name }))}
                    onChange={(stage) => withPly(i, { stage: Number(stage) })}
                  />
                )}
                {ply.figures.map((figure) => (
                  <span key={figure.key}>
                    <span className="text-soft">{figure.label} </span>
                    <FigureValue figure={figure} bare />
                  </span>
                ))}
              </div>
            </div>
          </Fragment>
        ))}
        {(view.core === null || view.core.after > last) && coreRow}
      </div>
      <div className="flex flex-wrap gap-3">
        <Button onClick={() => add(true)}>Add a ply outside</Button>
        {view.core && (
          <Button quiet onClick={() => add(false)}>
            Add a ply inside
          </Button>
        )}
      </div>
      <p className="text-soft text-sm">
        Angles as seen from outside this part: 0° from root to tip, on the left-hand part positive toward the
        leading edge. A change counts for {view.decides.join('; ')}.
      </p>
    </section>
  )
}

type WhereProps = { label: string; view: PliesView; value: string; onChange: (zone: string) => void }

/** Which zone something lies in; nothing to choose before there is one. */
function Where({ label, view, value, onChange }: WhereProps) {
  if (view.zones.length === 0) return null
  return (
    <Pick
      label={label}
      hideLabel
      value={value || view.everywhere}
      choices={[view.everywhere, ...view.zones.map((zone) => zone.name)].map((name) => ({
        value: name,
        name,
      }))}
      onChange={(chosen) => onChange(chosen === view.everywhere ? '' : chosen)}
    />
  )
}

type ToolProps = { label: string; off?: boolean; onClick: () => void; children: React.ReactNode }

function Tool({ label, off, onClick, children }: ToolProps) {
  return (
    <button
      type="button"
      aria-label={label}
      title={label}
      disabled={off}
      onClick={onClick}
      className="grid size-11 place-items-center border-2 border-transparent enabled:hover:border-ink disabled:opacity-25"
    >
      {children}
    </button>
  )
}
