import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link, useSearchParams } from 'react-router'
import { answer, type Bench, client, type Product } from '@/api/client'
import { useAirframe, useBench, useMix } from '@/api/questions'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { Pick } from '@/ui/pick'
import { TextField } from '@/ui/text-field'
import { type Use, useDraft } from './draft'
import { InUse } from './in-use'
import { Lids } from './lids'
import { PourScreen } from './pour-screen'
import { PumpForm } from './pump-form'

/** The mixing bench: for which part and step, then the lids, then the pour. */
export default function BenchPage() {
  const [query, setQuery] = useSearchParams()
  const bench = useBench()
  const airframe = useAirframe()
  const parts = airframe.data?.assemblies.flatMap((assembly) => assembly.parts) ?? []
  const partId = query.get('part') ?? ''
  const stepKey = query.get('step') ?? ''
  const purpose = query.get('purpose') ?? ''
  const mix = useMix(partId, stepKey ? { step: stepKey } : {})
  const all = useMix(partId)
  const failed = (bench.data ? null : bench.error) ?? (mix.data ? null : mix.error)
  if (failed)
    return (
      <Notice tone="stop" className="m-6">
        {failed.message}
      </Notice>
    )
  if (!bench.data || !airframe.data) return null
  const batch = query.get('batch') ?? ''
  if (batch)
    return (
      <div className="mx-auto max-w-6xl px-6 py-4">
        <InUse batchId={batch} />
      </div>
    )
  const product = bench.data.products.find((p) => p.id === query.get('product'))
  const need = mix.data?.needs.find((n) => n.step_key === stepKey)
  return (
    <div className="mx-auto flex max-w-6xl flex-col gap-4 px-6 py-4">
      <div className="flex flex-wrap items-end gap-4">
        <h1 className="mr-2 pb-1.5 font-semibold text-2xl">Mix for</h1>
        <div className="w-72">
          <Pick
            label="For the part"
            hideLabel
            value={partId}
            placeholder="Choose a part"
            choices={parts.map((s) => ({ value: s.id, name: s.name }))}
            onChange={(part) => setQuery({ part })}
          />
        </div>
        {all.data && (
          <div className="w-72">
            <Pick
              label="and the step"
              hideLabel
              value={stepKey}
              placeholder="Choose a step"
              choices={all.data.needs.map((n) => ({ value: n.step_key, name: n.step_name }))}
              onChange={(step) => setQuery({ part: partId, step })}
            />
          </div>
        )}
        {partId && (
          <Link to={`/part/${partId}/mix`} className="ml-auto inline-flex min-h-11 items-center underline">
            Back to the part
          </Link>
        )}
      </div>
      {mix.data && need && !product && !mix.data.product ? (
        <Notice tone="care">
          No product was chosen for this step yet: open the part and choose one, or start from a product.
        </Notice>
      ) : mix.data && need ? (
        <Cup
          key={`${partId}${stepKey}${product?.id}`}
          bench={bench.data}
          use={{
            partId,
            stepKey,
            purpose: '',
            leftG: need.figures.length > 0 ? need.left_g : null,
            pace: need.spread ?? '',
          }}
          planned={mix.data.product}
          productId={product?.id ?? mix.data.product?.id ?? ''}
          asked={product !== undefined}
        />
      ) : product && purpose ? (
        <>
          <p className="text-xl">
            For no planned step: <span className="font-semibold">{purpose}</span>.
          </p>
          <Cup
            key={`${purpose}${product.id}`}
            bench={bench.data}
            use={{ partId: '', stepKey: purpose, purpose, leftG: null, pace: '' }}
            planned={product}
            productId={product.id}
            asked
          />
        </>
      ) : product ? (
        <UsesOf
          product={product}
          onUse={(part, step) => setQuery({ part, step, product: product.id })}
          onPurpose={(words) => setQuery({ product: product.id, purpose: words })}
        />
      ) : (
        <StartFrom products={bench.data.products} onProduct={(id) => setQuery({ product: id })} />
      )}
    </div>
  )
}

