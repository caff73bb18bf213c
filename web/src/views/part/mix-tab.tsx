import { useState } from 'react'
import { Link } from 'react-router'
import { answer, type BatchView, client, type MixView } from '@/api/client'
import { useEdit } from '@/api/edit'
import { useMix } from '@/api/questions'
import { useShow } from '@/app/formats'
import { Button, ButtonLink } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { AssumedNote, FigureValue } from '@/ui/figure'
import { Notice } from '@/ui/notice'
import { SavedField } from '@/ui/saved-field'
import { SideSheet } from '@/ui/side-sheet'
import { CorrectBatch } from '@/views/bench/correct-batch'

export function MixTab({ partId, job }: { partId: string; job: string }) {
  const mix = useMix(partId, { job })
  const view = mix.data
  const edit = useEdit(view?.version)
  if (mix.error && !mix.data) return <Notice tone="stop">{mix.error.message}</Notice>
  if (!view) return null
  const lose = (field: string, typed: { text: string; unit: string }) =>
    edit.save((version) =>
      answer(
        client.PATCH('/api/v1/jobs/{job_id}/losses', {
          params: { path: { job_id: view.job_id } },
          body: { version, losses: { [field]: typed } },
        }),
      ),
    )
  return (
    <div className="grid gap-8 lg:grid-cols-[1.6fr_1fr]">
      <section className="flex flex-col gap-4">
        <h2 className="font-semibold text-xl">
          {view.product?.name ??
            (view.supplies.length > 0 ? 'Nothing of it is mixed' : 'No product chosen yet')}{' '}
          <span className="font-normal text-base text-soft">{view.product?.ratio}</span>
        </h2>
        {view.needs.map((need) => (
          <div key={need.step_key} className="border-line border-b-2 pb-3">
            <h3 className="mb-1 px-2 font-semibold">{need.step_name}</h3>
            <div className="flex flex-wrap items-center justify-between gap-3">
              {need.figures.length === 0 && (
                <p className="px-2 text-soft">
                  How much it takes is not computed for this way of building; weigh what the joints take.
                </p>
              )}
              <div className="flex gap-4">
                {need.figures.map((figure) => (
                  <FigureValue key={figure.key} figure={figure} />
                ))}
              </div>
              {need.finished ? (
                <p className="text-soft">Finished: nothing more is mixed for it.</p>
              ) : (
                <ButtonLink to={`/mix?part=${partId}&step=${encodeURIComponent(need.step_key)}`}>
                  Mix a cup
                </ButtonLink>
              )}
            </div>
          </div>
        ))}
        <AssumedNote figures={view.needs.flatMap((need) => need.figures)} />
        <Supplies supplies={view.supplies} />
        {(view.needs.length > 0 || view.batches.length > 0) && <Batches batches={view.batches} />}
      </section>
      <section className={view.losses.length === 0 ? 'hidden' : 'flex flex-col gap-3'}>
        <h2 className="font-semibold text-xl">Losses</h2>
        <EditProblem edit={edit} shownInFields={view.losses.map((loss) => loss.field)} />
        {view.taken && <TakenHere taken={view.taken} onUse={(field, typed) => void lose(field, typed)} />}
        {view.losses.map((loss) => (
          <SavedField
            key={loss.field}
            label={loss.assumed ? `${loss.label} (assumed)` : loss.label}
            saved={loss.text}
            problem={edit.problem?.fields[loss.field]}
            onSave={(text) => lose(loss.field, { text, unit: loss.unit })}
          />
        ))}
        <p className="text-soft text-sm">
          Common practice until you type what your shop loses. They count for every part this job builds.
        </p>
      </section>
    </div>
  )
}

/** Cloth, core, and what nobody counts until it is missing. */
function Supplies({ supplies }: { supplies: MixView['supplies'] }) {
  if (supplies.length === 0) return null
  return (
    <section aria-label="Also used up" className="flex flex-col gap-2">
      <h2 className="font-semibold text-xl">Also used up</h2>
      <ul className="grid gap-x-8 2xl:grid-cols-2">
        {supplies.map((figure) => (
          <li key={figure.key} className="flex items-center justify-between gap-4 border-line border-b px-2">
            <span>{figure.label}</span>
            <FigureValue figure={figure} bare className="whitespace-nowrap" />
          </li>
        ))}
      </ul>
    </section>
  )
}

