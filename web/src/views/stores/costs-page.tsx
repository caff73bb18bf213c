import { clsx } from 'clsx'
import { Link } from 'react-router'
import type { CostsView } from '@/api/client'
import { useCosts } from '@/api/questions'
import { Notice } from '@/ui/notice'
import { StoresHead } from './stores-head'
import { Pitch, TwoProducts } from './two-ways'

type Row = CostsView['parts'][number]

/** What was spent and what is to come, by month and by part; two ways to buy or build side by side. */
export default function CostsPage() {
  const asked = useCosts()
  const view = asked.data
  if (asked.error && !view)
    return (
      <Notice tone="stop" className="m-6">
        {asked.error.message}
      </Notice>
    )
  if (!view) return null
  return (
    <div className="mx-auto flex max-w-6xl flex-col gap-6 p-6 max-sm:p-4">
      <StoresHead />
      <h1 className="text-xl">{view.words || 'What it costs'}</h1>
      {view.ask && <Notice tone="care">{view.ask}</Notice>}
      <div className="grid gap-8 lg:grid-cols-[1fr_20rem]">
        <div className="flex flex-col gap-6">
          <Parts name="By airframe" rows={view.airframes} link={() => '/airframe'} />
          <Parts name="By part" rows={view.parts} link={(id) => `/part/${id}/steps`} />
        </div>
        <div className="flex flex-col gap-4">
          <section aria-label="Ordered">
            <h2 className="mb-1 font-semibold text-xl">Ordered</h2>
            {view.months.length === 0 && <p className="text-soft">Nothing yet.</p>}
            <ul className="border-line border-t">
              {view.months.map((month) => (
                <li
                  key={`${month.month}/${month.currency}`}
                  className="flex justify-between gap-4 border-line border-b py-1.5 tabular-nums"
                >
                  <span>{month.month}</span>
                  <span className="font-semibold">{month.ordered}</span>
                </li>
              ))}
            </ul>
          </section>
          <p className="text-soft">
            What was used is at what was paid for it, where an order says so; the rest, and what is to come,
            at today’s cheapest price by the unit. Packs and parcels are left out.
          </p>
          {view.unpriced.length > 0 && (
            <p className="text-soft">
              No price in {view.currency} is known of {view.unpriced.join(', ')}.
            </p>
          )}
        </div>
      </div>
      <TwoProducts view={view} />
      <Pitch currency={view.currency} />
    </div>
  )
}

function Parts({ name, rows, link }: { name: string; rows: Row[]; link: (id: string) => string }) {
  const most = Math.max(...rows.map((row) => row.so_far + row.ahead), 1)
  return (
    <section aria-label={name}>
      <h2 className="mb-1 font-semibold text-xl">{name}</h2>
      <ul className="border-line border-t">
        {rows
          .filter((row) => row.so_far + row.ahead > 0)
          .map((row) => (
            <li
              key={row.id}
              className="grid items-center gap-x-4 border-line border-b py-1.5 sm:grid-cols-[13rem_1fr_19rem]"
            >
              <Link to={link(row.id)} className="font-semibold hover:underline">
                {row.name}
              </Link>
              <span aria-hidden className="flex h-4 bg-ground">
                <span className="bg-walnut" style={{ width: `${(100 * row.so_far) / most}%` }} />
                <span
                  className={clsx('border-2 border-walnut', row.so_far > 0 && 'border-l-0')}
                  style={{ width: `${(100 * row.ahead) / most}%` }}
                />
              </span>
              <span className="tabular-nums">
                {row.so_far_words} used, {row.ahead_words} to come
              </span>
            </li>
          ))}
      </ul>
    </section>
  )
}
