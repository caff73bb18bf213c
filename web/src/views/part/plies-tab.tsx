import { clsx } from 'clsx'
import { ArrowDown, ArrowUp, Trash2 } from 'lucide-react'
import { Fragment, useState } from 'react'
import { answer, client, type PliesView, type Typed } from '@/api/client'
import { useEdit } from '@/api/edit'
import { usePlies, useShape } from '@/api/questions'
import { useShow } from '@/app/formats'
import { Button } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { FigureValue } from '@/ui/figure'
import { Notice } from '@/ui/notice'
import { Pick } from '@/ui/pick'
import { SavedField } from '@/ui/saved-field'
import { Planform } from '@/weave/planform'
import { PlyStack } from '@/weave/ply-stack'

type Row = { cloth_id: string; angle: Typed }
type Book = { plies: Row[]; core_id: string | null; core_after: number }

const NO_CORE = 'none'

export function PliesTab({ partId, job }: { partId: string; job: string }) {
  const plies = usePlies(partId, job)
  const drawing = useShape(partId).data?.drawing
  const show = useShow()
  const [lit, setLit] = useState<number | null>(null)
  const view = plies.data
  const edit = useEdit(view?.version)
  if (plies.error && !plies.data) return <Notice tone="stop">{plies.error.message}</Notice>
  if (!view) return null
  const litPly = lit === null ? undefined : view.plies[lit]
  return (
    <div className="flex flex-col gap-5">
      <EditProblem edit={edit} shownInFields={view.plies.map((_, i) => `plies.${i}.angle`)} />
      <div className="grid gap-8 2xl:grid-cols-[minmax(0,1fr)_minmax(0,1.25fr)]">
        <section className="flex flex-col gap-5">
          <h2 className="flex items-baseline justify-between font-semibold text-xl">
            Stack <span className="font-mono text-base">{view.code}</span>
          </h2>
          <p className="-mt-4 text-soft text-sm">
            Outside on top, laid in this order. The red mark is the warp.
          </p>
          <div className="grid items-center gap-x-6 gap-y-4 md:grid-cols-[minmax(0,3fr)_minmax(0,2fr)] 2xl:grid-cols-1">
            <PlyStack view={view} lit={lit} onLight={setLit} angle={(deg) => show(deg, 'angle')} />
            {drawing && (
              <div>
                <Planform
                  outline={drawing.outline}
                  ends={drawing.kind === 'loft'}
                  warp={litPly?.warp}
                  woven={litPly?.balanced}
                  root="root"
                  tip="tip"
                  className="w-full"
                />
                <p className="text-soft text-sm">
                  {litPly
                    ? `Ply ${(lit ?? 0) + 1}: ${litPly.cloth}, as its fibres lie on the part.`
                    : 'Touch a ply to see its fibres on the part.'}{' '}
                  Drawn from above, nose up: laid into a mould one looks at the other face, and it turns
                  about.
                </p>
              </div>
            )}
          </div>
          <Weights view={view} />
        </section>
        <Book view={view} partId={partId} edit={edit} lit={lit} onLight={setLit} />
      </div>
    </div>
  )
}

type BookProps = {
  view: PliesView
  partId: string
  edit: ReturnType<typeof useEdit>
  lit: number | null
  onLight: (ply: number | null) => void
}

