import { useQuery } from '@tanstack/react-query'
import { useEffect, useRef } from 'react'
import { shopMoment } from '@/api/changes'
import { answer, type Bench, client, type Pour, Problem, type Product } from '@/api/client'
import { useShow, useUnitOf } from '@/app/formats'
import { useFromWhat } from '@/app/from-what'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { TextField } from '@/ui/text-field'
import { Gauge } from '@/weave/gauge'
import { CupsPlan } from './cups-plan'
import type { Draft, Use } from './draft'
import { Filler } from './filler'
import { Keep } from './keep'
import { addedSince, Part } from './part'
import { ScaleBar, useScale } from './scale'

type Props = {
  bench: Bench
  use: Use
  product: Product
  draft: Draft
  change: (part: Partial<Draft>) => void
  onStartAgain: () => void
}

const fieldsOf = (error: unknown) => (error instanceof Problem ? error.fields : {})

/** Two masses to pour, what was really poured, and the verdict. */
export function PourScreen({ bench, use, product, draft, change, onStartAgain }: Props) {
  const show = useShow()
  const ask = useFromWhat()
  const unit = useUnitOf()('scale')
  const cup = useQuery({
    queryKey: ['cup', product.id, draft.cup, unit, use.leftG],
    queryFn: () =>
      answer(
        client.POST('/api/v1/bench/cup', {
          body: { sheet_id: product.id, amount: { text: draft.cup, unit }, left_g: use.leftG },
        }),
      ),
    // A fresh kettle of warm air shortens a cup's life.
    refetchInterval: 60_000,
    enabled: draft.cup.trim() !== '',
    placeholderData: (before) => before,
    retry: false,
  })
  const inTheCup = `${draft.resin} ${unit}`
  const wanted = cup.error || !draft.cup.trim() ? undefined : cup.data
  const wantedG = wanted?.total_g
  const pour = useQuery({
    queryKey: ['pour', product.id, draft.resin, draft.hardener, unit, draft.used, wantedG, draft.filler?.id],
    queryFn: async () => ({
      ofResin: inTheCup,
      ...(await answer(
        client.POST('/api/v1/bench/pour', {
          body: {
            sheet_id: product.id,
            resin: { text: draft.resin, unit },
            hardener: draft.hardener.trim() ? { text: draft.hardener, unit } : null,
            since: draft.metAt || null,
            used: draft.used,
            wanted_g: wantedG,
            filler_id: draft.filler?.id ?? '',
            consistency: draft.filler?.consistency ?? '',
          },
        }),
      )),
    }),
    enabled: draft.resin.trim() !== '',
    placeholderData: (before) => before,
    retry: false,
  })
  const poured = pour.error || !draft.resin.trim() ? undefined : pour.data
  const [resinFigure, hardenerFigure] = wanted?.figures ?? []
  const problems = fieldsOf(pour.error)
  const chosen = draft.cup.trim() !== ''
  const tooBig =
    wanted !== undefined &&
    wanted.against.length > 0 &&
    draft.bigCup !== draft.cup &&
    (poured?.resin_g ?? 0) < 1
  // Only an answer for this much resin says how much of the load it is; while hardener flows in, an older one does.
  const resinG = poured?.ofResin === inTheCup ? poured.resin_g : null
  const scale = useFollowed(draft, change, chosen && !draft.kept, unit, resinG)
  const now = draft.pouring
  const short = poured?.swapped ? null : poured?.judgement?.top_up
  const more = poured && short && now === 'done' ? addedSince(poured, draft.from, scale?.grams ?? null) : 0
  const topUp = short && { [short.component]: show(Math.max(short.grams - more, 0), 'scale') }
  return (
    <div className="flex flex-col gap-4">
      {scale && chosen && (
        <ScaleBar
          scale={scale}
          following={now !== 'typed'}
          onFollow={(on) =>
            change(
              !on
                ? { pouring: 'typed' }
                : draft.resin
                  ? {
                      pouring: 'hardener',
                      zeroed: true,
                      from: (scale.grams ?? 0) - (poured?.hardener_g ?? 0),
                    }
                  : { pouring: 'resin' },
            )
          }
        />
      )}
      {scale && chosen && now !== 'typed' && !draft.zeroed && (
        <Notice tone="care" className="text-xl">
          <span data-testid="not-zero">
            Put the empty cup on and set the scale to zero: it shows {scale.grams?.toFixed(1) ?? '–'} g, and
            that is no resin. It is followed from zero on.
          </span>
        </Notice>
      )}
      <div className="grid items-start gap-x-6 gap-y-2 sm:grid-cols-[15rem_1fr_auto]">
        <TextField
          label="Size of this cup"
          unit={unit}
          value={draft.cup}
          problem={fieldsOf(cup.error).amount}
          onChange={(text) => change({ cup: text })}
          autoFocus
        />
        <p className="sm:pt-8">
          {use.leftG !== null && (
            <>
              Still to mix for this step: <span className="font-semibold">{show(use.leftG, 'mass')}</span>.{' '}
            </>
          )}
          <span data-testid="cup-life">{wanted?.life ?? product.pot_life}</span>
        </p>
        <Button quiet className="sm:mt-7" onClick={onStartAgain}>
          Start again
        </Button>
      </div>
      {wanted?.against.map((words) => (
        <Notice key={words} tone="stop" className="text-xl">
          {words}
        </Notice>
      ))}
      {tooBig && (
        <div className="flex flex-wrap gap-4">
          <Button big onClick={() => change({ cup: '' })}>
            A smaller cup
          </Button>
          <Button big quiet onClick={() => change({ bigCup: draft.cup })}>
            So big a cup all the same
          </Button>
        </div>
      )}
      {tooBig ? null : !chosen && !poured ? (
        <CupsPlan
          product={product}
          leftG={use.leftG ?? 0}
          partId={use.partId}
          pace={use.pace}
          bench={bench}
          filler={draft.filler}
          onFiller={(filler) => change({ filler })}
          onCup={(text) => change({ cup: text, pouring: scale ? 'resin' : 'typed' })}
        />
      ) : (
        <div className="grid gap-5 md:grid-cols-2">
          <Part
            followed={now === 'resin'}
            onDone={now === 'resin' && poured ? () => change({ pouring: 'hardener' }) : undefined}
            lid={product.resin_lid}
            target={topUp?.resin ?? show(resinFigure?.value, 'scale')}
            adding={topUp?.resin !== undefined}
            onFrom={resinFigure && (() => ask(resinFigure))}
            typed={draft.resin}
            onTyped={(resin) => change({ resin, pouring: 'typed' })}
            unit={unit}
            problem={problems.resin}
          >
            <Gauge
              label="Resin in the cup"
              value={poured?.resin_g ?? null}
              target={wanted?.resin_g ?? null}
              max={wanted?.resin_scale_g ?? poured?.resin_g ?? 1}
            />
          </Part>
          <Part
            followed={now === 'hardener'}
            onDone={now === 'hardener' && poured?.judgement ? () => change({ pouring: 'done' }) : undefined}
            lid={product.hardener_lid}
            target={
              topUp?.hardener ??
              // While the resin still runs in, what it will be; then what this much resin takes.
              show(
                poured && now !== 'resin' ? poured.band.target_g : (hardenerFigure?.value ?? null),
                'scale',
              )
            }
            adding={topUp?.hardener !== undefined}
            onFrom={hardenerFigure && (() => ask(hardenerFigure))}
            typed={draft.hardener}
            onTyped={(hardener) => change({ hardener, pouring: 'typed', metAt: draft.metAt || shopMoment() })}
            unit={unit}
            problem={problems.hardener}
          >
            <Gauge
              label="Hardener in the cup"
              value={poured?.hardener_g ?? null}
              target={poured?.band.target_g ?? wanted?.hardener_g ?? null}
              band={poured ? [poured.band.from_g, poured.band.to_g] : undefined}
              max={poured?.full_scale_g ?? wanted?.full_scale_g ?? 1}
              verdict={now === 'hardener' && poured?.to_go ? null : (poured?.judgement?.verdict ?? null)}
            />
          </Part>
        </div>
      )}
      {wanted && !poured && wanted.other_ways.map((way) => <p key={way}>{way}</p>)}
      {poured && <Verdict pour={poured} draft={draft} change={change} unit={unit} />}
      {poured?.filler && <Filler wanted={poured.filler} draft={draft} change={change} unit={unit} />}
      {poured?.judgement && (
        <Keep
          bench={bench}
          use={use}
          product={product}
          draft={draft}
          change={change}
          pour={poured}
          unit={unit}
          wantedG={wanted?.total_g}
        />
      )}
    </div>
  )
}

