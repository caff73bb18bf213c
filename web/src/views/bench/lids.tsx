import { Check } from 'lucide-react'
import { Checkbox } from 'radix-ui'
import { useEffect } from 'react'
import { shopMoment } from '@/api/changes'
import type { Bench, Product } from '@/api/client'
import { useLimits } from '@/api/questions'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { OneOf } from '@/ui/one-of'
import { Pick } from '@/ui/pick'
import { TextField } from '@/ui/text-field'
import type { Draft, Use } from './draft'

type Props = {
  bench: Bench
  planned: Product
  product: Product
  draft: Draft
  change: (part: Partial<Draft>) => void
  use: Use
}

/** A lot nobody can name any more. */
export const NOT_KNOWN = 'not known'

/** No weights before both lids were read, and it is said who mixes, of which lots: look-alikes are how mixes go wrong. */
export function Lids({ bench, planned, product, draft, change, use }: Props) {
  const limits = useLimits(product.id, use.partId, use.stepKey).data
  const lots = bench.lots.filter((lot) => lot.data_sheet_id === product.id)
  const ofHardener = lots.filter((lot) => lot.component === 'hardener')
  const ofResin = lots.filter((lot) => lot.component !== 'hardener')
  const other = product.id !== planned.id
  const bad = lots.filter((lot) => lot.state === 'bad' && [draft.lot, draft.hardenerLot].includes(lot.id))
  const missing = [
    !draft.lids.resin && 'the resin’s lid',
    !draft.lids.hardener && 'the hardener’s lid',
    other && !draft.instead && 'that it is another product on purpose',
    ofResin.length > 0 && !draft.lot && 'the lot',
    ofHardener.length > 0 && !draft.hardenerLot && 'the hardener’s lot',
    bad.length > 0 && !draft.note.trim() && 'why a bad lot is used',
    !draft.who && 'who mixes',
  ].filter(Boolean)
  const only = { lot: onlyGood(ofResin), hardenerLot: onlyGood(ofHardener) }
  const [lot, hardenerLot] = [draft.lot || only.lot, draft.hardenerLot || only.hardenerLot]
  useEffect(() => {
    if (lot !== draft.lot || hardenerLot !== draft.hardenerLot) change({ lot, hardenerLot })
  }, [lot, hardenerLot, draft.lot, draft.hardenerLot, change])
  return (
    <div className="flex flex-col gap-4">
      <div className="flex flex-wrap items-end gap-5">
        <div className="w-72">
          <Pick
            label="Product"
            value={product.id}
            choices={bench.products
              .filter((p) => !p.off_shelf || p.id === product.id)
              .map((p) => ({ value: p.id, name: p.name }))}
            onChange={(sheetId) =>
              change({
                sheetId,
                lids: { resin: false, hardener: false },
                instead: false,
                lot: '',
                hardenerLot: '',
              })
            }
          />
        </div>
        <div className="w-52">
          <Pick
            label="Mixed by"
            value={draft.who}
            placeholder="–"
            choices={bench.crew.map((c) => ({ value: c.id, name: c.name }))}
            onChange={(who) => change({ who })}
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
      {other && (
        <Notice tone="stop" className="flex flex-wrap items-center gap-4 text-lg">
          <span className="min-w-64 flex-1">
            This is planned with {planned.name}. Its plies, amounts and times are computed for that, not for{' '}
            {product.name}.
          </span>
          <OneOf
            label={`${product.name} instead, on purpose`}
            value={draft.instead ? 'yes' : ''}
            choices={[{ value: 'yes', name: 'Yes, on purpose' }]}
            onChange={() => change({ instead: true })}
          />
        </Notice>
      )}
      {limits?.against.map((words) => (
        <Notice key={words} tone="stop" className="text-lg">
          {words}
        </Notice>
      ))}
      {limits && limits.against.length === 0 && <p className="text-soft">{limits.words}</p>}
      <h2 className="font-semibold text-2xl">Read both lids. Do they say this?</h2>
      <div className="grid items-start gap-5 sm:grid-cols-2">
        {(['resin', 'hardener'] as const).map((part) => (
          <div key={part} className="flex flex-col gap-3">
            <Checkbox.Root
              checked={draft.lids[part]}
              onCheckedChange={(on) =>
                change({ lids: { ...draft.lids, [part]: on === true }, readAt: shopMoment() })
              }
              className="flex min-h-24 items-center gap-5 border-2 border-line bg-panel px-5 py-4 text-left hover:border-ink data-[state=checked]:border-lichen"
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
            <Lots
              label={part === 'resin' ? 'Lot' : 'Lot of the hardener'}
              lots={part === 'resin' ? ofResin : ofHardener}
              value={part === 'resin' ? draft.lot : draft.hardenerLot}
              onChange={(id) => change(part === 'resin' ? { lot: id } : { hardenerLot: id })}
            />
          </div>
        ))}
      </div>
      {bad.length > 0 && (
        <TextField
          label="Why a lot that was found bad is used all the same"
          value={draft.note}
          onChange={(note) => change({ note })}
        />
      )}
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
      <div className="flex flex-wrap items-center gap-4">
        <Button big disabled={missing.length > 0} onClick={() => change({ ready: true })}>
          To the scale
        </Button>
        {missing.length > 0 && <p className="text-lg">Still to say: {missing.join(', ')}.</p>}
      </div>
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

const onlyGood = (lots: Bench['lots']) => {
  const good = lots.filter((lot) => lot.state === 'good')
  return good.length === 1 ? (good[0]?.id ?? '') : ''
}

type LotsProps = { label: string; lots: Bench['lots']; value: string; onChange: (id: string) => void }

/** The lots there are, good ones first; what is wrong with one stands in its name. */
function Lots({ label, lots, value, onChange }: LotsProps) {
  if (lots.length === 0) return null
  const chosen = lots.find((lot) => lot.id === value)
  const said = { good: '', expired: 'expired: ', bad: 'BAD: ' }
  return (
    <>
      <Pick
        label={label}
        value={value}
        placeholder="Choose the lot"
        choices={[
          ...lots.map((lot) => ({ value: lot.id, name: said[lot.state] + lot.name })),
          { value: NOT_KNOWN, name: 'It is not known' },
        ]}
        onChange={onChange}
      />
      {chosen?.care && (
        <Notice tone={chosen.state === 'bad' ? 'stop' : 'care'} className="first-letter:uppercase">
          {chosen.care}.
        </Notice>
      )}
    </>
  )
}
