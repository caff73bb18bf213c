import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { answer, type Bench, client, type MixView, type Pour, Problem, type Product } from '@/api/client'
import { useEdit } from '@/api/edit'
import { useShow, useUnitOf } from '@/app/formats'
import { useFromWhat } from '@/app/from-what'
import { Button } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { Notice } from '@/ui/notice'
import { Pick } from '@/ui/pick'
import { TextField } from '@/ui/text-field'
import { Gauge } from '@/weave/gauge'
import type { Draft } from './draft'

type Props = {
  bench: Bench
  mix: MixView
  need: MixView['needs'][number]
  product: Product
  draft: Draft
  change: (part: Partial<Draft>) => void
  onKept: (words: string) => void
  onStartAgain: () => void
}

const fieldsOf = (error: unknown) => (error instanceof Problem ? error.fields : {})

/** Two masses to pour, what was really poured, and the verdict. */
export function PourScreen({ bench, mix, need, product, draft, change, onKept, onStartAgain }: Props) {
  const show = useShow()
  const ask = useFromWhat()
  const unit = useUnitOf()('scale')
  const left = need.figures.find((figure) => figure.key.endsWith(':left'))
  const cup = useQuery({
    queryKey: ['cup', product.id, draft.cup, unit],
    queryFn: () =>
      answer(
        client.POST('/api/v1/bench/cup', {
          body: { sheet_id: product.id, amount: { text: draft.cup, unit } },
        }),
      ),
    enabled: draft.cup.trim() !== '',
    placeholderData: (before) => before,
    retry: false,
  })
  const pour = useQuery({
    queryKey: ['pour', product.id, draft.resin, draft.hardener, unit],
    queryFn: () =>
      answer(
        client.POST('/api/v1/bench/pour', {
          body: {
            sheet_id: product.id,
            resin: { text: draft.resin, unit },
            hardener: draft.hardener.trim() ? { text: draft.hardener, unit } : null,
          },
        }),
      ),
    enabled: draft.resin.trim() !== '',
    placeholderData: (before) => before,
    retry: false,
  })
  const wanted = cup.error || !draft.cup.trim() ? undefined : cup.data
  const poured = pour.error || !draft.resin.trim() ? undefined : pour.data
  const [resinFigure, hardenerFigure] = wanted?.figures ?? []
  const problems = fieldsOf(pour.error)
  return (
    <div className="flex flex-col gap-4">
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
          {left && (
            <>
              Still to mix for this step: <span className="font-semibold">{show(left.value, 'mass')}</span>.{' '}
            </>
          )}
          <span className="text-soft">{wanted?.pot_life ?? product.pot_life}</span>
        </p>
        <Button quiet className="sm:mt-7" onClick={onStartAgain}>
          Start again
        </Button>
      </div>
      <div className="grid gap-5 lg:grid-cols-2">
        <Part
          lid={product.resin_lid}
          target={resinFigure ? show(resinFigure.value, 'scale') : '–'}
          onFrom={resinFigure && (() => ask(resinFigure))}
          typed={draft.resin}
          onTyped={(resin) => change({ resin })}
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
          lid={product.hardener_lid}
          target={show(poured ? poured.band.target_g : (hardenerFigure?.value ?? null), 'scale')}
          onFrom={hardenerFigure && (() => ask(hardenerFigure))}
          typed={draft.hardener}
          onTyped={(hardener) => change({ hardener })}
          unit={unit}
          problem={problems.hardener}
        >
          <Gauge
            label="Hardener in the cup"
            value={poured?.hardener_g ?? null}
            target={poured?.band.target_g ?? wanted?.hardener_g ?? null}
            band={poured ? [poured.band.from_g, poured.band.to_g] : undefined}
            max={poured?.full_scale_g ?? wanted?.full_scale_g ?? 1}
            verdict={poured?.judgement?.verdict ?? null}
          />
        </Part>
      </div>
      {poured && <Verdict pour={poured} change={change} unit={unit} />}
      {poured?.judgement && (
        <Keep
          bench={bench}
          mix={mix}
          need={need}
          product={product}
          draft={draft}
          change={change}
          pour={poured}
          onKept={onKept}
          unit={unit}
          wantedG={wanted?.total_g}
        />
      )}
      {!poured && !wanted && (
        <p className="text-lg text-soft">
          Type the size of the cup. Small cups keep their working life; a big one heats itself.
        </p>
      )}
    </div>
  )
}

