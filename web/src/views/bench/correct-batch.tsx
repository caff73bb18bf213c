import { useState } from 'react'
import { answer, type BatchView, client, newId } from '@/api/client'
import { useEdit } from '@/api/edit'
import { useAirframe, useBench, useMix } from '@/api/questions'
import { useShow, useUnitOf } from '@/app/formats'
import { Button } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { Pick } from '@/ui/pick'
import { TextField } from '@/ui/text-field'
import { NOT_KNOWN } from './lids'

/** What a batch really was: its masses, product, lots, who mixed it, and on what. The row stays; a correction names it. */
export function CorrectBatch({ batch, onDone }: { batch: BatchView; onDone: () => void }) {
  const show = useShow()
  const unit = useUnitOf()('scale')
  const edit = useEdit(0)
  const bench = useBench().data
  const airframe = useAirframe().data
  const [id] = useState(newId)
  const [was] = useState({
    resin: show(batch.resin_g, 'scale'),
    hardener: show(batch.hardener_g, 'scale'),
    sheet_id: batch.data_sheet_id,
    lot_id: batch.lot_id || NOT_KNOWN,
    hardener_lot_id: batch.hardener_lot_id || NOT_KNOWN,
    crew_member_id: batch.crew_member_id,
    part_id: batch.part_id,
    step_key: batch.step_key,
  })
  const [now, setNow] = useState(was)
  const [note, setNote] = useState('')
  const steps = useMix(now.part_id).data?.needs ?? []
  const changed = (Object.keys(was) as (keyof typeof was)[]).filter((key) => now[key] !== was[key])
  const set = (part: Partial<typeof was>) => setNow((before) => ({ ...before, ...part }))
  const lots = bench?.lots.filter((lot) => lot.data_sheet_id === now.sheet_id) ?? []
  const ofHardener = lots.filter((lot) => lot.component === 'hardener')
  const ofResin = lots.filter((lot) => lot.component !== 'hardener')
  const correct = async () => {
    const said = Object.fromEntries(
      changed.map((key) => {
        const value = now[key]
        if (key === 'resin' || key === 'hardener') return [key, { text: value, unit }]
        return [key, value === NOT_KNOWN ? '' : value]
      }),
    )
    const kept = await edit.save(() =>
      answer(
        client.POST('/api/v1/batches/{batch_id}/correction', {
          params: { path: { batch_id: batch.id } },
          body: { id, note, ...said },
        }),
      ),
    )
    if (kept) onDone()
  }
  const parts = airframe?.assemblies.flatMap((assembly) => assembly.parts) ?? []
  const pick = (
    label: string,
    key: 'sheet_id' | 'lot_id' | 'hardener_lot_id' | 'crew_member_id' | 'step_key',
    choices: { value: string; name: string }[],
    also: Partial<typeof was> = {},
  ) => (
    <Pick
      label={label}
      value={now[key]}
      placeholder="–"
      choices={choices}
      onChange={(value) => set({ [key]: value, ...also })}
    />
  )
  const lotChoices = (some: typeof lots) => [
    ...some.map((lot) => ({ value: lot.id, name: lot.name })),
    { value: NOT_KNOWN, name: 'It is not known' },
  ]
  return (
    <section aria-label="Written down wrong?" className="flex flex-col gap-3">
      <h3 className="font-semibold text-lg">Written down wrong?</h3>
      <p className="text-soft">Change what was wrong. The row stays; a correction is added that names it.</p>
      <div className="grid grid-cols-2 gap-3">
        <TextField
          label="Resin, really"
          value={now.resin}
          onChange={(resin) => set({ resin })}
          problem={edit.problem?.fields.resin}
        />
        <TextField
          label="Hardener, really"
          value={now.hardener}
          onChange={(hardener) => set({ hardener })}
          problem={edit.problem?.fields.hardener}
        />
      </div>
      {pick('Product', 'sheet_id', bench?.products.map((p) => ({ value: p.id, name: p.name })) ?? [], {
        lot_id: NOT_KNOWN,
        hardener_lot_id: NOT_KNOWN,
      })}
      {pick('Lot', 'lot_id', lotChoices(ofResin))}
      {ofHardener.length > 0 && pick('Lot of the hardener', 'hardener_lot_id', lotChoices(ofHardener))}
      {pick('Mixed by', 'crew_member_id', bench?.crew.map((c) => ({ value: c.id, name: c.name })) ?? [])}
      <Pick
        label="It went on"
        value={now.part_id}
        placeholder="no planned step"
        choices={parts.map((part) => ({ value: part.id, name: part.name }))}
        onChange={(part_id) => set({ part_id, step_key: '' })}
      />
      {now.part_id &&
        pick(
          'in the step',
          'step_key',
          steps.map((need) => ({ value: need.step_key, name: need.step_name })),
        )}
      <TextField label="What was wrong" value={note} onChange={setNote} problem={edit.problem?.fields.note} />
      <EditProblem edit={edit} shownInFields={['resin', 'hardener', 'note']} />
      <Button disabled={changed.length === 0} onClick={() => void correct()}>
        Add the correction
      </Button>
    </section>
  )
}
