import { useState } from 'react'
import { answer, client, newId } from '@/api/client'
import { useEdit } from '@/api/edit'
import { useDeliveries, useShop } from '@/api/questions'
import { useClock } from '@/app/formats'
import { Button } from '@/ui/button'
import { DayField } from '@/ui/day-field'
import { EditProblem } from '@/ui/edit-problem'
import { TextField } from '@/ui/text-field'

/** What this shop's hours say of the estimate, and whether the plan goes by it. */
export function Learned({ words, used }: { words: string; used: boolean }) {
  const version = useShop().data?.version
  const edit = useEdit(version)
  return (
    <div className="flex flex-wrap items-center gap-3">
      <p className="edge-wait bg-panel px-3 py-1.5">{words}</p>
      {version !== undefined && (
        <Button
          quiet
          onClick={() =>
            void edit.save((v) =>
              answer(client.POST('/api/v1/plan/learned', { body: { version: v, use: !used } })),
            )
          }
        >
          {used ? 'Plan as assumed' : 'Plan as it took here'}
        </Button>
      )}
      <EditProblem edit={edit} />
    </div>
  )
}

type Props = { partId: string; stepKey: string }

/** What the step waits for: named, with the day it is expected; it came, or is not awaited any more. */
export function Deliveries({ partId, stepKey }: Props) {
  const all = useDeliveries().data?.deliveries ?? []
  const clock = useClock()
  const mine = all.filter((d) => d.part_id === partId && d.step_key === stepKey)
  const edit = useEdit(0)
  const [id, setId] = useState(newId)
  const [open, setOpen] = useState(false)
  const [what, setWhat] = useState('')
  const [day, setDay] = useState('')
  const told = (delivery: (typeof mine)[number], arrived: boolean, forget = false) =>
    void edit.save(() =>
      answer(
        client.POST('/api/v1/deliveries/{delivery_id}', {
          params: { path: { delivery_id: delivery.id } },
          body: { version: delivery.version, arrived, forget },
        }),
      ),
    )
  const save = async () => {
    const body = { id, part_id: partId, step_key: stepKey, what, expected_on: day }
    if (await edit.save(() => answer(client.POST('/api/v1/deliveries', { body })))) {
      setOpen(false)
      setWhat('')
      setId(newId())
    }
  }
  return (
    <div className="flex flex-col gap-2">
      {mine.map((delivery) => (
        <p key={delivery.id} className="flex flex-wrap items-center gap-3">
          <span className={delivery.arrived_at ? 'edge-ready px-3 py-1' : 'edge-care bg-weld-wash px-3 py-1'}>
            {delivery.arrived_at
              ? `${delivery.what}: arrived`
              : `Waits for ${delivery.what}, expected ${clock.dayYear(`${delivery.expected_on}T12:00Z`)}${delivery.overdue ? ', overdue' : ''}`}
          </span>
          <Button quiet onClick={() => told(delivery, !delivery.arrived_at)}>
            {delivery.arrived_at ? 'It did not' : 'It came'}
          </Button>
          {!delivery.arrived_at && (
            <Button quiet onClick={() => told(delivery, false, true)}>
              Not awaited
            </Button>
          )}
        </p>
      ))}
      {open ? (
        <div className="flex flex-wrap items-end gap-3">
          <TextField
            label="Waits for"
            placeholder="M5 rod ends"
            value={what}
            problem={edit.problem?.fields.what}
            onChange={setWhat}
            className="w-52"
          />
          <DayField label="Expected" value={day} onChange={setDay} className="w-52" />
          <Button disabled={!day} onClick={() => void save()}>
            Wait for it
          </Button>
          <Button quiet onClick={() => setOpen(false)}>
            Leave it
          </Button>
        </div>
      ) : (
        <Button quiet className="self-start" onClick={() => setOpen(true)}>
          Waits for a delivery…
        </Button>
      )}
      <EditProblem edit={edit} shownInFields={['what']} />
    </div>
  )
}