/** A product on the shelf, where no step was chosen yet. */
function StartFrom({ products, onProduct }: { products: Product[]; onProduct: (id: string) => void }) {
  return (
    <section className="flex flex-col gap-2">
      <p className="text-lg text-soft">
        Choose what the mix is for; the amount and the product follow from it. Or start from a product:
      </p>
      <ul className="border-line border-t">
        {products
          .filter((product) => !product.off_shelf)
          .map((product) => (
            <li key={product.id} className="border-line border-b">
              <button
                type="button"
                onClick={() => onProduct(product.id)}
                className="grid min-h-14 w-full items-center gap-x-5 px-3 py-2 text-left hover:bg-panel sm:grid-cols-[1.2fr_1fr] lg:grid-cols-[17rem_14rem_1fr]"
              >
                <span className="font-semibold text-lg">{product.name}</span>
                <span>{product.ratio}</span>
                <span className="text-soft sm:max-lg:col-span-2">{product.pot_life}</span>
              </button>
            </li>
          ))}
      </ul>
    </section>
  )
}

/** What a product could go on now: the lid's code opens this. */
function UsesOf({
  product,
  onUse,
  onPurpose,
}: {
  product: Product
  onUse: (part: string, step: string) => void
  onPurpose: (words: string) => void
}) {
  const uses = useQuery({
    queryKey: ['uses', product.id],
    queryFn: () =>
      answer(client.GET('/api/v1/bench/{sheet_id}/uses', { params: { path: { sheet_id: product.id } } })),
  })
  if (!uses.data) return null
  return (
    <section className="flex flex-col gap-3">
      <p className="text-xl">
        <span className="font-semibold">{product.name}</span>, {product.ratio}.{' '}
        <span className="text-soft">{product.pot_life}</span>
      </p>
      {product.pumps.map((words) => (
        <p key={words}>{words}</p>
      ))}
      {uses.data.uses.length === 0 ? (
        <p className="text-lg">
          No step that is still to do is planned with it. Choose a part above, or what else it is for.
        </p>
      ) : (
        <h2 className="font-semibold text-lg">What is it for?</h2>
      )}
      <ul>
        {uses.data.uses.map((use) => (
          <li key={use.part_id + use.step_key} className="border-line border-t">
            <button
              type="button"
              onClick={() => onUse(use.part_id, use.step_key)}
              className="min-h-14 w-full py-2 text-left hover:bg-panel"
            >
              <span className="font-semibold text-lg">{use.part}</span>
              <span className="text-soft">
                {' '}
                · {use.step}: {use.words}
              </span>
            </button>
          </li>
        ))}
      </ul>
      <NoStep onPurpose={onPurpose} />
      <PumpForm product={product} />
    </section>
  )
}

/** A mix for no planned step: it is kept, with its lots, and on nothing. */
function NoStep({ onPurpose }: { onPurpose: (words: string) => void }) {
  const [words, setWords] = useState('')
  return (
    <section aria-label="For no planned step" className="flex flex-wrap items-end gap-3">
      <h2 className="w-full font-semibold text-lg">For no planned step</h2>
      {['A coupon', 'A repair', 'A jig or fixture'].map((name) => (
        <Button key={name} quiet onClick={() => onPurpose(name)}>
          {name}
        </Button>
      ))}
      <TextField
        label="Something else"
        value={words}
        onChange={setWords}
        className="w-64"
        onKeyDown={(event) => event.key === 'Enter' && words.trim() && onPurpose(words.trim())}
      />
      <Button quiet disabled={!words.trim()} onClick={() => onPurpose(words.trim())}>
        Mix for that
      </Button>
    </section>
  )
}

type CupProps = {
  bench: Bench
  use: Use
  /** What its step is planned with. */
  planned: Product | null
  productId: string
  asked: boolean
}

function Cup({ bench, use, planned, productId, asked }: CupProps) {
  const { draft, change, restart } = useDraft(use.partId, productId, use.stepKey, asked, bench.lids_min)
  const product = bench.products.find((p) => p.id === draft.sheetId) ?? planned
  if (!product) return null
  if (draft.kept) return <InUse batchId={draft.kept} onNext={restart} />
  return draft.ready && draft.lids.resin && draft.lids.hardener ? (
    <PourScreen
      bench={bench}
      use={use}
      product={product}
      draft={draft}
      change={change}
      onStartAgain={restart}
    />
  ) : (
    <Lids
      bench={bench}
      planned={planned ?? product}
      product={product}
      draft={draft}
      change={change}
      use={use}
    />
  )
}
