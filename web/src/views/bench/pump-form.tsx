import { useState } from 'react'
import { answer, client, newId, type Product } from '@/api/client'
import { useKeep } from '@/api/keep'
import { useUnitOf } from '@/app/formats'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { TextField } from '@/ui/text-field'

const fresh = () => ({ resin: newId(), hardener: newId() })

/** Three strokes of each pump, weighed: then a cup is told in strokes too. */
export function PumpForm({ product }: { product: Product }) {
  const { keep, busy, says } = useKeep()
  const unit = useUnitOf()('scale')
  const [typed, setTyped] = useState({ resin: '', hardener: '' })
  // Sent again after a lost answer, a reading is still the same one.
  const [ids, setIds] = useState(fresh)
  const put = async () => {
    const kept = await keep(async () => {
      for (const component of ['resin', 'hardener'] as const) {
        if (!typed[component].trim()) continue
        await answer(
          client.POST('/api/v1/bench/{sheet_id}/pumps', {
            params: { path: { sheet_id: product.id } },
            body: { id: ids[component], component, strokes: 3, grams: { text: typed[component], unit } },
          }),
        )
      }
    })
    if (!kept) return
    setTyped({ resin: '', hardener: '' })
    setIds(fresh)
  }
  return (
    <details className="mt-2">
      <summary className="min-h-11 cursor-pointer py-2 text-soft underline">
        Pumps on the cans? Weigh three strokes of each
      </summary>
      <div className="flex flex-wrap items-end gap-4">
        {(['resin', 'hardener'] as const).map((component) => (
          <TextField
            key={component}
            label={`Three strokes of ${component}`}
            unit={unit}
            value={typed[component]}
            onChange={(text) => {
              setTyped({ ...typed, [component]: text })
              setIds({ ...ids, [component]: newId() })
            }}
            className="w-52"
          />
        ))}
        <Button quiet disabled={busy} onClick={() => void put()}>
          Keep the strokes
        </Button>
      </div>
      {says && (
        <Notice tone="stop" className="mt-2">
          {says}
        </Notice>
      )}
    </details>
  )
}
