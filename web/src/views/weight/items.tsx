import { useState } from 'react'
import { type AirframeWeights, answer, client, newId } from '@/api/client'
import { useEdit } from '@/api/edit'
import { useShow } from '@/app/formats'
import { Button } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { TextField } from '@/ui/text-field'

type Item = AirframeWeights['items'][number]

/** What an airframe carries besides its parts: fittings, engine; people and fuel as loads. */
export function Items({ view }: { view: AirframeWeights }) {
  const show = useShow()
  const [editing, setEditing] = useState<string | null>(null)
  // A save may end when another form is open already.
  const close = (which: string) => setEditing((now) => (now === which ? null : now))
  return (
    <section aria-label="Carried besides" className="flex flex-col gap-2">
      <h2 className="font-semibold text-lg">Carried besides</h2>
      {view.items.length === 0 && (
        <p className="text-soft">
          Nothing yet: engine, fittings, instruments; people, fuel and baggage as loads.
        </p>
      )}
      {view.items.map((item) =>
        editing === item.id ? (
          <ItemForm key={item.id} view={view} item={item} onDone={() => close(item.id)} />
        ) : (
          <div key={item.id} className="flex flex-wrap items-center gap-x-6 border-line border-t">
            <span className="min-w-48 font-semibold">
              {item.name} {item.load && <span className="font-normal text-soft">load</span>}
            </span>
            <span>{show(item.grams, 'mass')}</span>
            <span>{show(item.aft_m, 'length')} aft of the nose</span>
            <span className="text-soft">{show(item.moment_kg_m, 'moment')}</span>
            <Button quiet className="my-1 ml-auto" onClick={() => setEditing(item.id)}>
              Change
            </Button>
          </div>
        ),
      )}
      {editing === 'new' ? (
        <ItemForm view={view} onDone={() => close('new')} />
      ) : (
        <Button quiet className="self-start" onClick={() => setEditing('new')}>
          Add something it carries
        </Button>
      )}
    </section>
  )
}

function ItemForm({ view, item, onDone }: { view: AirframeWeights; item?: Item; onDone: () => void }) {
  const edit = useEdit(item?.version ?? 0)
  const [id] = useState(() => item?.id ?? newId())
  const [typed, setTyped] = useState({
    name: item?.name ?? '',
    weighs: item?.weighs ?? '',
    aft: item?.aft ?? '',
    load: item?.load ?? false,
  })
  const [mass = '', length = ''] = view.units
  const keep = async (hidden: boolean) => {
    const saved = await edit.save((version) =>
      answer(
        client.PUT('/api/v1/airframes/{airframe_id}/items', {
          params: { path: { airframe_id: view.id } },
          body: {
            id,
            version,
            hidden,
            name: typed.name,
            load: typed.load,
            weighs: { text: typed.weighs, unit: mass },
            aft: { text: typed.aft, unit: length },
          },
        }),
      ),
    )
    if (saved) onDone()
  }
  const field = (name: 'name' | 'weighs' | 'aft', label: string) => (
    <TextField
      label={label}
      value={typed[name]}
      problem={edit.problem?.fields[name]}
      onChange={(text) => setTyped({ ...typed, [name]: text })}
    />
  )
  return (
    <div className="flex flex-col gap-3 border-2 border-line p-4">
      <EditProblem edit={edit} shownInFields={['name', 'weighs', 'aft']} />
      <div className="grid items-start gap-3 sm:grid-cols-4">
        {field('name', 'What')}
        {field('weighs', `Weighs, ${mass}`)}
        {field('aft', `Aft of the nose, ${length}`)}
        <label className="flex min-h-11 items-center gap-3 self-end">
          <input
            type="checkbox"
            className="size-6"
            checked={typed.load}
            onChange={(event) => setTyped({ ...typed, load: event.target.checked })}
          />
          A load: people, fuel
        </label>
      </div>
      <div className="flex flex-wrap gap-3">
        <Button onClick={() => void keep(false)}>Keep it</Button>
        <Button quiet onClick={onDone}>
          Leave it
        </Button>
        {item && (
          <Button quiet className="ml-auto" onClick={() => void keep(true)}>
            Take it away
          </Button>
        )}
      </div>
    </div>
  )
}
