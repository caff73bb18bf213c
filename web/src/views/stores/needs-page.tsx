import { useState } from 'react'
import { Link, useSearchParams } from 'react-router'
import type { NeedsView } from '@/api/client'
import { useNeeds } from '@/api/questions'
import { stepAddress } from '@/app/step-address'
import { Button, ButtonLink } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { Pick } from '@/ui/pick'
import { NeedDays } from '@/weave/need-days'
import { NeedLines } from './need-lines'
import { StoresHead } from './stores-head'

const ALL = 'all'

/** What every step ahead takes, by day from the plan; what of it is there, what comes, and what will be missed. */
export default function NeedsPage() {
  const [params, setParams] = useSearchParams()
  const [days, setDays] = useState(14)
  const of = (name: string) => params.get(name) ?? ''
  const asked = useNeeds(of('airframe'), of('assembly'), of('part'), days)
  const picked = of('ware')
  const view = asked.data
  if (asked.error && !view)
    return (
      <Notice tone="stop" className="m-6">
        {asked.error.message}
      </Notice>
    )
  if (!view) return null
  const put = (name: string, value: string) => {
    const next = new URLSearchParams(params)
    if (value === ALL || value === '') next.delete(name)
    else next.set(name, value)
    if (name === 'airframe') next.delete('assembly')
    if (name !== 'part' && name !== 'ware') next.delete('part')
    setParams(next, { replace: true })
  }
  const stopped = view.wares.find((ware) => ware.ware === picked)
  const short = view.wares.filter((ware) => ware.first)
  return (
    <div className="mx-auto flex max-w-7xl flex-col gap-5 p-6 max-sm:p-4">
      <StoresHead>
        <Narrow view={view} of={of} put={put} />
      </StoresHead>
      {view.ask && <Notice tone="care">{view.ask}</Notice>}
      <div className="flex flex-wrap items-center justify-between gap-4">
        <h1 className="text-xl">{view.words}</h1>
        {short.length > 0 && <ButtonLink to="/stores/order">What to order</ButtonLink>}
      </div>
      <NeedDays view={view} picked={picked} onPick={(ware) => put('ware', ware === picked ? '' : ware)} />
      <div className="flex flex-wrap items-center gap-4">
        {view.more_days > 0 && (
          <Button quiet onClick={() => setDays(days + 28)}>
            {view.more_days} more days
          </Button>
        )}
      </div>
      {stopped?.first && (
        <p>
          <Link className="underline" to={stepAddress(stopped.part_id, stopped.step_key)}>
            First missed {stopped.first}
          </Link>
          . {stopped.stops}
        </p>
      )}
      <NeedLines view={view} ware={picked} />
    </div>
  )
}

function Narrow({
  view,
  of,
  put,
}: {
  view: NeedsView
  of: (name: string) => string
  put: (name: string, value: string) => void
}) {
  const choices = (all: string, rows: { id: string; name: string }[]) => [
    { value: ALL, name: all },
    ...rows.map(({ id, name }) => ({ value: id, name })),
  ]
  return (
    <>
      {view.airframes.length > 1 && (
        <div className="w-44">
          <Pick
            label="Of which airframe"
            hideLabel
            value={of('airframe') || ALL}
            choices={choices('All airframes', view.airframes)}
            onChange={(value) => put('airframe', value)}
          />
        </div>
      )}
      {view.assemblies.length > 1 && (
        <div className="w-44">
          <Pick
            label="Of which assembly"
            hideLabel
            value={of('assembly') || ALL}
            choices={choices('All assemblies', view.assemblies)}
            onChange={(value) => put('assembly', value)}
          />
        </div>
      )}
      <div className="w-56">
        <Pick
          label="Of which part"
          hideLabel
          value={of('part') || ALL}
          choices={choices('All parts', view.parts)}
          onChange={(value) => put('part', value)}
        />
      </div>
    </>
  )
}
