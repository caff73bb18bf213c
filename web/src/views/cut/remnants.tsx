import { useState } from 'react'
import { answer, type CutPlansView, client, newId } from '@/api/client'
import { useKeep } from '@/api/keep'
import { useUnitOf } from '@/app/formats'
import { Button } from '@/ui/button'
import { LabelLink } from '@/ui/label-link'
import { Notice } from '@/ui/notice'
import { Pick } from '@/ui/pick'
import { TextField } from '@/ui/text-field'

/** What was left over and is kept: used first by the next layout. */
export function Remnants({ view }: { view: CutPlansView }) {
  const { keep, busy, says } = useKeep()
  const [adding, setAdding] = useState(false)
  const note = (id: string, kind: 'used' | 'thrown') =>
    keep(() =>
      answer(
        client.POST('/api/v1/remnants/{remnant_id}/notes', {
          params: { path: { remnant_id: id } },
          body: { id: newId(), kind },
        }),
      ),
    )
  return (
    <section aria-label="Remnants" className="flex flex-col gap-2">
      <h2 className="font-semibold text-lg">Remnants on the shelf</h2>
      {view.remnants.length === 0 && (
        <p className="text-soft">
          None. What a layout leaves over comes here when it is cut; what lies there already can be measured.
        </p>
      )}
      <ul className="grid gap-3 sm:grid-cols-2 lg:grid-cols-3">
        {view.remnants.map((remnant) => (
          <li key={remnant.id} className="flex flex-col gap-2 border-2 border-line p-3">
            <Outline rings={remnant.rings} />
            <p>
              <span className="font-semibold">{remnant.product}</span>
              <br />
              <span className="text-soft">{remnant.words}</span>
            </p>
            <div className="mt-auto flex gap-2">
              <Button quiet disabled={busy} onClick={() => void note(remnant.id, 'used')}>
                Used up
              </Button>
              <Button quiet disabled={busy} onClick={() => void note(remnant.id, 'thrown')}>
                Thrown away
              </Button>
            </div>
          </li>
        ))}
      </ul>
      {says && <Notice tone="stop">{says}</Notice>}
      {view.remnants.length > 0 && (
        <LabelLink kind="remnant" ids={view.remnants.map(({ id }) => id)} name="Labels for all" />
      )}
      {adding ? (
        <Add view={view} onDone={() => setAdding(false)} />
      ) : (
        <Button quiet className="self-start" onClick={() => setAdding(true)}>
          Put a remnant on the shelf
        </Button>
      )}
    </section>
  )
}

type Rings = CutPlansView['remnants'][number]['rings']

function Outline({ rings }: { rings: Rings }) {
  const all = rings.flat()
  const [wide, high] = [0, 1].map((n) => Math.max(...all.map((at) => at[n] ?? 0))) as [number, number]
  return (
    <svg viewBox={`-10 -10 ${wide + 20} ${high + 20}`} className="h-24 w-full" aria-hidden>
      <path
        d={rings.map((ring) => `M${ring.map(([x = 0, y = 0]) => `${x} ${high - y}`).join('L')}Z`).join('')}
        fillRule="evenodd"
        fill="var(--night)"
        stroke="var(--ink)"
        strokeWidth={1.5}
        vectorEffect="non-scaling-stroke"
      />
    </svg>
  )
}

function Add({ view, onDone }: { view: CutPlansView; onDone: () => void }) {
  const { keep, fields, says } = useKeep(['length', 'width', 'note'])
  const unit = useUnitOf()('length')
  const [id] = useState(newId)
  const [sheet, setSheet] = useState(view.sheets[0]?.id ?? '')
  const [typed, setTyped] = useState({ length: '', width: '', note: '' })
  const put = async () => {
    const { length, width, note } = typed
    const body = {
      id,
      data_sheet_id: sheet,
      length: { text: length, unit },
      width: { text: width, unit },
      note,
    }
    if (await keep(() => answer(client.POST('/api/v1/remnants', { body })))) onDone()
  }
  const field = (name: keyof typeof typed, label: string) => (
    <TextField
      label={label}
      value={typed[name]}
      unit={name === 'note' ? undefined : unit}
      problem={fields[name]}
      onChange={(text) => setTyped({ ...typed, [name]: text })}
    />
  )
  return (
    <div className="flex flex-col gap-3 border-2 border-line p-4">
      <div className="grid items-start gap-3 sm:grid-cols-4">
        <Pick
          label="Of"
          value={sheet}
          choices={view.sheets.map((one) => ({ value: one.id, name: one.name }))}
          onChange={setSheet}
        />
        {field('length', 'Along its warp or grain')}
        {field('width', 'Across')}
        {field('note', 'Note')}
      </div>
      {says && <Notice tone="stop">{says}</Notice>}
      <div className="flex gap-3">
        <Button onClick={() => void put()}>Put it there</Button>
        <Button quiet onClick={onDone}>
          Leave it
        </Button>
      </div>
    </div>
  )
}
