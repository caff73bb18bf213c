import { clsx } from 'clsx'
import { useState } from 'react'
import { Link } from 'react-router'
import { shopMoment } from '@/api/changes'
import type { CureCard } from '@/api/client'
import { useClock, useUnitOf } from '@/app/formats'
import { Button } from '@/ui/button'
import { FigureValue } from '@/ui/figure'
import { Notice } from '@/ui/notice'
import { TextField } from '@/ui/text-field'
import { CureChart } from './cure-chart'
import { PartPlace } from './place'
import { PostCureForm } from './post-cure'
import { Release } from './release'
import { useWhatIf } from './what-if'

const EDGE = { curing: 'edge-wait', reached: 'edge-ready', planned: 'border-l-6 border-line' } as const

/** A cure over the temperature it really has; moved or heated, the old thread stays as a ghost. */
export function Card({ card, now }: { card: CureCard; now: string }) {
  const tried = useWhatIf(card)
  const [asking, setAsking] = useState(false)
  // Of what is out of its ratio no clock says anything, however warm it is.
  const spoilt = card.release?.rows.some((row) => row.state === 'spoilt') ?? false
  const [heating, setHeating] = useState(false)
  const [heated, setHeated] = useState<CureCard | null>(null)
  const shown = tried.card ?? heated ?? card
  const putBack = () => {
    tried.putBack()
    setAsking(false)
  }
  return (
    <article className={clsx('flex flex-col gap-3 bg-panel px-5 py-4 max-sm:px-3', EDGE[card.state])}>
      <header className="flex flex-wrap items-start justify-between gap-x-6 gap-y-2">
        <div className="min-w-0 flex-1 basis-80">
          <h2 className="font-semibold text-lg">
            <Link
              to={`/part/${card.part_id}/steps`}
              className="inline-flex min-h-11 items-center hover:underline"
            >
              {card.part}
            </Link>
            <span className="font-normal text-soft"> · {card.name}</span>
          </h2>
          <p className="text-lg" data-testid="sentence">
            {tried.sentence || card.sentence}
          </p>
        </div>
        <div className="flex flex-wrap gap-2">
          {(tried.card || asking) && (
            <Button quiet onClick={putBack}>
              Put back
            </Button>
          )}
          {!asking && !spoilt && (
            <Button quiet onClick={() => setAsking(true)}>
              What if it were warmer?
            </Button>
          )}
          {!heating && !spoilt && (
            <Button quiet onClick={() => setHeating(true)}>
              Post-cure
            </Button>
          )}
        </div>
      </header>
      {asking && <HeaterForm tried={tried} />}
      {heating && (
        <PostCureForm
          card={card}
          onTried={setHeated}
          onClose={() => {
            setHeating(false)
            setHeated(null)
          }}
        />
      )}
      {tried.problem && !asking && <Notice tone="stop">{tried.problem.message}</Notice>}
      {shown.release && !tried.card && <Release part={`${card.part}, ${card.name}`} view={shown.release} />}
      <CureChart card={shown} before={tried.card || heated ? card : null} now={now} onStart={tried.start} />
      <PartPlace part={`${card.part}, ${card.name}`} place={card.place} />
      <p>{shown.had}</p>
      {shown.stalled && <Notice tone="care">{shown.stalled}</Notice>}
      <dl className="grid gap-x-8 sm:grid-cols-2">
        {shown.knots.map((knot) => (
          <div key={knot.name} className="flex items-baseline gap-3 border-line border-b py-1">
            <dt className="w-24 shrink-0 font-semibold capitalize">
              {knot.reached && <span className="text-lichen">● </span>}
              {knot.name}
            </dt>
            <dd className="min-w-0 flex-1">{knot.words}</dd>
            <dd className="shrink-0">{knot.figure && <FigureValue figure={knot.figure} bare />}</dd>
          </div>
        ))}
      </dl>
    </article>
  )
}

/** "What if the heater is at 18 from now on?" */
function HeaterForm({ tried }: { tried: ReturnType<typeof useWhatIf> }) {
  const unit = useUnitOf()('temperature')
  const [heater, setHeater] = useState('')
  const clock = useClock()
  const now = shopMoment()
  // A heater is put on now, unless somebody says later.
  const [from, setFrom] = useState(now ? clock.time(now) : '')
  const [to, setTo] = useState('')
  const problems = tried.problem?.fields ?? {}
  return (
    <form
      className="flex flex-wrap items-end gap-3"
      onSubmit={(event) => {
        event.preventDefault()
        tried.heat({ text: heater, unit }, from, to)
      }}
    >
      <TextField
        label="Heater holds"
        unit={unit}
        value={heater}
        problem={problems.heater}
        onChange={setHeater}
        className="w-36"
      />
      <TextField
        label="from"
        value={from}
        problem={problems.heater_from}
        onChange={setFrom}
        className="w-28"
      />
      <TextField
        label="until (empty: on)"
        value={to}
        problem={problems.heater_to}
        onChange={setTo}
        className="w-36"
      />
      <Button type="submit">Try</Button>
    </form>
  )
}
