import { useState } from 'react'
import { useRefresh } from '@/api/changes'
import { type AnswerLooked, answer, client, type OrdersView, Problem } from '@/api/client'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { SideSheet } from '@/ui/side-sheet'

/** A seller's answer, as a table: when each line comes. Looked at first. */
export function Answers({ view }: { view: OrdersView }) {
  const [open, setOpen] = useState(false)
  if (!view.orders.some((order) => order.to_come > 0)) return null
  return (
    <>
      <Button quiet onClick={() => setOpen(true)}>
        Read an answer…
      </Button>
      {open && <Read view={view} onClose={() => setOpen(false)} />}
    </>
  )
}

function Read({ view, onClose }: { view: OrdersView; onClose: () => void }) {
  const refresh = useRefresh()
  const [text, setText] = useState('')
  const [looked, setLooked] = useState<AnswerLooked | null>(null)
  const [problem, setProblem] = useState('')
  const send = async (said: string, take: boolean) => {
    setText(said)
    setProblem('')
    try {
      const found = await answer(client.POST('/api/v1/orders/answers', { body: { text: said, take } }))
      setLooked(found)
      if (take) {
        await refresh()
        onClose()
      }
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      setLooked(null)
      setProblem(error.message)
    }
  }
  const waiting = new Set(view.orders.filter((order) => order.to_come > 0).map((order) => order.supplier_id))
  const simulated = async (supplier: string) => {
    const found = await fetch(`/api/v1/orders/answers/simulated?supplier=${supplier}`)
    await send(await found.text(), false)
  }
  return (
    <SideSheet open onClose={onClose} title="What a seller answers">
      <div className="flex flex-col gap-4">
        <label className="flex flex-col gap-1">
          <span className="text-soft">A table with columns “order” or “what”, and “comes on”</span>
          <input
            type="file"
            accept=".csv,text/csv"
            className="min-h-11"
            onChange={async (event) => {
              const file = event.target.files?.[0]
              if (file) await send(await file.text(), false)
            }}
          />
        </label>
        <div className="flex flex-wrap gap-2">
          {view.sellers
            .filter((seller) => waiting.has(seller.id))
            .map((seller) => (
              <Button key={seller.id} quiet onClick={() => void simulated(seller.id)}>
                Simulated: {seller.name}
              </Button>
            ))}
        </div>
        {problem && <Notice tone="stop">{problem}</Notice>}
        {looked && (
          <>
            <ul className="border-line border-t">
              {looked.rows.map((row, n) => (
                <li key={n} className="border-line border-b py-1.5">
                  <span className="font-semibold">{row.name || 'A line'}</span>{' '}
                  <span className={row.what === 'refused' ? 'text-madder' : ''}>{row.words}</span>
                </li>
              ))}
            </ul>
            <Button
              disabled={!looked.rows.some((row) => row.what === 'new')}
              onClick={() => void send(text, true)}
            >
              Keep these days
            </Button>
          </>
        )}
      </div>
    </SideSheet>
  )
}