type PartProps = {
  lid: string
  target: string
  onFrom?: () => void
  typed: string
  onTyped: (text: string) => void
  unit: string
  problem?: string
  children: React.ReactNode
}

function Part({ lid, target, onFrom, typed, onTyped, unit, problem, children }: PartProps) {
  return (
    <section className="flex flex-col gap-2 border-2 border-line bg-panel px-5 py-3">
      <h2 className="text-xl">{lid}</h2>
      <button
        type="button"
        disabled={!onFrom}
        onClick={onFrom}
        className="whitespace-nowrap text-left font-semibold text-[96px] leading-none tracking-tight enabled:hover:text-woad"
        aria-label={`Pour ${target} of ${lid}: from what?`}
      >
        {target.split(' ')[0]}
        <span className="text-[44px]"> {target.split(' ').slice(1).join(' ')}</span>
      </button>
      {children}
      <TextField
        big
        label="In the cup, by the scale"
        inputMode="decimal"
        unit={unit}
        value={typed}
        onChange={onTyped}
        problem={problem}
      />
    </section>
  )
}

const TONE = { in: 'ready', near: 'care', out: 'stop' } as const

type VerdictProps = { pour: Pour; change: (part: Partial<Draft>) => void; unit: string }

function Verdict({ pour, change, unit }: VerdictProps) {
  const show = useShow()
  const part = pour.judgement?.top_up?.part
  const tone = pour.judgement ? TONE[pour.judgement.verdict] : 'wait'
  const added = show(pour.part_then_g, 'scale').replace(` ${unit}`, '')
  return (
    <Notice tone={tone} className="flex items-center justify-between gap-4 text-xl max-sm:flex-wrap">
      <span data-testid="verdict">{pour.sentence}</span>
      {part && (
        <Button
          className="shrink-0"
          onClick={() => change(part === 'resin' ? { resin: added } : { hardener: added })}
        >
          I added it: {added} {unit} now
        </Button>
      )}
    </Notice>
  )
}

type KeepProps = Omit<Props, 'onStartAgain'> & { pour: Pour; unit: string; wantedG: number | undefined }

function Keep({ bench, mix, need, product, draft, change, pour, onKept, unit, wantedG }: KeepProps) {
  const edit = useEdit(0)
  const [busy, setBusy] = useState(false)
  const keep = async () => {
    setBusy(true)
    let words = ''
    const done = await edit.save(async () => {
      const batch = await answer(
        client.POST('/api/v1/batches', {
          body: {
            id: draft.id,
            surface_id: mix.surface_id,
            step_key: need.step_key,
            sheet_id: product.id,
            resin_lid: product.resin_lid,
            hardener_lid: product.hardener_lid,
            wanted_g: wantedG ?? 0,
            resin: { text: draft.resin, unit },
            hardener: { text: draft.hardener, unit },
            crew_member_id: draft.who || null,
            lot_id: draft.lot || null,
            note: draft.note,
          },
        }),
      )
      words = batch.words
    })
    setBusy(false)
    if (done) onKept(words)
  }
  const lots = bench.lots.filter((lot) => lot.data_sheet_id === product.id)
  return (
    <section className="grid items-end gap-4 sm:grid-cols-[12rem_12rem_1fr_auto]">
      <Pick
        label="Mixed by"
        value={draft.who}
        placeholder="–"
        choices={bench.crew.map((c) => ({ value: c.id, name: c.name }))}
        onChange={(who) => change({ who })}
      />
      <Pick
        label="Lot"
        value={draft.lot}
        placeholder="–"
        choices={lots.map((lot) => ({ value: lot.id, name: lot.name }))}
        onChange={(lot) => change({ lot })}
      />
      <TextField label="Note" value={draft.note} onChange={(note) => change({ note })} />
      <Button big onClick={keep} disabled={busy}>
        {pour.judgement?.verdict === 'in' ? 'Keep this batch' : 'Keep it as it is'}
      </Button>
      <div className="col-span-full empty:hidden">
        <EditProblem edit={edit} />
      </div>
    </section>
  )
}
