import { clsx } from 'clsx'
import { type ReactNode, useState } from 'react'
import { Link } from 'react-router'
import type { TodayRow, TodayView } from '@/api/client'
import { useHeld, useOrderList, useToday } from '@/api/questions'
import { useClock } from '@/app/formats'
import { Actions, useWork } from '@/app/work'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { useSteady } from '@/ui/steady'
import { ms } from '@/weave/time-scale'
import { Begin, Missed } from './begin'
import { ClosingDown } from './closing'
import { DayByPerson } from './day'
import { AsItLies, Resume } from './parts'

/** What to do now: one sentence and one button, then the bench, what fits before closing, what is held. */
export default function TodayPage() {
  const today = useToday()
  const work = useWork()
  const view = today.data
  if (today.error && !today.data)
    return (
      <Notice tone="stop" className="m-6">
        {today.error.message}
      </Notice>
    )
  if (!view) return null
  return (
    <div
      className={clsx(
        'mx-auto flex max-w-6xl flex-col gap-7 p-6 max-sm:gap-5 max-sm:p-4',
        work.busy && 'pointer-events-none',
      )}
    >
      {view.morning.next ? (
        <Begin begin={view.morning.next} />
      ) : (
        view.ask && <Notice tone="care">{view.ask}</Notice>
      )}
      <Missed missed={view.morning.missed} />
      {view.sentence && (
        <section className="flex flex-col gap-3">
          <h1
            className={clsx(
              'font-semibold text-3xl leading-snug max-sm:text-2xl',
              view.late && 'edge-care bg-weld-wash px-4 py-2',
            )}
            data-testid="first"
          >
            {view.sentence}
          </h1>
          {view.detail && <p className={clsx('text-lg', view.late && 'font-semibold')}>{view.detail}</p>}
          <Actions actions={view.actions} work={work} big />
          {view.caution && (
            <p className="text-sm">
              <span className="font-semibold">Take care:</span> {view.caution} The maker’s instructions
              decide.
            </p>
          )}
          {view.moved && <p className="text-soft">{view.moved}</p>}
        </section>
      )}
      {view.cold && <Notice tone="care">{view.cold}</Notice>}
      {view.copies && <Notice tone="care">{view.copies}</Notice>}
      {view.resume && <Resume card={view.resume} />}
      {view.closing?.soon && <ClosingDown closing={view.closing} />}
      {view.due.length > 0 && (
        <Part title="To look at now" empty="" rows={view.due}>
          {(row) => <Row key={row.part_id + row.step_key} row={row} work={work} />}
        </Part>
      )}
      {view.decide.length > 0 && (
        <section aria-label="To decide" className="flex flex-col gap-2">
          <h2 className="font-semibold text-xl">To decide</h2>
          {view.decide.map((one) => (
            <Notice key={one.words} tone="stop">
              <Link
                to={`/part/${one.part_id}/${one.tab}`}
                className="inline-flex min-h-11 items-center font-semibold hover:underline"
              >
                {one.words}
              </Link>
            </Notice>
          ))}
        </section>
      )}
      {!view.morning.next && <OrderToday />}
      {!view.morning.next && <Day view={view} work={work} />}
      {work.said && (
        <Notice
          tone={work.failed ? 'stop' : 'ready'}
          className="sticky bottom-3 flex flex-wrap items-center justify-between gap-3 border-2 border-line"
        >
          <span data-testid="said">{work.said}</span>
          {work.takeBack && (
            <Button quiet disabled={work.busy} onClick={() => void work.takeBack?.()}>
              Take that back
            </Button>
          )}
        </Notice>
      )}
    </div>
  )
}

/** That something must be ordered today to be there in time; asked by itself, so that Today does not wait for it. */
function OrderToday() {
  const list = useOrderList().data
  if (!list || list.today.length === 0) return null
  return (
    <Notice tone="care">
      <Link to="/stores/order" className="inline-flex min-h-11 items-center font-semibold hover:underline">
        {list.words}
      </Link>
    </Notice>
  )
}

type DayProps = { view: TodayView; work: ReturnType<typeof useWork> }

/** The day under its first sentence: who does what, the bench, what fits, what is held. */
function Day({ view, work }: DayProps) {
  return (
    <>
      {view.day.length > 0 && <DayByPerson day={view.day} hours={view.hours} />}
      <Part title="On the bench" empty="Nothing is open or curing." rows={view.bench}>
        {(row) => <Row key={row.part_id + row.step_key} row={row} work={work} />}
      </Part>
      {view.lies.map((lies) => (
        <AsItLies key={lies.name} lies={lies}>
          {(row) => <Row key={row.part_id + row.step_key} row={row} work={work} />}
        </AsItLies>
      ))}
      <Part
        title="Fits before closing"
        note={view.fits_words}
        empty={view.hours ? 'Nothing that cures can still be begun today.' : 'The shop is closed.'}
        rows={view.fits}
      >
        {(row) => <Row key={row.part_id + row.step_key} row={row} work={work} />}
      </Part>
      <Part
        title="Then today"
        note="what the plan begins before closing"
        empty="Nothing else is begun today."
        rows={view.later}
      >
        {(row) => <Row key={row.part_id + row.step_key} row={row} work={work} />}
      </Part>
      <Held view={view} work={work} />
      {(view.done.length > 0 || view.done_words) && (
        <Part title="Done today" note={view.done_words} empty="" rows={view.done}>
          {(row) => <Row key={row.part_id + row.step_key} row={row} work={work} quiet />}
        </Part>
      )}
      {view.closing && !view.closing.soon && <ClosingDown closing={view.closing} />}
    </>
  )
}