/** The ply book, edited a ply at a time; each change is saved at once. */
function Book({ view, partId, edit, lit, onLight }: BookProps) {
  const show = useShow()
  const book: Book = {
    plies: view.plies.map((ply) => ({
      cloth_id: ply.cloth_id,
      angle: { text: String(ply.angle_deg), unit: '°' },
    })),
    core_id: view.core?.core_id ?? null,
    core_after: view.core?.after ?? 0,
  }
  const save = (next: Book) =>
    edit.save((version, reason) =>
      answer(
        client.PUT('/api/v1/parts/{part_id}/plies', {
          params: { path: { part_id: partId } },
          body: { job: view.job, version, reason, ...next },
        }),
      ),
    )
  const withPly = (index: number, part: Partial<Row>) =>
    save({ ...book, plies: book.plies.map((row, i) => (i === index ? { ...row, ...part } : row)) })
  /** One place up or down; past the core it changes sides first. */
  const move = (index: number, by: -1 | 1) => {
    const crosses = view.core && (by < 0 ? index === book.core_after : index === book.core_after - 1)
    if (crosses) return save({ ...book, core_after: book.core_after - by })
    const rows = [...book.plies]
    const [row] = rows.splice(index, 1)
    if (row) rows.splice(index + by, 0, row)
    return save({ ...book, plies: rows })
  }
  const remove = (index: number) =>
    save({
      ...book,
      plies: book.plies.filter((_, i) => i !== index),
      core_after: book.core_after - (index < book.core_after ? 1 : 0),
    })
  const add = (at: number, outside: boolean) => {
    const rows = [...book.plies]
    const cloth_id = rows[at - 1]?.cloth_id ?? rows[at]?.cloth_id ?? view.cloths[0]?.id ?? ''
    rows.splice(at, 0, { cloth_id, angle: { text: '0', unit: '°' } })
    return save({ ...book, plies: rows, core_after: book.core_after + (outside ? 1 : 0) })
  }
  const last = view.plies.length - 1
  const coreRow = (
    <div className="flex items-end gap-3 border-line border-y-2 bg-weld-wash px-2 py-2">
      <div className="min-w-0 flex-1">
        <Pick
          label="Core"
          hideLabel
          value={book.core_id ?? NO_CORE}
          choices={[
            ...view.cores.map((c) => ({ value: c.id, name: c.name })),
            { value: NO_CORE, name: 'no core' },
          ]}
          onChange={(chosen) =>
            save({
              ...book,
              core_id: chosen === NO_CORE ? null : chosen,
              core_after: view.core ? book.core_after : book.plies.length,
            })
          }
        />
      </div>
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
                <AngleField
                  label={`Angle of ply ${i + 1}`}
                  saved={show(ply.angle_deg, 'angle')}
                  onSave={(text) => withPly(i, { angle: { text, unit: '°' } })}
                />
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
              {edit.problem?.fields[`plies.${i}.angle`] && (
                <Notice tone="stop" className="mt-2">
                  {edit.problem.fields[`plies.${i}.angle`]}
                </Notice>
              )}
              <div className="flex flex-wrap gap-x-6 text-sm sm:ml-8">
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
        <Button onClick={() => add(view.core ? view.core.after : last + 1, true)}>Add a ply outside</Button>
        {view.core && (
          <Button quiet onClick={() => add(last + 1, false)}>
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

function AngleField({
  label,
  saved,
  onSave,
}: {
  label: string
  saved: string
  onSave: (t: string) => Promise<boolean>
}) {
  return (
    <div className="[&_label]:sr-only">
      <SavedField label={label} saved={saved} onSave={onSave} />
    </div>
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

function Weights({ view }: { view: PliesView }) {
  const by = Object.fromEntries(view.figures.map((f) => [f.key, f]))
  const rows = ['fibre', 'resin', 'core', 'total'].filter((key) => by[`${key}_mass`])
  return (
    <section className="mt-2 flex min-w-0 flex-col gap-3">
      <h2 className="font-semibold text-xl">Comes to</h2>
      <Notice tone={view.symmetric && view.balanced ? 'ready' : 'care'}>{view.sentence}</Notice>
      <div>
        {by.thickness && <FigureValue figure={by.thickness} />}
        <table className="w-full max-sm:text-sm">
          <thead className="text-left text-soft text-sm">
            <tr>
              <td />
              {rows.map((key) => (
                <th key={key} className="px-2.5 max-sm:px-0.5 font-normal capitalize">
                  {key}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {['per_m2', 'mass'].map((which) => (
              <tr key={which} className="border-line border-t">
                <th className="px-2 text-left font-normal text-soft max-sm:px-0 sm:whitespace-nowrap">
                  {which === 'mass' ? 'part' : 'per area'}
                </th>
                {rows.map((key) => {
                  const figure = by[`${key}_${which}`]
                  return (
                    <td key={key} className="whitespace-nowrap px-2.5 max-sm:px-0.5">
                      {figure && <FigureValue figure={figure} bare />}
                    </td>
                  )
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  )
}