/** The scale's reading goes into the part that is being poured; what was weighed stays when it falls silent. */
function useFollowed(
  draft: Draft,
  change: Props['change'],
  pouring: boolean,
  unit: string,
  resinG: number | null,
) {
  const { data: scale, dataUpdatedAt: readAt } = useScale(pouring)
  // What it showed before this cup was begun says nothing of what stands on it now.
  const since = useRef(Number.POSITIVE_INFINITY)
  useEffect(() => {
    since.current = pouring ? Date.now() : Number.POSITIVE_INFINITY
  }, [pouring])
  const grams = scale?.grams ?? null
  const noise = scale?.noise_g ?? 0
  const zero = scale?.zero_g ?? 0
  const steady = scale?.steady ?? false
  const { pouring: part, resin, hardener, metAt, zeroed, from } = draft
  useEffect(() => {
    if (grams === null) return
    if (!zeroed) {
      if (steady && Math.abs(grams) <= zero && readAt > since.current) change({ zeroed: true })
      return
    }
    if (grams < 0) return
    if (part === 'resin' && inGrams(grams, unit) !== resin) change({ resin: inGrams(grams, unit) })
    if (part === 'hardener' && resinG !== null) {
      const more = Math.max(grams - (from ?? resinG), 0)
      // More than noise and drift: the parts have met.
      if (more >= noise && inGrams(more, unit) !== hardener)
        change({ hardener: inGrams(more, unit), metAt: metAt || shopMoment() })
    }
  }, [grams, steady, zeroed, from, zero, readAt, noise, part, resin, resinG, hardener, metAt, unit, change])
  return scale?.there ? scale : undefined
}

