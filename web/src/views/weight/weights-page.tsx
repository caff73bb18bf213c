import { useState } from 'react'
import { Link, useParams } from 'react-router'
import { type AirframeWeights, answer, client } from '@/api/client'
import { useEdit } from '@/api/edit'
import { useAirframeWeights } from '@/api/questions'
import { useShow } from '@/app/formats'
import { Button } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { FigureValue } from '@/ui/figure'
import { Notice } from '@/ui/notice'
import { SavedField } from '@/ui/saved-field'
import { BalanceLine } from '@/weave/balance-line'
import { Items } from './items'

/** An airframe weighed together: its centre of gravity against its limits, every part, what else it carries. */
export default function WeightsPage() {
  const { airframe = '' } = useParams()
  const asked = useAirframeWeights(airframe)
  if (asked.error && !asked.data)
    return (
      <Notice tone="stop" className="m-6">
        {asked.error.message}
      </Notice>
    )
  const view = asked.data
  if (!view) return null
  return (
    <div className="mx-auto flex max-w-6xl flex-col gap-7 p-6 max-sm:p-4">
      <header>
        <p className="text-soft">
          <Link to={`/airframe?id=${view.id}`} className="underline">
            {view.name}
          </Link>
        </p>
        <h1 className="font-semibold text-2xl">What it weighs</h1>
      </header>
      <Stages view={view} />
      <BalanceLine view={view} />
      {view.lacks.map((words) => (
        <p key={words} className="text-soft">
          {words}
        </p>
      ))}
      <Parts view={view} />
      <Items view={view} />
      <LimitFields view={view} />
      <p className="text-soft text-sm">{view.caution}</p>
    </div>
  )
}

function Stages({ view }: { view: AirframeWeights }) {
  return (
    <section aria-label="Together" className="grid gap-6 md:grid-cols-3">
      {view.stages.map((stage) => (
        <div key={stage.name} className="flex flex-col border-line border-t-2 pt-2">
          <FigureValue figure={stage.weighs} label={stage.name} />
          {stage.band && <p className="px-2 text-soft text-sm">likely {stage.band}</p>}
          {stage.cg && <FigureValue figure={stage.cg} />}
          <FigureValue figure={stage.moment} />
          <div className="mt-1 flex flex-col gap-2">
            {stage.says.map((one) => (
              <Notice key={one.words} tone={one.holds ? 'ready' : 'care'}>
                {one.words}
              </Notice>
            ))}
          </div>
        </div>
      ))}
    </section>
  )
}

function Parts({ view }: { view: AirframeWeights }) {
  const show = useShow()
  const assemblies = [...new Set(view.parts.map((part) => part.assembly))]
  return (
    <section aria-label="Parts" className="overflow-x-auto">
      <table className="w-full min-w-[42rem]">
        <thead className="text-left text-soft">
          <tr>
            <th className="font-normal">Part</th>
            <th className="px-2 font-normal">Now</th>
            <th className="px-2 font-normal">When done</th>
            <th className="px-2 font-normal">likely</th>
            <th className="px-2 font-normal">aft of the nose</th>
            <th className="px-2 font-normal">Moment</th>
          </tr>
        </thead>
        {assemblies.map((assembly) => (
          <tbody key={assembly}>
            <tr>
              <th colSpan={6} className="pt-3 pb-1 text-left font-semibold">
                {assembly}
              </th>
            </tr>
            {view.parts
              .filter((part) => part.assembly === assembly)
              .map((part) => (
                <tr key={part.id} className="border-line border-t">
                  <td>
                    <Link
                      to={`/part/${part.id}/weight`}
                      className="inline-flex min-h-11 items-center underline"
                    >
                      {part.name}
                    </Link>
                    {part.care.map((words) => (
                      <span
                        key={words}
                        className="edge-stop mb-1 block bg-madder-wash px-3 py-1 text-madder text-sm"
                      >
                        {words}
                      </span>
                    ))}
                  </td>
                  <td className="whitespace-nowrap px-2">{show(part.now.value, 'mass')}</td>
                  <td className="whitespace-nowrap px-2">
                    <FigureValue figure={part.whole} bare />
                  </td>
                  <td className="whitespace-nowrap px-2 text-soft text-sm">
                    {part.band || (part.weighed ? 'weighed' : '')}
                  </td>
                  <td className="whitespace-nowrap px-2">
                    {part.arm ? (
                      <FigureValue figure={part.arm} bare />
                    ) : (
                      <span className="text-soft">no place</span>
                    )}
                  </td>
                  <td className="whitespace-nowrap px-2">
                    {part.moment_kg_m !== null && show(part.moment_kg_m, 'moment')}
                  </td>
                </tr>
              ))}
          </tbody>
        ))}
      </table>
    </section>
  )
}

function LimitFields({ view }: { view: AirframeWeights }) {
  const edit = useEdit(view.version)
  const [open, setOpen] = useState(view.fore_m !== null || view.aft_m !== null)
  const save = (field: string, text: string) =>
    edit.save((version) =>
      answer(
        client.PATCH('/api/v1/airframes/{airframe_id}/limits', {
          params: { path: { airframe_id: view.id } },
          body: { version, texts: { [field]: text } },
        }),
      ),
    )
  if (!open)
    return (
      <Button quiet className="self-start" onClick={() => setOpen(true)}>
        Give its datum and limits
      </Button>
    )
  return (
    <section aria-label="Limits" className="flex flex-col gap-3">
      <h2 className="font-semibold text-lg">Datum and limits</h2>
      <EditProblem edit={edit} shownInFields={view.limits.map((one) => one.field)} />
      <div className="grid items-start gap-3 sm:grid-cols-2 lg:grid-cols-4">
        {view.limits.map((one) => (
          <SavedField
            key={one.field}
            label={`${one.label}, ${one.unit}`}
            saved={one.text}
            problem={edit.problem?.fields[one.field]}
            onSave={(text) => save(one.field, text)}
          />
        ))}
      </div>
    </section>
  )
}
