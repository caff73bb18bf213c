import { useState } from 'react'
import { answer, type Bench, client, type Pour, type Product } from '@/api/client'
import { useEdit } from '@/api/edit'
import { Button } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { TextField } from '@/ui/text-field'
import type { Draft, Use } from './draft'
import { NOT_KNOWN } from './lids'

type Props = {
  bench: Bench
  use: Use
  product: Product
  draft: Draft
  change: (part: Partial<Draft>) => void
  pour: Pour
  unit: string
  wantedG: number | undefined
}

const named = (lot: string) => (lot === NOT_KNOWN ? null : lot || null)

/** Who mixed it, of which lots; then it is kept as a batch. */
export function Keep({ bench, use, product, draft, change, pour, unit, wantedG }: Props) {
  const edit = useEdit(0)
  const [busy, setBusy] = useState(false)
  const { filler } = draft
  const keep = async (another: boolean) => {
    setBusy(true)
    let kept = ''
    const done = await edit.save(async () => {
      const batch = await answer(
        client.POST('/api/v1/batches', {
          body: {
            id: draft.id,
            part_id: use.partId || null,
            step_key: use.stepKey,
            purpose: use.purpose,
            sheet_id: product.id,
            resin_lid: product.resin_lid,
            hardener_lid: product.hardener_lid,
            wanted_g: wantedG ?? 0,
            resin: { text: draft.resin, unit },
            hardener: { text: draft.hardener, unit },
            filler: filler?.grams.trim()
              ? {
                  sheet_id: filler.id,
                  consistency: filler.consistency,
                  grams: { text: filler.grams, unit },
                }
              : null,
            crew_member_id: draft.who || null,
            lot_id: named(draft.lot),
            hardener_lot_id: named(draft.hardenerLot),
            happened_at: draft.metAt || null,
            used: draft.used,
            another,
            note: draft.note,
          },
        }),
      )
      kept = batch.id
    })
    setBusy(false)
    if (done) change({ kept })
  }
  const who = bench.crew.find((one) => one.id === draft.who)?.name
  const lots = [draft.lot, draft.hardenerLot].flatMap(
    (id) => bench.lots.find((lot) => lot.id === id)?.name.split(',')[0] ?? [],
  )
  return (
    <section aria-label="Keep it" className="flex flex-col gap-3">
      <div className="flex flex-wrap items-end gap-4">
        <Button big onClick={() => void keep(false)} disabled={busy}>
          {pour.judgement?.verdict === 'in' ? 'Keep this batch' : 'Keep it as it is'}
        </Button>
        <TextField
          label="Note"
          value={draft.note}
          onChange={(note) => change({ note })}
          className="min-w-40 flex-1"
        />
        <p className="pb-2.5">
          Mixed by <span className="font-semibold">{who ?? '–'}</span>
          {lots.length > 0 && ` of lot ${lots.join(' and ')}`}
        </p>
        <Button quiet onClick={() => change({ ready: false })}>
          Change that
        </Button>
      </div>
      <EditProblem edit={edit} />
      {edit.problem?.fields.another && (
        <div className="flex flex-wrap gap-3">
          <Button quiet onClick={() => void keep(true)}>
            It is another cup: keep it too
          </Button>
        </div>
      )}
    </section>
  )
}
