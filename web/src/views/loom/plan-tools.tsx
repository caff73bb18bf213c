import { useState } from 'react'
import { answer, client, newId } from '@/api/client'
import { useEdit } from '@/api/edit'
import type { LoomView } from '@/api/loom'
import { Button } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { Pick } from '@/ui/pick'

type Props = {
  view: LoomView
  compare: boolean
  onCompare: (shown: boolean) => void
  /** Asked to weigh it up. */
  onWeigh: () => void
}

/** Accept the plan and compare with it, weigh it up, freeze the coming days, take the plan along. */
export function PlanTools({ view, compare, onCompare, onWeigh }: Props) {
  const edit = useEdit(view.shop_version)
  // The order that was looked at when it was to be accepted.
  const [seen, setSeen] = useState('')
  const [said, setSaid] = useState('')
  const accept = async () => {
    const kept = await edit.save(() =>
      answer(client.POST('/api/v1/plan/accept', { body: { id: newId(), order: seen } })),
    )
    setSaid(kept ? 'Accepted: what comes is compared with it.' : '')
    setSeen('')
  }
  return (
    <>
      <div className="flex flex-wrap items-center gap-2">
        {view.compared && (
          <Button quiet aria-pressed={compare} onClick={() => onCompare(!compare)}>
            {compare ? 'Hide the accepted plan' : 'Compare'}
          </Button>
        )}
        {seen ? (
          <>
            <Button quiet onClick={() => setSeen('')}>
              Not yet
            </Button>
            <Button onClick={() => void accept()}>Yes, this is the plan</Button>
          </>
        ) : (
          <Button quiet onClick={() => setSeen(view.order)}>
            Accept this plan
          </Button>
        )}
        {!seen && (
          <Button quiet onClick={onWeigh}>
            Weigh up…
          </Button>
        )}
        {said && <span className="text-lichen">{said}</span>}
      </div>
      {view.compared && (
        <Pick
          label="Kept as accepted"
          value={String(view.freeze_days)}
          choices={[0, 1, 2, 3, 5, 7, 14].map((n) => ({
            value: String(n),
            name: n === 0 ? 'Nothing' : n === 1 ? 'Today and tomorrow' : `Today and ${n} days`,
          }))}
          onChange={(days) =>
            void edit.save((version) =>
              answer(client.POST('/api/v1/plan/freeze', { body: { version, days: Number(days) } })),
            )
          }
        />
      )}
      <p className="flex min-h-11 flex-wrap items-center gap-x-4">
        <a
          className="inline-flex min-h-11 items-center underline"
          href="/api/v1/plan/week.pdf"
          target="_blank"
          rel="noreferrer"
        >
          Week sheet
        </a>
        <a className="inline-flex min-h-11 items-center underline" href="/api/v1/plan.ics">
          Calendar
        </a>
        <a className="inline-flex min-h-11 items-center underline" href="/api/v1/plan.csv">
          Table
        </a>
      </p>
      {view.moved && <p className="edge-care basis-full bg-weld-wash px-3 py-1.5">{view.moved}</p>}
      {view.compared && <p className="basis-full text-soft">{view.compared}</p>}
      <EditProblem edit={edit} />
    </>
  )
}
