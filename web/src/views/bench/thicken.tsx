import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { answer, type Bench, client, Problem, type Product } from '@/api/client'
import { useShow, useUnitOf } from '@/app/formats'
import { Button } from '@/ui/button'
import { FigureValue } from '@/ui/figure'
import { Notice } from '@/ui/notice'
import { OneOf } from '@/ui/one-of'
import { Pick } from '@/ui/pick'
import { TextField } from '@/ui/text-field'
import type { Draft } from './draft'

const USES = [
  { value: 'structural', name: 'Structural' },
  { value: 'fillet', name: 'Fillet' },
  { value: 'fairing', name: 'Fairing' },
]

type Props = {
  product: Product
  powders: Bench['powders']
  /** The mix it takes, and the filler to be called for. */
  onMix: (grams: string, filler: Draft['filler']) => void
}

/** A thickened mix for a volume: what it is for comes first, because fillers are not alike. */
export function Thicken({ product, powders, onMix }: Props) {
  const show = useShow()
  const unit = useUnitOf()('volume')
  const [use, setUse] = useState('')
  const [powderId, setPowder] = useState('')
  const [consistency, setConsistency] = useState('')
  const [volume, setVolume] = useState('')
  const powder = powders.find((one) => one.id === powderId)
  const ready = powder && use && consistency && volume.trim()
  const filled = useQuery({
    queryKey: ['filled', product.id, powderId, use, consistency, volume, unit],
    queryFn: () =>
      answer(
        client.POST('/api/v1/bench/filled', {
          body: {
            sheet_id: product.id,
            powder_id: powderId,
            use,
            consistency,
            volume: { text: volume, unit },
          },
        }),
      ),
    enabled: Boolean(ready),
    retry: false,
  })
  const problem = filled.error instanceof Problem ? filled.error : null
  return (
    <details className="border-line border-t pt-2">
      <summary className="min-h-11 cursor-pointer py-2 underline">
        Thicken it with a filler, for a volume
      </summary>
      <div className="flex flex-wrap items-end gap-4">
        <OneOf label="It is for" value={use} choices={USES} onChange={setUse} />
        <div className="w-56">
          <Pick
            label="Filler"
            value={powderId}
            placeholder="–"
            choices={powders.map((one) => ({ value: one.id, name: `${one.name} (${one.use})` }))}
            onChange={(id) => {
              setPowder(id)
              setConsistency('')
            }}
          />
        </div>
        <div className="w-44">
          <Pick
            label="As stiff as"
            value={consistency}
            placeholder="–"
            choices={(powder?.consistencies ?? []).map((name) => ({ value: name, name }))}
            onChange={setConsistency}
          />
        </div>
        <TextField
          label="To fill"
          unit={unit}
          value={volume}
          problem={problem?.fields.volume}
          onChange={setVolume}
          className="w-36"
        />
      </div>
      {problem && !problem.fields.volume && (
        <Notice tone="stop" className="mt-3">
          {problem.message}
        </Notice>
      )}
      {ready && filled.data && !problem && (
        <div className="mt-3 flex flex-wrap items-center gap-4">
          {filled.data.question && (
            <Notice tone="stop" className="w-full text-lg">
              {filled.data.question}
            </Notice>
          )}
          <FigureValue figure={filled.data.figure} />
          <p className="min-w-64 flex-1 text-lg">{filled.data.sentence}</p>
          <Button
            quiet
            onClick={() =>
              onMix(show(filled.data.mix_g, 'scale'), { id: powder.id, consistency, use, grams: '' })
            }
          >
            Mix for that
          </Button>
        </div>
      )}
    </details>
  )
}
