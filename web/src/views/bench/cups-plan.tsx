import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { answer, type Bench, client, Problem, type Product } from '@/api/client'
import { useClock, useShow, useUnitOf } from '@/app/formats'
import { Button } from '@/ui/button'
import { FigureValue } from '@/ui/figure'
import { Notice } from '@/ui/notice'
import { TextField } from '@/ui/text-field'
import type { Draft } from './draft'
import { Thicken } from './thicken'

const figures = (shown: string) => shown.split(' ')[0] ?? ''

type Props = {
  bench: Bench
  product: Product
  leftG: number
  partId: string
  /** What the step's own crew spreads in a minute, where it follows. */
  pace: string
  filler: Draft['filler']
  onCup: (text: string) => void
  onFiller: (filler: Draft['filler']) => void
}

/** How many cups, how big and when: before anything is poured. */
export function CupsPlan({ bench, product, leftG, partId, pace, filler, onCup, onFiller }: Props) {
  const unit = useUnitOf()('scale')
  const show = useShow()
  const clock = useClock()
  const [amount, setAmount] = useState(leftG > 0 ? show(leftG, 'scale') : '')
  const [spread, setSpread] = useState(pace || bench.spread)
  const split = useQuery({
    queryKey: ['cups', product.id, partId, amount, spread, unit],
    queryFn: () =>
      answer(
        client.POST('/api/v1/bench/cups', {
          body: {
            sheet_id: product.id,
            part_id: partId,
            amount: { text: amount, unit },
            spread: { text: spread, unit },
          },
        }),
      ),
    enabled: amount.trim() !== '' && spread.trim() !== '',
    placeholderData: (before) => before,
    retry: false,
  })
  const problem = split.error instanceof Problem ? split.error : null
  const found = problem ? undefined : split.data
  const cup = found?.cups[0]
  return (
    <section aria-label="Cups" className="flex flex-col gap-4 border-2 border-line bg-panel p-5">
      <div className="flex flex-wrap items-start gap-4">
        <TextField
          label="To be spread in all"
          unit={/[a-z]/i.test(amount) ? undefined : unit}
          value={amount}
          problem={problem?.fields.amount ?? problem?.fields.total_g}
          onChange={setAmount}
          className="w-52"
        />
        <TextField
          label="The crew spreads in a minute"
          unit={/[a-z]/i.test(spread) ? undefined : unit}
          value={spread}
          problem={problem?.fields.spread ?? problem?.fields.spread_g_min}
          onChange={setSpread}
          className="w-60"
        />
        {found && <FigureValue figure={found.largest} />}
      </div>
      {problem && !['amount', 'total_g', 'spread', 'spread_g_min'].some((f) => problem.fields[f]) && (
        <Notice tone="stop">{problem.message}</Notice>
      )}
      {found && cup && (
        <>
          <p className="text-xl" data-testid="cups-sentence">
            {found.sentence}
          </p>
          {found.cups.length > 1 && (
            <ol className="grid gap-x-6 sm:grid-cols-2">
              {found.cups.slice(0, 12).map((one, i) => (
                <li key={one.mix_at} className="flex items-baseline gap-4 border-line border-t py-1.5">
                  <span className="w-16 font-semibold">Cup {i + 1}</span>
                  <span>mix {clock.time(one.mix_at)}</span>
                  <span className="text-soft">use by {clock.time(one.use_by)}</span>
                </li>
              ))}
            </ol>
          )}
          {found.cups.length > 12 && <p className="text-soft">and {found.cups.length - 12} more</p>}
          {found.coarse && (
            <Notice tone="care" className="text-lg">
              {found.coarse}
            </Notice>
          )}
          {filler && (
            <p className="flex flex-wrap items-center gap-3">
              It will be thickened for {filler.use}, like {filler.consistency}: the filler is called for once
              the ratio is right.
              <Button quiet onClick={() => onFiller(null)}>
                Without filler
              </Button>
            </p>
          )}
          <div className="flex flex-wrap gap-4">
            <Button big onClick={() => onCup(figures(show(found.at_least_g ?? cup.total_g, 'scale')))}>
              Pour a cup of {show(found.at_least_g ?? cup.total_g, 'mass')}
            </Button>
            {found.at_least_g != null && (
              <Button big quiet onClick={() => onCup(figures(show(cup.total_g, 'scale')))}>
                {show(cup.total_g, 'scale')}, on a finer scale
              </Button>
            )}
          </div>
        </>
      )}
      {bench.powders.length > 0 && (
        <Thicken
          product={product}
          powders={bench.powders}
          onMix={(grams, chosen) => {
            setAmount(grams)
            onFiller(chosen)
          }}
        />
      )}
    </section>
  )
}
