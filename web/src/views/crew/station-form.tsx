import { useState } from 'react'
import { answer, client, newId, type PeopleView, type Station } from '@/api/client'
import { useEdit } from '@/api/edit'
import { typedNumber } from '@/app/typed-number'
import { Button } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { Pick } from '@/ui/pick'
import { TextField } from '@/ui/text-field'
import { Toggles } from '@/ui/toggles'

type Props = { station?: Station; view: PeopleView; serves?: string; onDone?: () => void }
const SHOP = 'the shop itself'

/** A place or device: its name, how many it serves, and the room it is in. */
export function StationForm({ station, view, serves, onDone }: Props) {
  const [open, setOpen] = useState(!station)
  const room = view.zones.find((z) => z.id === station?.zone_id)?.name
  if (!open && station)
    return (
      <div className="flex flex-wrap items-center gap-3 bg-panel px-4 py-2">
        <p className="min-w-0 flex-1">
          <span className="font-semibold">{station.name}</span>
          <span className="text-soft">
            {' '}
            · serves {station.capacity} as {station.serves.join(', ') || 'nothing that is asked for'}
            {room && ` · air of the ${room.toLowerCase()}`}
          </span>
        </p>
        <Button quiet onClick={() => setOpen(true)}>
          Change
        </Button>
      </div>
    )
  return (
    <Editing station={station} view={view} serves={serves} onDone={station ? () => setOpen(false) : onDone} />
  )
}

/** What is typed stands on the version it was opened with, whatever others save meanwhile. */
function Editing({ station, view, serves, onDone }: Props) {
  const [opened] = useState(station?.version ?? 0)
  const edit = useEdit(opened)
  const [id] = useState(station?.id ?? newId())
  const [name, setName] = useState(station?.name ?? (serves ? `The ${serves}` : ''))
  const [kinds, setKinds] = useState<string[]>(station?.serves ?? (serves ? [serves] : []))
  const [capacity, setCapacity] = useState(String(station?.capacity ?? 1))
  const [zone, setZone] = useState(station?.zone_id || SHOP)
  const save = async () => {
    const done = await edit.save((version) =>
      answer(
        client.POST('/api/v1/stations', {
          body: {
            id,
            version,
            name,
            capacity: typedNumber(capacity),
            zone_id: zone === SHOP ? '' : zone,
            serves: kinds,
          },
        }),
      ),
    )
    if (done) onDone?.()
  }
  return (
    <div className="flex flex-col gap-3 border-2 border-ink bg-panel p-4">
      <TextField label="Name" value={name} problem={edit.problem?.fields.name} onChange={setName} />
      <Toggles label="It serves as" known={view.kinds} chosen={kinds} onChange={setKinds} />
      <div className="grid grid-cols-[7rem_1fr] gap-3">
        <TextField
          label="Serves at once"
          value={capacity}
          inputMode="numeric"
          problem={edit.problem?.fields.capacity}
          onChange={setCapacity}
        />
        <Pick
          label="Its air"
          value={zone}
          choices={[
            { value: SHOP, name: 'The shop’s' },
            ...view.zones.map((z) => ({ value: z.id, name: z.name })),
          ]}
          onChange={setZone}
        />
      </div>
      <EditProblem edit={edit} shownInFields={['name', 'capacity']} />
      <div className="flex gap-3">
        <Button onClick={() => void save()}>Save</Button>
        <Button quiet onClick={onDone}>
          Leave it
        </Button>
        {station && (
          <Button
            quiet
            className="ml-auto"
            onClick={() =>
              void edit.save((version) =>
                answer(
                  client.POST('/api/v1/stations/{station_id}/away', {
                    params: { path: { station_id: station.id } },
                    body: { version },
                  }),
                ),
              )
            }
          >
            Not here any more
          </Button>
        )}
      </div>
    </div>
  )
}
