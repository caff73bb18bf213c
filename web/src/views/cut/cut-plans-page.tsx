import { useState } from 'react'
import { Link } from 'react-router'
import { answer, type CutPlansView, client } from '@/api/client'
import { useEdit } from '@/api/edit'
import { useCutPlans } from '@/api/questions'
import { Button } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { Notice } from '@/ui/notice'
import { useBegin } from './begin'
import { Remnants } from './remnants'

/** Cut plans, what is in none yet, and what was left over. */
export default function CutPlansPage() {
  const plans = useCutPlans()
  if (plans.error && !plans.data)
    return (
      <Notice tone="stop" className="m-6">
        {plans.error.message}
      </Notice>
    )
  const view = plans.data
  if (!view) return null
  return (
    <div className="mx-auto flex max-w-6xl flex-col gap-8 p-6 max-sm:p-4">
      <header>
        <p className="text-soft">
          <Link to="/stores" className="underline">
            The shelf
          </Link>
        </p>
        <h1 className="font-semibold text-2xl">Cut plans</h1>
      </header>
      <Plans view={view} />
      <ToCut view={view} />
      <Remnants view={view} />
    </div>
  )
}

function Plans({ view }: { view: CutPlansView }) {
  const [away, setAway] = useState(false)
  return (
    <section aria-label="Cut plans">
      {view.plans.length === 0 && (
        <p className="text-lg">
          No cut plan yet. Choose below what is to be cut together: its pieces are laid out on the roll.
        </p>
      )}
      <ul className="border-line border-t empty:border-t-0">
        {view.plans.map((plan) => (
          <li key={plan.id} className="border-line border-b">
            <Link
              to={`/cut/${plan.id}`}
              className="grid min-h-14 items-center gap-x-5 gap-y-1 px-3 py-2 hover:bg-panel sm:grid-cols-[1fr_1fr_8rem]"
            >
              <span className="font-semibold text-lg">{plan.name}</span>
              <span className="text-soft">
                {plan.product}, {plan.words}
              </span>
              <span className={STATE[plan.state]}>{plan.state}</span>
            </Link>
          </li>
        ))}
      </ul>
      {view.away.length > 0 && (
        <div className="mt-2">
          <Button quiet aria-expanded={away} onClick={() => setAway(!away)}>
            {away ? 'Hide what was put away' : `${view.away.length} put away`}
          </Button>
          {away && view.away.map((plan) => <Away key={plan.id} plan={plan} />)}
        </div>
      )}
    </section>
  )
}

const STATE: Record<string, string> = {
  cut: 'edge-ready bg-lichen-wash px-3 py-1',
  'being cut': 'edge-work px-3 py-1',
  'laid out': 'edge-ahead px-3 py-1',
  'to lay out': 'edge-ahead px-3 py-1 text-soft',
}

function Away({ plan }: { plan: CutPlansView['away'][number] }) {
  const edit = useEdit(plan.version)
  const back = () =>
    edit.save((version) =>
      answer(
        client.PATCH('/api/v1/cut-plans/{plan_id}', {
          params: { path: { plan_id: plan.id } },
          body: { version, hidden: false },
        }),
      ),
    )
  return (
    <div className="flex flex-wrap items-center gap-4 py-1">
      {plan.name} <span className="text-soft">{plan.product}</span>
      <Button quiet onClick={() => void back()}>
        Take out again
      </Button>
      <EditProblem edit={edit} />
    </div>
  )
}

function ToCut({ view }: { view: CutPlansView }) {
  return (
    <section aria-label="To be cut" className="flex flex-col gap-1">
      <h2 className="font-semibold text-lg">What the ply books take</h2>
      <p className="text-soft">Jobs that share a cloth are cut together with the least waste.</p>
      <ul className="mt-1 border-line border-t">
        {view.to_cut.map((row) => (
          <Product key={row.sheet_id} row={row} />
        ))}
      </ul>
      <OtherProducts view={view} />
    </section>
  )
}

function Product({ row }: { row: CutPlansView['to_cut'][number] }) {
  const [open, setOpen] = useState(false)
  const [chosen, setChosen] = useState<string[] | null>(null)
  const [problem, begin] = useBegin()
  const key = (job: (typeof row.jobs)[number]) => `${job.part_id} ${job.job}`
  const left = row.jobs.filter((job) => !job.plan)
  const wanted = chosen ?? left.map(key)
  return (
    <li className="border-line border-b py-2">
      <div className="flex flex-wrap items-center justify-between gap-3 px-3">
        <span className="min-w-60 font-semibold">{row.product}</span>
        <span className="flex-1 text-soft">{row.words}</span>
        <Button quiet aria-expanded={open} onClick={() => setOpen(!open)}>
          {open ? 'Close' : 'Choose jobs'}
        </Button>
      </div>
      {open && (
        <div className="flex flex-col gap-3 px-3 py-3">
          <div className="grid gap-x-6 sm:grid-cols-2">
            {row.jobs.map((job) => (
              <label key={key(job)} className="flex min-h-11 items-center gap-3">
                <input
                  type="checkbox"
                  className="size-6 shrink-0"
                  checked={wanted.includes(key(job))}
                  onChange={(event) =>
                    setChosen(
                      event.target.checked ? [...wanted, key(job)] : wanted.filter((one) => one !== key(job)),
                    )
                  }
                />
                <span>
                  {job.part} <span className="text-soft">{job.plan ? `in “${job.plan}”` : job.name}</span>
                </span>
              </label>
            ))}
          </div>
          {problem && <Notice tone="stop">{problem}</Notice>}
          <Button
            className="self-start"
            disabled={wanted.length === 0}
            onClick={() =>
              void begin(
                row.sheet_id,
                row.jobs.filter((job) => wanted.includes(key(job))),
              )
            }
          >
            Cut plan of {wanted.length} {wanted.length === 1 ? 'job' : 'jobs'}
          </Button>
        </div>
      )}
    </li>
  )
}

/** A plan for what no ply book takes: plywood for ribs and skins. */
function OtherProducts({ view }: { view: CutPlansView }) {
  const [problem, begin] = useBegin()
  const taken = new Set(view.to_cut.map((row) => row.sheet_id))
  const others = view.sheets.filter((sheet) => !taken.has(sheet.id))
  if (others.length === 0) return null
  return (
    <div className="mt-3 flex flex-wrap items-center gap-2">
      <span className="text-soft">For parts that are cut whole:</span>
      {others.map((sheet) => (
        <Button key={sheet.id} quiet onClick={() => void begin(sheet.id, [])}>
          {sheet.name}
        </Button>
      ))}
      {problem && <Notice tone="stop">{problem}</Notice>}
    </div>
  )
}
