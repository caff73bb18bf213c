import { useState } from 'react'
import { answer, type Compared, type CostsView, client } from '@/api/client'
import { useKeep } from '@/api/keep'
import { useUnitOf } from '@/app/formats'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { Pick } from '@/ui/pick'
import { TextField } from '@/ui/text-field'

/** Two products for everything that takes the one: packs, money, what they weigh, and hours where they are known. */
export function TwoProducts({ view }: { view: CostsView }) {
  const [ware, setWare] = useState('')
  const [other, setOther] = useState('')
  const unitOf = useUnitOf()
  const [minutes, setMinutes] = useState({ takes: '', other: '' })
  const [found, setFound] = useState<Compared | null>(null)
  const { keep, fields, says } = useKeep(['takes_min', 'other_min'])
  const said = (text: string) => (text.trim() ? { text, unit: 'min' } : null)
  const compare = async () => {
    setFound(null)
    const body = {
      ware,
      other_sheet_id: other,
      takes_min: said(minutes.takes),
      other_min: said(minutes.other),
    }
    await keep(async () => setFound(await answer(client.POST('/api/v1/costs/compare', { body }))))
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
      </div>
      <div className="flex flex-wrap items-start gap-3">
        <TextField
          label={`Work with the one, each ${unitOf('area')}`}
          unit="min"
          value={minutes.takes}
          problem={fields.takes_min}
          onChange={(takes) => setMinutes({ ...minutes, takes })}
          className="w-64"
        />
        <TextField
          label="And with the other"
          unit="min"
          value={minutes.other}
          problem={fields.other_min}
          onChange={(text) => setMinutes({ ...minutes, other: text })}
          className="w-56"
        />
        <Button className="mt-7" disabled={!ware || !other} onClick={() => void compare()}>
          Compare
        </Button>
      </div>
      <p className="text-soft">
        What has no area: each {unitOf('mass') === 'oz' ? 'pound, foot' : 'kilogram, metre'} or piece. Left
        empty, hours are not compared.
      </p>
      {says && <Notice tone="stop">{says}</Notice>}
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
              {way.hours && <dd>{way.hours} by hand</dd>}
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
  hours: string
  cost: string
}

const PITCHES = ['span', 'sheet', 'pitches', 'pitch', 'rib', 'rib_min', 'joint_min', 'price']

/** A sheet's width against the pitch of ribs: what divides evenly wastes nothing. */
export function Pitch({ currency }: { currency: string }) {
  const unit = useUnitOf()('length')
  const grams = useUnitOf()('mass')
  const [typed, setTyped] = useState({
    span: '',
    sheet: '',
    pitches: '',
    rib: '',
    ribMinutes: '',
    jointMinutes: '',
    price: '',
  })
  const [rows, setRows] = useState<PitchRow[]>([])
  const { keep, fields, says } = useKeep(PITCHES)
  const put = (part: Partial<typeof typed>) => setTyped({ ...typed, ...part })
  const compare = async () => {
    const said = (text: string) => ({ text, unit })
    const maybe = (text: string, of: string) => (text.trim() ? { text, unit: of } : null)
    const body = {
      span: said(typed.span),
      sheet: said(typed.sheet),
      pitches: typed.pitches
        .split(';')
        .map((text) => text.trim())
        .filter(Boolean)
        .map(said),
      rib: maybe(typed.rib, grams),
      rib_min: maybe(typed.ribMinutes, 'min'),
      joint_min: maybe(typed.jointMinutes, 'min'),
      price: maybe(typed.price, ''),
    }
    setRows([])
    await keep(async () => setRows((await answer(client.POST('/api/v1/costs/pitches', { body }))).rows))
  }
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
        <TextField
          label="One rib takes"
          unit="min"
          value={typed.ribMinutes}
          problem={fields.rib_min}
          onChange={(ribMinutes) => put({ ribMinutes })}
          className="w-36"
        />
        <TextField
          label="A joint of sheets takes"
          unit="min"
          value={typed.jointMinutes}
          problem={fields.joint_min}
          onChange={(jointMinutes) => put({ jointMinutes })}
          className="w-48"
        />
        <TextField
          label="One sheet costs"
          unit={currency}
          value={typed.price}
          problem={fields.price}
          onChange={(price) => put({ price })}
          className="w-36"
        />
        <Button className="mt-7" onClick={() => void compare()}>
          Compare
        </Button>
      </div>
      {says && <Notice tone="stop">{says}</Notice>}
      {rows.length > 0 && (
        <table className="max-w-3xl text-left tabular-nums">
          <thead className="text-soft">
            <tr>
              {[
                'Ribs at',
                'Of each sheet used',
                'Sheets',
                'Cut off',
                'Ribs',
                'They weigh',
                'By hand',
                'Sheets cost',
              ].map((name) => (
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
                <td className="pr-5">{row.hours || '–'}</td>
                <td className="pr-5">{row.cost || '–'}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  )
}