type TakenProps = {
  taken: NonNullable<MixView['taken']>
  onUse: (field: string, typed: { text: string; unit: string }) => void
}

/** What was really taken; the next part of this job may be planned with it. */
function TakenHere({ taken, onUse }: TakenProps) {
  return (
    <Notice tone="wait" className="flex flex-col items-start gap-3">
      <span>{taken.words}</span>
      {taken.field && (
        <Button quiet onClick={() => onUse(taken.field, { text: taken.text, unit: taken.unit })}>
          Plan the next with that
        </Button>
      )}
    </Notice>
  )
}

const SAYS = { in: 'within', near: 'near', out: 'out' } as const
const TONE = { in: 'edge-ready', near: 'edge-care', out: 'edge-stop' } as const

export function Batches({ batches }: { batches: BatchView[] }) {
  const [open, setOpen] = useState<BatchView | null>(null)
  const show = useShow()
  if (batches.length === 0) {
    return <p className="text-soft">No batch kept yet. Mix a cup for the step you are at.</p>
  }
  return (
    <>
      <h2 className="mt-2 font-semibold text-xl">Batches kept</h2>
      <ul className="flex flex-col gap-2">
        {batches.map((batch) => (
          <li key={batch.id}>
            <button
              type="button"
              onClick={() => setOpen(batch)}
              className={`${TONE[batch.verdict]} w-full bg-panel px-4 py-2 text-left hover:bg-woad-wash`}
            >
              <span className={batch.corrected ? 'text-soft line-through' : ''}>{batch.words}</span>
              <span className="block text-soft text-sm">
                {[
                  batch.step_name,
                  batch.who,
                  batch.lot && `lot ${batch.lot}`,
                  batch.temp_c !== null && `shop at ${show(batch.temp_c, 'temperature')}`,
                  batch.corrected && 'corrected by a later row',
                  batch.corrects && `correction: ${batch.note}`,
                ]
                  .filter(Boolean)
                  .join(' · ')}
              </span>
            </button>
          </li>
        ))}
      </ul>
      <SideSheet
        open={open !== null}
        onClose={() => setOpen(null)}
        title={open ? `Batch, ${open.step_name}` : ''}
      >
        {open && <BatchSheet key={open.id} batch={open} onDone={() => setOpen(null)} />}
      </SideSheet>
    </>
  )
}

function BatchSheet({ batch, onDone }: { batch: BatchView; onDone: () => void }) {
  const show = useShow()
  return (
    <div className="flex flex-col gap-4">
      <p>{batch.words}</p>
      {batch.care.map((words) => (
        <Notice key={words} tone="care">
          {words}
        </Notice>
      ))}
      <Link to={`/mix?batch=${batch.id}`} className="inline-flex min-h-11 items-center underline">
        Where it went, what was left, photographs
      </Link>
      <table>
        <tbody>
          {[
            ['Cup', batch.letter],
            ['Resin', show(batch.resin_g, 'scale')],
            ['Hardener', show(batch.hardener_g, 'scale')],
            ['Filler', batch.filler || '–'],
            ['Verdict', SAYS[batch.verdict]],
            ['Shop', show(batch.temp_c, 'temperature')],
            ['Lot', [batch.lot, batch.hardener_lot].filter(Boolean).join(', ') || '–'],
            ['Mixed by', batch.who || '–'],
            ['Note', batch.note || '–'],
          ].map(([name, value]) => (
            <tr key={name} className="border-line border-b">
              <td className="py-1.5 text-soft">{name}</td>
              <td className="py-1.5 text-right">{value}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {batch.corrected ? (
        <p className="text-soft">This row was corrected by a later one. It stays as it was written.</p>
      ) : (
        <CorrectBatch batch={batch} onDone={onDone} />
      )}
    </div>
  )
}
