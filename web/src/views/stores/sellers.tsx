import { useState } from 'react'
import { answer, client, newId, type OrdersView } from '@/api/client'
import { useKeep } from '@/api/keep'
import { useUnitOf } from '@/app/formats'
import { typedNumber } from '@/app/typed-number'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { Pick } from '@/ui/pick'
import { SideSheet } from '@/ui/side-sheet'
import { TextField } from '@/ui/text-field'

type Seller = OrdersView['sellers'][number]
type Offer = Seller['offers'][number]

/** Who sells what, in which packs, at which price of which day. */
export function Sellers({ view, fresh }: { view: OrdersView; fresh: boolean }) {
  const [seller, setSeller] = useState<Seller | 'new' | null>(
    fresh && view.sellers.length === 0 ? 'new' : null,
  )
  const [offer, setOffer] = useState<{ seller: Seller; offer: Offer | null } | null>(null)
  return (
    <section aria-label="Who sells" className="flex flex-col gap-4">
      <div className="flex flex-wrap items-end justify-between gap-3">
        <h2 className="font-semibold text-xl">Who sells</h2>
        <Button quiet onClick={() => setSeller('new')}>
          Another seller…
        </Button>
      </div>
      {view.sellers.map((one) => (
        <div key={one.id} className="border-2 border-line bg-panel p-4">
          <div className="flex flex-wrap items-start justify-between gap-3">
            <div>
              <h3 className="font-semibold text-lg">{one.name}</h3>
              <p className="text-soft tabular-nums">
                Parcel {one.postage} {one.currency}
                {one.free_from && `, free from ${one.free_from}`}
              </p>
            </div>
            <div className="flex gap-2">
              <Button quiet onClick={() => setOffer({ seller: one, offer: null })}>
                Another pack…
              </Button>
              <Button quiet onClick={() => setSeller(one)}>
                Change…
              </Button>
            </div>
          </div>
          <ul className="mt-2">
            {one.offers.map((row) => (
              <li key={row.id} className="border-line border-t">
                <button
                  type="button"
                  onClick={() => setOffer({ seller: one, offer: row })}
                  className="grid min-h-11 w-full items-center gap-x-4 py-1 text-left hover:underline sm:grid-cols-[1.4fr_1fr_8rem_7rem_8rem]"
                >
                  <span className="font-semibold">{row.name}</span>
                  <span>{row.words}</span>
                  <span className="tabular-nums sm:text-right">
                    {row.price} {one.currency}
                  </span>
                  <span className="text-soft">{row.lead_days} days</span>
                  <span className="text-soft">{row.seen}</span>
                </button>
              </li>
            ))}
          </ul>
        </div>
      ))}
      {seller && (
        <SellerSheet
          key={seller === 'new' ? 'new' : seller.id}
          seller={seller === 'new' ? null : seller}
          currency={view.currency}
          onClose={() => setSeller(null)}
        />
      )}
      {offer && (
        <OfferSheet
          key={offer.offer?.id ?? 'new'}
          seller={offer.seller}
          offer={offer.offer}
          view={view}
          onClose={() => setOffer(null)}
        />
      )}
    </section>
  )
}

type SellerProps = { seller: Seller | null; currency: string; onClose: () => void }