/** A scale counts in grams, whatever the shop types in. */
const inGrams = (grams: number, unit: string) => (unit === 'g' ? grams.toFixed(1) : `${grams.toFixed(1)} g`)

const TONE = { in: 'ready', near: 'care', out: 'stop' } as const

type VerdictProps = { pour: Pour; draft: Draft; change: (part: Partial<Draft>) => void; unit: string }

function Verdict({ pour, draft, change, unit }: VerdictProps) {
  const show = useShow()
  const component = pour.judgement?.top_up?.component
  const tone = pour.judgement ? TONE[pour.judgement.verdict] : 'wait'
  const added = show(pour.component_then_g, 'scale').replace(` ${unit}`, '')
  if ((draft.pouring === 'hardener' || (draft.pouring === 'resin' && !pour.judgement)) && pour.to_go)
    return (
      <Notice tone="wait" className="text-xl">
        <span data-testid="verdict">{pour.to_go}</span>
      </Notice>
    )
  return (
    <Notice tone={tone} className="flex flex-wrap items-center justify-between gap-4 text-xl">
      {!pour.swapped && (
        <span data-testid="verdict" className="min-w-64 flex-1">
          {pour.sentence}
        </span>
      )}
      {pour.swapped && (
        <span className="flex w-full flex-wrap items-center gap-3">
          <span className="min-w-64 flex-1">{pour.swapped}</span>
          <Button onClick={() => change({ resin: draft.hardener, hardener: draft.resin, pouring: 'typed' })}>
            Only written the wrong way round
          </Button>
        </span>
      )}
      {component && !pour.swapped && (
        <span className="flex flex-wrap gap-3">
          {draft.pouring === 'typed' && (
            <Button onClick={() => change(component === 'resin' ? { resin: added } : { hardener: added })}>
              I added it: {added} {unit} now
            </Button>
          )}
          {draft.pouring === 'done' && (
            <TopUpFollowed pour={pour} from={draft.from} unit={unit} change={change} component={component} />
          )}
          <Button
            quiet
            onClick={() => change({ used: true, pouring: draft.pouring === 'typed' ? 'typed' : 'done' })}
          >
            Some of it is used already
          </Button>
        </span>
      )}
      {draft.used && (
        <Button quiet onClick={() => change({ used: false })}>
          None of it is used
        </Button>
      )}
    </Notice>
  )
}

type TopUpProps = {
  pour: Pour
  from: number | null
  unit: string
  change: (p: Partial<Draft>) => void
  component: 'resin' | 'hardener'
}

/** What the scale shows beyond what is in the cup was added of the part that is short. */
function TopUpFollowed({ pour, from, unit, change, component }: TopUpProps) {
  const scale = useScale(true).data
  const hardener = pour.hardener_g ?? 0
  const more = addedSince(pour, from, scale?.grams ?? null)
  const then = inGrams((component === 'resin' ? pour.resin_g : hardener) + more, unit)
  return (
    <Button
      disabled={scale?.grams == null || more < (scale.noise_g ?? 0)}
      onClick={() => change(component === 'resin' ? { resin: then } : { hardener: then })}
    >
      Added: {more.toFixed(1)} g by the scale
    </Button>
  )
}
