import { useState } from 'react'
import { useRefresh } from '@/api/changes'
import { answer, client, newId, Problem, type Product } from '@/api/client'
import { useUnitOf } from '@/app/formats'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { TextField } from '@/ui/text-field'

/** Three strokes of each pump, weighed: then a cup is told in strokes too. */
export function PumpForm({ product }: { product: Product }) {
  const refresh = useRefresh()
  const unit = useUnitOf()('scale')
  const [typed, setTyped] = useState({ resin: '', hardener: '' })
  const [problem, setProblem] = useState('')
  const keep = async () => {
    try {
      for (const component of ['resin', 'hardener'] as const) {
        if (!typed[component].trim()) continue
        await answer(
          client.POST('/api/v1/bench/{sheet_id}/pumps', {
            params: { path: { sheet_id: product.id } },
            body: { id: newId(), component, strokes: 3, grams: { text: typed[component], unit } },
          }),
        )
      }
      setProblem('')
      setTyped({ resin: '', hardener: '' })
      await refresh()
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      setProblem(error.message)
    }
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
            onChange={(text) => setTyped({ ...typed, [component]: text })}
            className="w-52"
          />
        ))}
        <Button quiet onClick={() => void keep()}>
          Keep the strokes
        </Button>
      </div>
      {problem && (
        <Notice tone="stop" className="mt-2">
          {problem}
        </Notice>
      )}
    </details>
  )
}
