import { useState } from 'react'
import { Link, useSearchParams } from 'react-router'
import type { Bench, MixView } from '@/api/client'
import { useAirframe, useBench, useMix } from '@/api/questions'
import { Button, ButtonLink } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { Pick } from '@/ui/pick'
import { useDraft } from './draft'
import { Lids } from './lids'
import { PourScreen } from './pour-screen'

/** The mixing bench: for which surface and step, then the lids, then the pour. */
export default function MixPage() {
  const [query, setQuery] = useSearchParams()
  const bench = useBench()
  const airframe = useAirframe()
  const surfaces = airframe.data?.assemblies.flatMap((assembly) => assembly.surfaces) ?? []
  const surfaceId = query.get('surface') ?? ''
  const mix = useMix(surfaceId)
  const stepKey = query.get('step') ?? ''
  const failed = (bench.data ? null : bench.error) ?? (mix.data ? null : mix.error)
  if (failed)
    return (
      <Notice tone="stop" className="m-6">
        {failed.message}
      </Notice>
    )
  if (!bench.data || !airframe.data) return null
  const need = mix.data?.needs.find((n) => n.step_key === stepKey)
  return (
    <div className="mx-auto flex max-w-6xl flex-col gap-4 px-6 py-4">
      <div className="flex flex-wrap items-end gap-4">
        <h1 className="mr-2 pb-1.5 font-semibold text-2xl">Mix for</h1>
        <div className="w-72">
          <Pick
            label="For the surface"
            hideLabel
            value={surfaceId}
            placeholder="Choose a surface"
            choices={surfaces.map((s) => ({ value: s.id, name: s.name }))}
            onChange={(surface) => setQuery({ surface })}
          />
        </div>
        {mix.data && (
          <div className="w-72">
            <Pick
              label="and the step"
              hideLabel
              value={stepKey}
              placeholder="Choose a step"
              choices={mix.data.needs.map((n) => ({ value: n.step_key, name: n.step_name }))}
              onChange={(step) => setQuery({ surface: surfaceId, step })}
            />
          </div>
        )}
        {surfaceId && (
          <Link
            to={`/surface/${surfaceId}/mix`}
            className="ml-auto inline-flex min-h-11 items-center underline"
          >
            Back to the surface
          </Link>
        )}
      </div>
      {mix.data && need ? (
        <Cup key={`${surfaceId}${stepKey}`} bench={bench.data} mix={mix.data} need={need} />
      ) : (
        <p className="text-lg text-soft">
          Choose what the mix is for; the amount and the product follow from it.
        </p>
      )}
    </div>
  )
}

type CupProps = { bench: Bench; mix: MixView; need: MixView['needs'][number] }

function Cup({ bench, mix, need }: CupProps) {
  const { draft, change, restart } = useDraft(mix.surface_id, mix.product.id, need.step_key)
  const [kept, setKept] = useState('')
  const product = bench.products.find((p) => p.id === draft.sheetId) ?? mix.product
  if (kept) {
    return (
      <div className="flex flex-col items-start gap-5">
        <Notice tone="ready" className="text-xl">
          Kept: {kept}
        </Notice>
        <p>Leave the rest of the cup beside the part, marked with the batch: it is the witness.</p>
        <div className="flex gap-4">
          <Button
            big
            onClick={() => {
              restart()
              setKept('')
            }}
          >
            Next cup
          </Button>
          <ButtonLink big quiet to={`/surface/${mix.surface_id}/steps`}>
            When does it cure?
          </ButtonLink>
        </div>
      </div>
    )
  }
  const read = draft.lids.resin && draft.lids.hardener
  return read ? (
    <PourScreen
      bench={bench}
      mix={mix}
      need={need}
      product={product}
      draft={draft}
      change={change}
      onKept={(words) => setKept(words)}
      onStartAgain={restart}
    />
  ) : (
    <Lids bench={bench} planned={mix.product} product={product} draft={draft} change={change} />
  )
}
