import { useState } from 'react'
import { answer, type Bench, client, type MixView, type Pour, type Product } from '@/api/client'
import { useEdit } from '@/api/edit'
import { Button } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { Notice } from '@/ui/notice'
import { Pick } from '@/ui/pick'
import { TextField } from '@/ui/text-field'
import type { Draft } from './draft'

type Props = {
  bench: Bench
  mix: MixView
  need: MixView['needs'][number]
  product: Product
  draft: Draft
  change: (part: Partial<Draft>) => void
  pour: Pour
  unit: string
  wantedG: number | undefined
}

/** Who mixed it, of which lots; then it is kept as a batch. */
export function Keep({ bench, mix, need, product, draft, change, pour, unit, wantedG }: Props) {
  const edit = useEdit(0)
  const [busy, setBusy] = useState(false)
  const keep = async (another: boolean) => {
    setBusy(true)
    let kept = ''
    const done = await edit.save(async () => {
      const batch = await answer(
        client.POST('/api/v1/batches', {
          body: {
            id: draft.id,
            part_id: mix.part_id,
            step_key: need.step_key,
            sheet_id: product.id,
            resin_lid: product.resin_lid,
            hardener_lid: product.hardener_lid,
            wanted_g: wantedG ?? 0,
            resin: { text: draft.resin, unit },
            hardener: { text: draft.hardener, unit },
            crew_member_id: draft.who || null,
            lot_id: draft.lot || null,
            hardener_lot_id: draft.hardenerLot || null,
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
  const lots = bench.lots.filter((lot) => lot.data_sheet_id === product.id)
  const ofResin = lots.filter((lot) => lot.component !== 'hardener')
  const ofHardener = lots.filter((lot) => lot.component === 'hardener')
  const care = lots.filter((lot) => [draft.lot, draft.hardenerLot].includes(lot.id) && lot.care)
  return (
    <section className="flex flex-col gap-3">
      <div className="flex flex-wrap items-end gap-4">
        <div className="w-40">
          <Pick
            label="Mixed by"
            value={draft.who}
            placeholder="–"
            choices={bench.crew.map((c) => ({ value: c.id, name: c.name }))}
            onChange={(who) => change({ who })}
          />
        </div>
        <div className="w-60">
          <Pick
            label="Lot"
            value={draft.lot}
            placeholder="–"
            choices={ofResin.map((lot) => ({ value: lot.id, name: lot.name }))}
            onChange={(lot) => change({ lot })}
          />
        </div>
        {ofHardener.length > 0 && (
          <div className="w-60">
            <Pick
              label="Lot of the hardener"
              value={draft.hardenerLot}
              placeholder="–"
              choices={ofHardener.map((lot) => ({ value: lot.id, name: lot.name }))}
              onChange={(hardenerLot) => change({ hardenerLot })}
            />
          </div>
        )}
        <TextField
          label="Note"
          value={draft.note}
          onChange={(note) => change({ note })}
          className="min-w-40 flex-1"
        />
        <Button big onClick={() => void keep(false)} disabled={busy}>
          {pour.judgement?.verdict === 'in' ? 'Keep this batch' : 'Keep it as it is'}
        </Button>
      </div>
      {care.map((lot) => (
        <Notice key={lot.id} tone="care" className="first-letter:uppercase">
          {lot.care}.
        </Notice>
      ))}
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
