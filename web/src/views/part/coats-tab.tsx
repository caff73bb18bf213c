import { useState } from 'react'
import { Link } from 'react-router'
import { answer, type CoatsView, client, Problem } from '@/api/client'
import { useCoats } from '@/api/questions'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { TextField } from '@/ui/text-field'
import { CoatBars } from '@/weave/coat-bars'

/** A job's coats: parts coated in one go in order, each flashing off while the next is coated; and ways compared. */
export function CoatsTab({ partId, job }: { partId: string; job: string }) {
  const asked = useCoats(partId, job)
  const view = asked.data
  if (asked.error && !view) return <Notice tone="stop">{asked.error.message}</Notice>
  if (!view) return null
  const parts = view.coats[0]?.rows.length ?? 0
  return (
    <div className="flex flex-col gap-6">
      <p className="max-w-3xl text-lg">
        {view.round ? `${parts} parts in one go, “${view.round}”: ` : ''}
        {view.area} of {view.product}.
        {!view.round &&
          ' Give this job and others one name under What, “Painted in one go with others called”, and they are coated one after the other.'}
      </p>
      {view.span && <CoatBars view={view} />}
      {view.coats.map((coat) => (
        <section key={coat.name} aria-label={coat.name} className="flex flex-col">
          <h3 className="font-semibold text-xl">{coat.name}</h3>
          <ol className="flex flex-col">
            {coat.rows.map((row) => (
              <li
                key={row.part_id}
                className="flex flex-wrap items-baseline gap-x-4 border-line border-t py-1"
              >
                <Link
                  to={`/part/${row.part_id}/coats?job=${row.job}`}
                  className="inline-flex min-h-11 min-w-48 items-center font-semibold hover:underline"
                >
                  {row.part}
                </Link>
                <span className="tabular-nums">{row.words}</span>
                {row.takes && <span className="ml-auto tabular-nums">{row.takes}</span>}
              </li>
            ))}
          </ol>
        </section>
      ))}
      <Ways partId={partId} job={job} view={view} />
      <p className="max-w-3xl text-soft text-sm">{view.caution}</p>
    </div>
  )
}

const PRICES = [
  { key: 'tin_price', label: 'A tin costs' },
  { key: 'tin_l', label: 'It holds, l' },
  { key: 'sprayer_price', label: 'A small sprayer costs' },
  { key: 'can_price', label: 'A can costs' },
  { key: 'can_l', label: 'It holds paint, l' },
]

function Ways({ partId, job, view }: { partId: string; job: string; view: CoatsView }) {
  const [texts, setTexts] = useState<Record<string, string>>({})
  const [found, setFound] = useState<CoatsView['ways'] | null>(null)
  const ways = found ?? view.ways
  const [problem, setProblem] = useState<Problem | null>(null)
  const compare = async () => {
    try {
      const compared = await answer(
        client.POST('/api/v1/parts/{part_id}/coats/compare', {
          params: { path: { part_id: partId } },
          body: { job, texts },
        }),
      )
      setFound(compared.ways)
      setProblem(null)
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      setProblem(error)
    }
  }
  const priced = ways.some((way) => way.cost)
  return (
    <section aria-label="Ways compared" className="flex flex-col gap-3 border-line border-t pt-4">
      <h3 className="font-semibold text-xl">Cans, or a tin and a small sprayer?</h3>
      <div className="flex flex-wrap items-end gap-3">
        {PRICES.map((one) => (
          <TextField
            key={one.key}
            label={one.label}
            inputMode="decimal"
            value={texts[one.key] ?? ''}
            problem={problem?.fields[one.key]}
            onChange={(text) => setTexts({ ...texts, [one.key]: text })}
            className="w-36"
          />
        ))}
        <Button quiet onClick={() => void compare()}>
          Compare
        </Button>
      </div>
      {problem && Object.keys(problem.fields).length === 0 && <Notice tone="stop">{problem.message}</Notice>}
      <div className="overflow-x-auto">
        <table className="w-full max-w-3xl text-left">
          <thead className="text-soft">
            <tr>
              <th className="pr-5 font-normal">By</th>
              <th className="pr-5 font-normal">bought</th>
              {priced && <th className="pr-5 font-normal">costs</th>}
              <th className="pr-5 font-normal">hours</th>
              <th className="pr-5 font-normal">dry on it</th>
              <th className="font-normal">beside it</th>
            </tr>
          </thead>
          <tbody>
            {ways.map((way) => (
              <tr key={way.method} className="border-line border-t align-baseline tabular-nums">
                <td className="py-1.5 pr-5 font-semibold">{way.method}</td>
                <td className="pr-5">{way.packs}</td>
                {priced && <td className="pr-5 font-semibold">{way.cost}</td>}
                <td className="pr-5">{way.hours}</td>
                <td className="pr-5">{way.dry}</td>
                <td>{way.beside}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  )
}
