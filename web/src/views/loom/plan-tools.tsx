import { useState } from 'react'
import { answer, client, newId } from '@/api/client'
import { useEdit } from '@/api/edit'
import type { LoomView } from '@/api/loom'
import { Button } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { Pick } from '@/ui/pick'

type Props = { view: LoomView; compare: boolean; onCompare: (shown: boolean) => void }

/** Accept the plan and compare with it, freeze the coming days, take the plan along. */
export function PlanTools({ view, compare, onCompare }: Props) {
  const edit = useEdit(view.shop_version)
  const [sure, setSure] = useState(false)
  const accept = async () => {
    await edit.save(() => answer(client.POST('/api/v1/plan/accept', { body: { id: newId() } })))
    setSure(false)
  }
  return (
    <>
      <div className="flex flex-wrap items-center gap-2">
        {view.compared && (
          <Button quiet aria-pressed={compare} onClick={() => onCompare(!compare)}>
            {compare ? 'Hide the accepted plan' : 'Compare'}
          </Button>
        )}
        {sure ? (
          <Button onClick={() => void accept()}>Yes, this is the plan</Button>
        ) : (
          <Button quiet onClick={() => setSure(true)}>
            Accept this plan
          </Button>
        )}
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
      {view.compared && <p className="basis-full text-soft">{view.compared}</p>}
      <EditProblem edit={edit} />
    </>
  )
}
