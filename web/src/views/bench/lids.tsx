import { Check } from 'lucide-react'
import { Checkbox } from 'radix-ui'
import type { Bench, Product } from '@/api/client'
import { useLimits } from '@/api/questions'
import { Notice } from '@/ui/notice'
import { Pick } from '@/ui/pick'
import type { Draft } from './draft'

type Props = {
  bench: Bench
  planned: Product
  product: Product
  draft: Draft
  change: (part: Partial<Draft>) => void
  partId: string
  stepKey: string
}

/** No weights before both lids were read: look-alikes are how mixes go wrong. */
export function Lids({ bench, planned, product, draft, change, partId, stepKey }: Props) {
  const limits = useLimits(product.id, partId, stepKey).data
  return (
    <div className="flex flex-col gap-5">
      <div className="flex flex-wrap items-end gap-6">
        <div className="w-80">
          <Pick
            label="Product"
            value={product.id}
            choices={bench.products
              .filter((p) => !p.off_shelf || p.id === product.id)
              .map((p) => ({ value: p.id, name: p.name }))}
            onChange={(sheetId) => change({ sheetId, lids: { resin: false, hardener: false } })}
          />
        </div>
        <p className="pb-2.5">
          <span className="font-semibold">{product.ratio}</span>
          <span className="text-soft"> · {product.pot_life}</span>
        </p>
      </div>
      {product.off_shelf && (
        <Notice tone="care">
          {product.name} was taken off the shelf. An open cup of it can still be finished; put the sheet back
          under Stores.
        </Notice>
      )}
      {product.id !== planned.id && (
        <Notice tone="care">
          This part is planned with {planned.name}. Its plies and times are computed for that.
        </Notice>
      )}
      {limits?.against.map((words) => (
        <Notice key={words} tone="stop" className="text-lg">
          {words}
        </Notice>
      ))}
      {limits && limits.against.length === 0 && <p className="text-soft">{limits.words}</p>}
      <h2 className="font-semibold text-2xl">Read both lids. Do they say this?</h2>
      <div className="grid gap-5 sm:grid-cols-2">
        {(['resin', 'hardener'] as const).map((part) => (
          <Checkbox.Root
            key={part}
            checked={draft.lids[part]}
            onCheckedChange={(on) => change({ lids: { ...draft.lids, [part]: on === true } })}
            className="flex min-h-40 items-center gap-5 border-2 border-line bg-panel p-6 text-left hover:border-ink data-[state=checked]:border-lichen"
          >
            <span className="grid size-14 shrink-0 place-items-center border-2 border-ink">
              <Checkbox.Indicator>
                <Check aria-hidden size={44} className="text-lichen" />
              </Checkbox.Indicator>
            </span>
            <span>
              <span className="block text-soft">{part === 'resin' ? 'Resin lid' : 'Hardener lid'}</span>
              <span className="block font-semibold text-3xl">
                {part === 'resin' ? product.resin_lid : product.hardener_lid}
              </span>
            </span>
          </Checkbox.Root>
        ))}
      </div>
      {product.at_hand.length > 0 && (
        <Notice tone="stop" className="text-lg">
          <span className="font-semibold">Its look-alike is on the bench:</span> {product.at_hand.join('; ')}.
          Read the lids aloud.
        </Notice>
      )}
      {product.look_alikes.length > 0 && (
        <Notice tone="care">
          <span className="font-semibold">Looks alike, mixes differently:</span>{' '}
          {product.look_alikes.join('; ')}.
        </Notice>
      )}
      <p className="max-w-3xl">
        {product.hazards.length > 0 && <span className="font-semibold">{product.hazards.join('. ')}. </span>}
        {bench.caution}
      </p>
      {product.assumed.length > 0 && (
        <ul className="border-weld border-l-6 border-dotted pl-3 text-soft">
          {product.assumed.map((words) => (
            <li key={words}>{words}</li>
          ))}
        </ul>
      )}
    </div>
  )
}