function SellerSheet({ seller, currency, onClose }: SellerProps) {
  const { keep, fields, says } = useKeep(['name', 'currency', 'postage', 'free_from'])
  const [id] = useState(seller?.id ?? newId)
  const [typed, setTyped] = useState({
    name: seller?.name ?? '',
    currency: seller?.currency ?? currency,
    postage: seller?.postage ?? '0',
    free: seller?.free_from ?? '',
  })
  const say = async () => {
    const number = (text: string) => ({ text, unit: '' })
    const body = {
      id,
      version: seller?.version ?? 0,
      name: typed.name,
      currency: typed.currency,
      postage: number(typed.postage),
      free_from: typed.free.trim() ? number(typed.free) : null,
    }
    if (await keep(() => answer(client.POST('/api/v1/suppliers', { body })))) onClose()
  }
  const put = (part: Partial<typeof typed>) => setTyped({ ...typed, ...part })
  return (
    <SideSheet open onClose={onClose} title={seller?.name ?? 'Who sells'}>
      <div className="flex flex-col gap-4">
        <TextField label="Name" value={typed.name} problem={fields.name} onChange={(name) => put({ name })} />
        <TextField
          label="Prices in"
          value={typed.currency}
          problem={fields.currency}
          onChange={(text) => put({ currency: text })}
        />
        <TextField
          label="A parcel costs"
          unit={typed.currency}
          inputMode="decimal"
          value={typed.postage}
          problem={fields.postage}
          onChange={(postage) => put({ postage })}
        />
        <TextField
          label="Free from, where it is"
          unit={typed.currency}
          inputMode="decimal"
          value={typed.free}
          problem={fields.free_from}
          onChange={(free) => put({ free })}
        />
        {says && <Notice tone="stop">{says}</Notice>}
        <Button onClick={() => void say()}>Keep</Button>
      </div>
    </SideSheet>
  )
}

type OfferProps = { seller: Seller; offer: Offer | null; view: OrdersView; onClose: () => void }

function OfferSheet({ seller, offer, view, onClose }: OfferProps) {
  const { keep, fields, says } = useKeep(['words', 'amount', 'price', 'lead_days'])
  const unitOf = useUnitOf()
  const [id] = useState(offer?.id ?? newId)
  const [typed, setTyped] = useState({
    ware: offer?.ware ?? '',
    words: offer?.words ?? '',
    amount: offer?.amount ?? '',
    price: offer?.price ?? '',
    days: offer ? String(offer.lead_days) : '',
  })
  const measure = view.wares.find((ware) => ware.id === typed.ware)?.measure ?? 'mass'
  const unit = measure === 'count' ? '' : unitOf(measure)
  const say = async (away: boolean) => {
    const body = {
      id,
      version: offer?.version ?? 0,
      supplier_id: seller.id,
      ware: typed.ware,
      words: typed.words,
      amount: { text: typed.amount, unit },
      price: { text: typed.price, unit: '' },
      lead_days: typedNumber(typed.days),
      away,
    }
    if (await keep(() => answer(client.POST('/api/v1/offers', { body })))) onClose()
  }
  const put = (part: Partial<typeof typed>) => setTyped({ ...typed, ...part })
  return (
    <SideSheet open onClose={onClose} title={`A pack of ${seller.name}`}>
      <div className="flex flex-col gap-4">
        {offer ? (
          <p className="font-semibold">{offer.name}</p>
        ) : (
          <Pick
            label="Of what"
            value={typed.ware}
            placeholder="Choose…"
            choices={view.wares.map(({ id: value, name }) => ({ value, name }))}
            onChange={(ware) => put({ ware })}
          />
        )}
        <TextField
          label="The pack, as they write it"
          value={typed.words}
          problem={fields.words}
          onChange={(words) => put({ words })}
        />
        <TextField
          label={measure === 'count' ? 'Pieces in it' : 'Holds'}
          unit={unit}
          value={typed.amount}
          problem={fields.amount}
          onChange={(amount) => put({ amount })}
        />
        <TextField
          label="Price, today"
          unit={seller.currency}
          inputMode="decimal"
          value={typed.price}
          problem={fields.price}
          onChange={(price) => put({ price })}
        />
        <TextField
          label="Comes within"
          unit="days"
          inputMode="numeric"
          value={typed.days}
          problem={fields.lead_days}
          onChange={(days) => put({ days })}
        />
        {says && <Notice tone="stop">{says}</Notice>}
        <div className="flex gap-2">
          <Button disabled={!typed.ware} onClick={() => void say(false)}>
            Keep
          </Button>
          {offer && (
            <Button quiet onClick={() => void say(true)}>
              Not sold any more
            </Button>
          )}
        </div>
      </div>
    </SideSheet>
  )
}
