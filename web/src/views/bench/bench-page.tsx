import { useQuery } from '@tanstack/react-query'
import { Link, useSearchParams } from 'react-router'
import { answer, type Bench, client, type MixView, type Product } from '@/api/client'
import { useAirframe, useBench, useMix } from '@/api/questions'
import { Notice } from '@/ui/notice'
import { Pick } from '@/ui/pick'
import { useDraft } from './draft'
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
          mix={mix.data}
          need={need}
          productId={product?.id ?? mix.data.product?.id ?? ''}
          asked={product !== undefined}
        />
      ) : product ? (
        <UsesOf product={product} onUse={(part, step) => setQuery({ part, step, product: product.id })} />
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
                className="grid min-h-14 w-full items-center gap-x-5 px-3 py-2 text-left hover:bg-panel sm:grid-cols-[17rem_14rem_1fr]"
              >
                <span className="font-semibold text-lg">{product.name}</span>
                <span>{product.ratio}</span>
                <span className="text-soft">{product.pot_life}</span>
              </button>
            </li>
          ))}
      </ul>
    </section>
  )
}

/** What a product could go on now: the lid's code opens this. */
function UsesOf({ product, onUse }: { product: Product; onUse: (part: string, step: string) => void }) {
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
        <p className="text-lg">No step that is still to do is planned with it. Choose a part above.</p>
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
      <PumpForm product={product} />
    </section>
  )
}

type CupProps = {
  bench: Bench
  mix: MixView
  need: MixView['needs'][number]
  productId: string
  asked: boolean
}

function Cup({ bench, mix, need, productId, asked }: CupProps) {
  const { draft, change, restart } = useDraft(mix.part_id, productId, need.step_key, asked)
  const product = bench.products.find((p) => p.id === draft.sheetId) ?? mix.product
  if (!product) return null
  if (draft.kept) return <InUse batchId={draft.kept} onNext={restart} />
  const read = draft.lids.resin && draft.lids.hardener
  return read ? (
    <PourScreen
      bench={bench}
      mix={mix}
      need={need}
      product={product}
      draft={draft}
      change={change}
      onStartAgain={restart}
    />
  ) : (
    <Lids
      bench={bench}
      planned={mix.product ?? product}
      product={product}
      draft={draft}
      change={change}
      partId={mix.part_id}
      stepKey={need.step_key}
    />
  )
}
