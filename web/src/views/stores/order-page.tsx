import { useState } from 'react'
import { Link } from 'react-router'
import { answer, client, type OrderList, type ToOrder } from '@/api/client'
import { useKeep } from '@/api/keep'
import { useOrderList } from '@/api/questions'
import { stepAddress } from '@/app/step-address'
import { Button, ButtonLink } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { Buying } from './buying'
import { StoresHead } from './stores-head'

type Group = OrderList['today'][number]
const EDGE = { late: 'edge-stop', today: 'edge-care', soon: 'edge-wait', later: '' } as const

/** What to order today, from whom, in which packs; what is due later; what nobody is known to sell. */
export default function OrderPage() {
  const asked = useOrderList()
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
      <StoresHead>
        <Buying />
      </StoresHead>
      {view.ask && <Notice tone="care">{view.ask}</Notice>}
      <h1 className="text-xl">
        {view.words} {view.today.length > 0 && `Together ${view.total}, parcels included.`}
      </h1>
      {view.today.map((group) => (
        <Seller key={group.supplier_id} group={group} />
      ))}
      {view.later.length > 0 && (
        <section aria-label="Later">
          <h2 className="mb-1 font-semibold text-xl">Later</h2>
          <Lines lines={view.later} />
        </section>
      )}
      {view.unsold.length > 0 && (
        <section aria-label="Nobody is known to sell">
          <h2 className="mb-1 font-semibold text-xl">Nobody is known to sell</h2>
          <Lines lines={view.unsold} />
          <ButtonLink quiet className="mt-3" to="/stores/orders?sell=new">
            Say who sells it
          </ButtonLink>
        </section>
      )}
      {view.uncounted.length > 0 && (
        <p className="text-soft">
          Not counted, so nobody knows whether it lasts: {view.uncounted.join(', ')}. Count it on its sheet.
        </p>
      )}
    </div>
  )
}

function Seller({ group }: { group: Group }) {
  const { keep, says } = useKeep()
  const [along, setAlong] = useState(false)
  const [busy, setBusy] = useState(false)
  const order = async () => {
    setBusy(true)
    const lines = [...group.lines, ...(along ? group.along : [])].flatMap((line) =>
      line.packs.map((packs) => ({
        id: packs.order_id,
        offer_id: packs.offer_id,
        packs: packs.count,
        ordered: true,
        expected_on: null,
      })),
    )
    if (!(await keep(() => answer(client.POST('/api/v1/orders', { body: { lines } }))))) setBusy(false)
  }
  const paper = (form: string) => `/api/v1/order-list/file?supplier=${group.supplier_id}&form=${form}`
  return (
    <section aria-label={group.name} className="flex flex-col gap-3 border-2 border-line bg-panel p-5">
      <div className="flex flex-wrap items-start justify-between gap-x-6 gap-y-2">
        <div>
          <h2 className="font-semibold text-2xl">{group.name}</h2>
          <p className="text-soft tabular-nums">
            Goods {group.goods}, parcel {group.postage}: <strong className="text-ink">{group.total}</strong>
          </p>
        </div>
        <div className="flex flex-wrap gap-2">
          {[
            ['pdf', 'Order sheet'],
            ['mail', 'Mail text'],
            ['csv', 'Table'],
          ].map(([form = '', name]) => (
            <a
              key={form}
              href={paper(form)}
              target="_blank"
              rel="noreferrer"
              className="inline-flex min-h-11 items-center border-2 border-line bg-panel px-4 font-semibold hover:border-ink"
            >
              {name}
            </a>
          ))}
          <Button disabled={busy} onClick={() => void order()}>
            It is ordered
          </Button>
        </div>
      </div>
      <Lines lines={group.lines} alone />
      {group.along.length > 0 && (
        <div className="border-line border-t pt-3">
          <label className="flex min-h-11 items-center gap-3">
            <input
              type="checkbox"
              checked={along}
              onChange={() => setAlong(!along)}
              className="size-6 accent-ink"
            />
            <span>
              Order with it: {group.along.map((line) => line.name).join(', ')}. {group.along_words}
            </span>
          </label>
        </div>
      )}
      {says && <Notice tone="stop">{says}</Notice>}
    </section>
  )
}

/** What is short and what covers it; `alone` where all of it is from one seller. */
function Lines({ lines, alone }: { lines: ToOrder[]; alone?: boolean }) {
  return (
    <ul className="border-line border-t">
      {lines.map((line) => (
        <li
          key={`${line.ware}/${line.order_by}/${line.packs.map((packs) => packs.offer_id).join()}`}
          className={`grid gap-x-5 gap-y-0.5 border-line border-b bg-panel px-3 py-2 sm:grid-cols-[1fr_1.7fr_7rem] ${EDGE[line.urgency]}`}
        >
          <div>
            <p className="font-semibold text-lg">{line.name}</p>
            <p className="text-madder">{line.short} short</p>
          </div>
          <div>
            {line.packs.map((packs) => (
              <p key={packs.offer_id}>
                <span className="font-semibold">
                  {packs.count} × {packs.words}
                  {!alone && `, ${packs.seller}`}
                </span>
                <span className="text-soft tabular-nums"> {packs.price}</span>
              </p>
            ))}
            {line.left_over && <p className="text-soft">{line.left_over} left over</p>}
            {line.words && <p>{line.words}</p>}
            <Link className="text-soft underline" to={stepAddress(line.part_id, line.step_key)}>
              First missed {line.first}
            </Link>
            <p className="text-soft">{line.stops}</p>
          </div>
          <p className="font-semibold sm:text-right">
            {line.order_by_words &&
              (line.urgency === 'late' ? line.order_by_words : `by ${line.order_by_words}`)}
          </p>
        </li>
      ))}
    </ul>
  )
}