/** What can't go on today: what goes soonest, the rest when it is asked for. */
function Held({ view, work }: DayProps) {
  const [all, setAll] = useState(false)
  const asked = all && view.more_held > 0
  const later = useHeld(asked)
  // A row that has come nearer meanwhile stands once.
  const near = new Set(view.held.map((row) => row.part_id + row.step_key))
  const rest =
    asked && later.data ? later.data.rows.filter((row) => !near.has(row.part_id + row.step_key)) : []
  return (
    <div className="flex flex-col gap-3">
      <Part title="Held" empty="Nothing is held: every part goes on today." rows={[...view.held, ...rest]}>
        {(row) => <Row key={row.part_id + row.step_key} row={row} work={work} />}
      </Part>
      {view.more_held > 0 && !(asked && later.data) && (
        <Button
          quiet
          className="self-start"
          onClick={() => (all ? void later.refetch() : setAll(true))}
          disabled={later.isFetching}
        >
          {view.more_held === 1 ? '1 more goes later' : `${view.more_held} more go later`}
        </Button>
      )}
      {asked && later.error && <Notice tone="stop">{later.error.message}</Notice>}
    </div>
  )
}

type PartProps = {
  title: string
  note?: string
  empty: string
  rows: TodayRow[]
  children: (row: TodayRow) => ReactNode
}

function Part({ title, note, empty, rows, children }: PartProps) {
  const shown = useSteady(rows, (row) => row.part_id + row.step_key)
  return (
    <section className="flex flex-col gap-2">
      <h2 className="font-semibold text-xl">
        {title}
        {note && <span className="ml-3 font-normal text-base text-soft">{note}</span>}
      </h2>
      {rows.length === 0 ? (
        <p className="text-soft">{empty}</p>
      ) : (
        <ul className="flex flex-col gap-2">{shown.map(children)}</ul>
      )}
    </section>
  )
}

const EDGE = {
  due: 'edge-ready',
  planned: 'border-l-6 border-line',
  running: 'border-l-6 border-walnut',
  paused: 'border-l-6 border-walnut border-dashed',
  curing: 'edge-wait',
  fits: 'edge-ready',
  soft: 'edge-care',
  held: 'border-l-6 border-line',
} as const

type RowProps = { row: TodayRow; work: ReturnType<typeof useWork>; quiet?: boolean }

function Row({ row, work, quiet }: RowProps) {
  return (
    <li className={clsx('flex flex-wrap items-center gap-x-6 gap-y-2 bg-panel px-4 py-2.5', EDGE[row.state])}>
      <Link to={`/part/${row.part_id}/steps`} className="group min-w-0 flex-1 basis-96 max-sm:basis-60">
        <span className={clsx('block', !quiet && 'text-lg')}>
          <span className="font-semibold group-hover:underline">{row.name}</span>
          <span className="text-soft"> · {row.part}</span>
        </span>
        <span className={clsx('block', row.state === 'held' && 'text-soft')}>{row.words}</span>
      </Link>
      {row.state === 'curing' && row.wait && <Waiting row={row} />}
      <Actions actions={row.actions} work={work} late={row.late} />
    </li>
  )
}

/** How far a wait is, as the thread that is left of it. */
function Waiting({ row }: { row: TodayRow }) {
  const clock = useClock()
  if (!row.wait) return null
  const [from, to] = [ms(row.wait.start), ms(row.wait.end)]
  const share = Math.min(Math.max((shopNow() - from) / (to - from), 0), 1)
  return (
    <Link
      to={`/cure/${row.part_id}`}
      aria-label={`${clock.time(row.wait.end)}, cure of ${row.part}`}
      className="flex min-h-11 w-52 items-center gap-2"
    >
      <svg viewBox="0 0 200 20" className="h-5 flex-1" role="img" aria-label="How far the wait is">
        <path d="M0 1L200 9V11L0 19Z" fill="var(--woad-wash)" stroke="var(--woad)" />
        <clipPath id={`had-${row.part_id}`}>
          <rect width={200 * share} height={20} />
        </clipPath>
        <path d="M0 1L200 9V11L0 19Z" fill="var(--woad)" clipPath={`url(#had-${row.part_id})`} />
      </svg>
      <span className="text-sm">{clock.time(row.wait.end)}</span>
    </Link>
  )
}

/** The shop's clock as the strip shows it; the browser's own may differ. */
function shopNow() {
  const shown = document.querySelector<HTMLElement>('[data-now]')?.dataset.now
  return shown ? ms(shown) : Date.now()
}
