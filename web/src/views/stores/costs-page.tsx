import { clsx } from 'clsx'
import { useState } from 'react'
import { Link } from 'react-router'
import { answer, type Compared, type CostsView, client, Problem } from '@/api/client'
import { useCosts } from '@/api/questions'
import { useUnitOf } from '@/app/formats'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { Pick } from '@/ui/pick'
import { TextField } from '@/ui/text-field'
import { StoresHead } from './stores-head'

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
            What parts take is at the cheapest price by the unit that is known, packs and parcels left out.
          </p>
          {view.unpriced.length > 0 && (
            <p className="text-soft">
              No price in {view.currency} is known of {view.unpriced.join(', ')}.
            </p>
          )}
        </div>
      </div>
      <TwoProducts view={view} />
      <Pitch />
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

function TwoProducts({ view }: { view: CostsView }) {
  const [ware, setWare] = useState('')
  const [other, setOther] = useState('')
  const [found, setFound] = useState<Compared | null>(null)
  const [problem, setProblem] = useState('')
  const compare = async () => {
    setProblem('')
    try {
      const body = { ware, other_sheet_id: other }
      setFound(await answer(client.POST('/api/v1/costs/compare', { body })))
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      setFound(null)
      setProblem(error.message)
    }
  }
  if (view.wares.length === 0) return null
  return (
    <section aria-label="Two products" className="flex flex-col gap-3 border-line border-t-2 pt-5">
      <h2 className="font-semibold text-xl">Two products for the same need</h2>
      <div className="flex flex-wrap items-end gap-3">
        <div className="w-72">
          <Pick
            label="Everything that takes"
            value={ware}
            placeholder="Choose…"
            choices={view.wares.map(({ id: value, name }) => ({ value, name }))}
            onChange={setWare}
          />
        </div>
        <div className="w-72">
          <Pick
            label="Against"
            value={other}
            placeholder="Choose…"
            choices={view.products.map(({ id: value, name }) => ({ value, name }))}
            onChange={setOther}
          />
        </div>
        <Button disabled={!ware || !other} onClick={() => void compare()}>
          Compare
        </Button>
      </div>
      {problem && <Notice tone="stop">{problem}</Notice>}
      {found && (
        <div className="grid gap-4 sm:grid-cols-2">
          {found.ways.map((way) => (
            <dl key={way.name} className="border-2 border-line bg-panel p-4">
              <dt className="font-semibold text-lg">{way.name}</dt>
              <dd>It takes {way.takes}</dd>
              {way.cost ? (
                <>
                  <dd>{way.packs}</dd>
                  <dd className="font-semibold text-xl tabular-nums">{way.cost}</dd>
                  <dd className="text-soft">{way.left_over} left over</dd>
                </>
              ) : (
                <dd className="text-madder">{way.words}</dd>
              )}
              {way.weighs && <dd>{way.weighs} on the airframe</dd>}
            </dl>
          ))}
          {found.says.map((words) => (
            <p key={words} className="sm:col-span-2">
              {words}
            </p>
          ))}
        </div>
      )}
    </section>
  )
}

type PitchRow = {
  pitch: string
  sheets: number
  ribs: number
  used: string
  waste: string
  ribs_weigh: string
}

/** A sheet's width against the pitch of ribs: what divides evenly wastes nothing. */
function Pitch() {
  const unit = useUnitOf()('length')
  const grams = useUnitOf()('mass')
  const [typed, setTyped] = useState({ span: '', sheet: '', pitches: '', rib: '' })
  const [rows, setRows] = useState<PitchRow[]>([])
  const [problem, setProblem] = useState<Problem | null>(null)
  const put = (part: Partial<typeof typed>) => setTyped({ ...typed, ...part })
  const compare = async () => {
    const said = (text: string) => ({ text, unit })
    const body = {
      span: said(typed.span),
      sheet: said(typed.sheet),
      pitches: typed.pitches
        .split(';')
        .map((text) => text.trim())
        .filter(Boolean)
        .map(said),
      rib: typed.rib.trim() ? { text: typed.rib, unit: grams } : null,
    }
    try {
      setRows((await answer(client.POST('/api/v1/costs/pitches', { body }))).rows)
      setProblem(null)
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      setRows([])
      setProblem(error)
    }
  }
  const fields = problem?.fields ?? {}
  return (
    <section aria-label="Sheets over ribs" className="flex flex-col gap-3 border-line border-t-2 pt-5">
      <h2 className="font-semibold text-xl">Sheets over ribs</h2>
      <div className="flex flex-wrap items-start gap-3">
        <TextField
          label="Span"
          unit={unit}
          value={typed.span}
          problem={fields.span}
          onChange={(span) => put({ span })}
          className="w-36"
        />
        <TextField
          label="A sheet goes along it"
          unit={unit}
          value={typed.sheet}
          problem={fields.sheet}
          onChange={(sheet) => put({ sheet })}
          className="w-44"
        />
        <TextField
          label="Pitches of ribs, with ; between"
          unit={unit}
          value={typed.pitches}
          problem={fields.pitches ?? fields.pitch}
          onChange={(pitches) => put({ pitches })}
          className="w-64"
        />
        <TextField
          label="One rib weighs"
          unit={grams}
          value={typed.rib}
          problem={fields.rib}
          onChange={(rib) => put({ rib })}
          className="w-36"
        />
        <Button className="mt-7" onClick={() => void compare()}>
          Compare
        </Button>
      </div>
      {rows.length > 0 && (
        <table className="max-w-3xl text-left tabular-nums">
          <thead className="text-soft">
            <tr>
              {['Ribs at', 'Of each sheet used', 'Sheets', 'Cut off', 'Ribs', 'They weigh'].map((name) => (
                <th key={name} className="pr-5 font-normal">
                  {name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <tr key={row.pitch} className="border-line border-t">
                <td className="py-1.5 pr-5 font-semibold">{row.pitch}</td>
                <td className="pr-5">{row.used}</td>
                <td className="pr-5">{row.sheets}</td>
                <td className="pr-5">{row.waste}</td>
                <td className="pr-5">{row.ribs}</td>
                <td className="pr-5">{row.ribs_weigh || '–'}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  )
}
