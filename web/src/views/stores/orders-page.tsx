import { useState } from 'react'
import { useSearchParams } from 'react-router'
import { answer, client, newId, type OrderRow, type OrdersView } from '@/api/client'
import { useKeep } from '@/api/keep'
import { useOrders } from '@/api/questions'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { Answers } from './answers'
import { Arrival } from './arrival'
import { Sellers } from './sellers'
import { StoresHead } from './stores-head'

const EDGE: Record<OrderRow['state'], string> = {
  'to order': 'edge-care',
  ordered: 'edge-wait',
  'part received': 'edge-care',
  wrong: 'edge-stop',
  received: 'edge-ready',
  cancelled: '',
}

/** The board of orders: what is to be ordered, on its way, came in part, wrong, and whole; and who sells what. */
export default function OrdersPage() {
  const asked = useOrders()
  const [params, setParams] = useSearchParams()
  const view = asked.data
  if (asked.error && !view)
    return (
      <Notice tone="stop" className="m-6">
        {asked.error.message}
      </Notice>
    )
  if (!view) return null
  const open = view.orders.find((order) => order.id === params.get('order'))
  const live = view.orders.filter((order) => !['received', 'cancelled'].includes(order.state))
  const over = view.orders.filter((order) => ['received', 'cancelled'].includes(order.state))
  const pick = (id: string) => setParams(id ? { order: id } : {}, { replace: true })
  return (
    <div className="mx-auto flex max-w-6xl flex-col gap-6 p-6 max-sm:p-4">
      <StoresHead>
        <Answers view={view} />
      </StoresHead>
      {view.orders.length === 0 && (
        <p className="max-w-2xl text-lg text-soft">
          Nothing is on order. What is short, and from whom, stands under To order.
        </p>
      )}
      {live.length > 0 && <Board name="On the board" orders={live} onOpen={pick} />}
      {over.length > 0 && <Board name="Came, or cancelled" orders={over} onOpen={pick} />}
      <Sellers view={view} fresh={params.get('sell') === 'new'} />
      {open && <OrderSheet key={open.id} order={open} view={view} onClose={() => pick('')} />}
    </div>
  )
}

function Board({ name, orders, onOpen }: { name: string; orders: OrderRow[]; onOpen: (id: string) => void }) {
  return (
    <section aria-label={name}>
      <h2 className="mb-1 font-semibold text-xl">{name}</h2>
      <ul className="border-line border-t">
        {orders.map((order) => (
          <li key={order.id} className={`border-line border-b bg-panel ${EDGE[order.state]}`}>
            <button
              type="button"
              onClick={() => onOpen(order.id)}
              className="grid min-h-14 w-full items-center gap-x-5 gap-y-0.5 px-3 py-2 text-left hover:underline sm:grid-cols-[1.2fr_1fr_7rem_1.4fr]"
            >
              <span className="font-semibold text-lg">{order.name}</span>
              <span>
                {order.packs}, {order.supplier}
              </span>
              <span className="text-soft tabular-nums sm:text-right">{order.price}</span>
              <span className={order.overdue ? 'font-semibold text-madder' : ''}>{order.words}</span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  )
}

function OrderSheet({ order, view, onClose }: { order: OrderRow; view: OrdersView; onClose: () => void }) {
  const { keep, says } = useKeep()
  const [id] = useState(newId)
  const put = async (kind: 'ordered' | 'cancelled' | 'away') => {
    const path = { params: { path: { line_id: order.id } } }
    const kept = await keep(() =>
      kind === 'away'
        ? answer(client.POST('/api/v1/orders/{line_id}/away', { ...path, body: { id } }))
        : answer(client.POST('/api/v1/orders/{line_id}/notes', { ...path, body: { ...NOTHING, id, kind } })),
    )
    if (kept) onClose()
  }
  return (
    <Arrival order={order} view={view} onClose={onClose}>
      {says && <Notice tone="stop">{says}</Notice>}
      <div className="flex flex-wrap gap-2 border-line border-t pt-4">
        {order.state === 'to order' && (
          <>
            <Button onClick={() => void put('ordered')}>It is ordered</Button>
            <Button quiet onClick={() => void put('away')}>
              Take it off the list
            </Button>
          </>
        )}
        {['ordered', 'part received'].includes(order.state) && (
          <Button quiet onClick={() => void put('cancelled')}>
            It was cancelled
          </Button>
        )}
      </div>
    </Arrival>
  )
}

const NOTHING = {
  packs: 0,
  expected_on: null,
  note: '',
  crew_member_id: null,
  texts: {},
  lot_number: '',
  expires_on: null,
  known: null,
  sure: false,
}
