import type { ReactNode } from 'react'
import type { CutPlanView } from '@/api/client'
import { SideSheet } from '@/ui/side-sheet'

type Row = { part_id: string; job: string | null }
type Props = {
  view: CutPlanView
  open: boolean
  onClose: () => void
  onChange: (rows: Row[]) => Promise<boolean>
  children: ReactNode
}

const same = (a: Row, b: Row) => a.part_id === b.part_id && a.job === b.job

/** Which jobs of which parts are cut together. */
export function Jobs({ view, open, onClose, onChange, children }: Props) {
  const rows: Row[] = view.jobs.filter((job) => job.chosen).map(({ part_id, job }) => ({ part_id, job }))
  const assemblies = [...new Set(view.jobs.map((job) => job.assembly))]
  return (
    <SideSheet open={open} onClose={onClose} title={`Cut together from ${view.product}`}>
      <div className="flex flex-col gap-5">
        {assemblies.map((assembly) => (
          <fieldset key={assembly}>
            <legend className="mb-1 font-semibold">{assembly}</legend>
            {view.jobs
              .filter((job) => job.assembly === assembly)
              .map((job) => (
                <label key={`${job.part_id} ${job.job}`} className="flex min-h-11 items-center gap-3">
                  <input
                    type="checkbox"
                    className="size-6 shrink-0"
                    checked={job.chosen}
                    onChange={(event) => {
                      const mine = { part_id: job.part_id, job: job.job }
                      const others = rows.filter((row) => !same(row, mine))
                      void onChange(event.target.checked ? [...others, mine] : others)
                    }}
                  />
                  <span>
                    {job.part} <span className="text-soft text-sm">{job.name}</span>
                  </span>
                </label>
              ))}
          </fieldset>
        ))}
        {children}
      </div>
    </SideSheet>
  )
}
