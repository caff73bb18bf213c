import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { answer, client, newId } from '@/api/client'
import { useEdit } from '@/api/edit'
import { useUnitOf } from '@/app/formats'
import { Button } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'

type Props = { partId: string; stepKey: string }

/** How a step could go that is too cold where it is: each room and its heater tried, and what that does to the plan. */
export function Ways({ partId, stepKey }: Props) {
  const [open, setOpen] = useState(false)
  const unit = useUnitOf()('temperature')
  const edit = useEdit(undefined)
  const ways = useQuery({
    queryKey: ['ways', partId, stepKey],
    queryFn: () =>
      answer(
        client.GET('/api/v1/parts/{part_id}/ways', {
          params: { path: { part_id: partId }, query: { step_key: stepKey } },
        }),
      ),
    enabled: open,
    retry: false,
  })
  if (!open)
    return (
      <Button quiet className="self-start" onClick={() => setOpen(true)}>
        How could it go?
      </Button>
    )
  return (
    <section aria-label="How it could go" className="flex flex-col gap-2 bg-panel px-4 py-3">
      {ways.isPending && <p>Every room and its heater is tried…</p>}
      {ways.error && <p className="text-madder">{ways.error.message}</p>}
      {ways.data?.none && <p>{ways.data.none}</p>}
      <ul>
        {ways.data?.ways.map((way) => (
          <li
            key={`${way.kind} ${way.zone_id}`}
            className="flex flex-wrap items-center gap-x-6 gap-y-2 border-line border-b py-2 last:border-0"
          >
            <div className="min-w-64 flex-1">
              <p className="font-semibold">{way.words}</p>
              <p>{way.then}</p>
              <p className="text-soft">{way.plan}</p>
            </div>
            <Button
              onClick={() =>
                void edit.save(() =>
                  answer(
                    client.POST('/api/v1/plan/ways', {
                      body: {
                        id: newId(),
                        kind: way.kind,
                        zone_id: way.zone_id,
                        station_id: way.station_id,
                        part_id: partId,
                        heat: way.heat ? { text: way.heat, unit } : null,
                      },
                    }),
                  ),
                )
              }
            >
              Do that
            </Button>
          </li>
        ))}
      </ul>
      <EditProblem edit={edit} />
      <p className="text-soft text-sm">
        A heater set here runs round the clock; its hours are set with the shop’s air. Nothing moves by
        itself: carry it there.
      </p>
    </section>
  )
}
