import { useQuery, useQueryClient } from '@tanstack/react-query'
import { clsx } from 'clsx'
import { useCallback, useEffect, useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { answer, client, type RunSheet } from '@/api/client'
import { askFor, useMe } from '@/api/present'
import { useUnitOf } from '@/app/formats'
import { Actions, useWork } from '@/app/work'
import { Button, ButtonLink } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { Photos } from '@/ui/photos'
import { TextField } from '@/ui/text-field'
import { WarpSquare } from '@/weave/warp-square'
import { Meters } from './meters'
import { ticked, useTicks } from './ticks'

/** Bench mode: one instruction, one button, the grams and the time that are left. Works on without the shop. */
export default function RunPage() {
  const { part = '', step = '' } = useParams()
  const queries = useQueryClient()
  const leave = useNavigate()
  const cache = `run sheet ${part} ${step}`
  const asked = useQuery({
    queryKey: ['run-sheet', part, step],
    queryFn: async () => {
      const query = { part_id: part, step_key: step }
      const began = performance.now()
      const sheet = await answer(client.GET('/api/v1/run-sheet', { params: { query } }))
      localStorage.setItem(cache, JSON.stringify(sheet))
      return { sheet, began }
    },
    refetchInterval: 5000,
    retry: false,
  })
  const onSent = useCallback(() => void queries.invalidateQueries({ queryKey: ['run-sheet'] }), [queries])
  const { tick, waiting, problem } = useTicks(onSent)
  const me = useMe()
  const [whole, setWhole] = useState(false)
  // Who looks as well stays chosen for the whole sheet; a gauge is read anew each time.
  const [second, setSecond] = useState('')
  const [gauge, setGauge] = useState('')
  const [moist, setMoist] = useState('')
  const vacuum = useUnitOf()('vacuum')
  useAwake()
  const sheet = asked.data?.sheet ?? remembered(cache)
  const began = asked.data?.began ?? Number.NEGATIVE_INFINITY
  const work = useWork()
  const unsent = new Map(
    waiting.filter((t) => t.part_id === part && t.step_key === step).map((t) => [t.item, t.done]),
  )
  const items =
    sheet?.items.map((item) => ({
      ...item,
      done: unsent.get(item.key) ?? ticked(part, step, item, began),
    })) ?? []
  const at = items.findIndex((item) => !item.done)
  const here = items[at]
  const last = at < 0 ? items.length - 1 : at - 1
  // Kept on the tablet until the shop answers: what it would refuse is asked about here.
  const unread =
    (here?.asks === 'vacuum' &&
      gauge.trim() !== '' &&
      !/^\d+([.,]\d+)?\s*(mbar|hpa|bar|kpa|in ?hg)?$/i.test(gauge.trim())) ||
    (here?.asks === 'moisture' && moist.trim() !== '' && !/^\d{1,2}([.,]\d+)?\s*%?$/.test(moist.trim()))
  const next = useCallback(() => {
    if (!here || unread) return
    const noted = {
      ...(here.asks === 'look' && second && { second_id: second }),
      ...(here.asks === 'vacuum' && gauge.trim() && { gauge: { text: gauge, unit: vacuum } }),
      ...(here.asks === 'moisture' && moist.trim() && { moisture: { text: moist, unit: '%' } }),
    }
    tick(part, step, here.key, true, noted)
    setGauge('')
    setMoist('')
  }, [here, tick, part, step, second, gauge, moist, vacuum, unread])
  const back = () => {
    const before = items[last]
    if (before) tick(part, step, before.key, false)
  }
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.repeat || (event.target instanceof HTMLElement && event.target.closest('input'))) return
      // A pedal sends one of these.
      if ([' ', 'Enter', 'PageDown'].includes(event.key) && !whole) {
        event.preventDefault()
        next()
      }
      if (event.key === 'Escape') void leave('/today')
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [next, leave, whole])
  if (!sheet)
    return asked.error ? (
      <div className="fixed inset-0 z-40 flex flex-col items-start gap-4 bg-ground p-8">
        <Notice tone="stop">{asked.error.message}</Notice>
        <ButtonLink to="/today">Back to Today</ButtonLink>
      </div>
    ) : null
  return (
    <div className="fixed inset-0 z-40 flex flex-col bg-ground" data-testid="bench-mode">
      <header className="flex flex-wrap items-center gap-x-6 gap-y-1 border-line border-b-2 bg-panel px-6 py-3 max-sm:px-3">
        <p className="min-w-0 flex-1 basis-60 text-xl">
          <span className="font-semibold">{sheet.name}</span> · {sheet.part}
        </p>
        {here && <Actions actions={sheet.actions} work={work} />}
        <Button quiet onClick={() => setWhole(!whole)}>
          {whole ? 'One at a time' : 'Whole sheet'}
        </Button>
        <a
          className="inline-flex min-h-11 items-center underline max-sm:hidden"
          href={`/api/v1/run-sheet.pdf?part_id=${part}&step_key=${encodeURIComponent(step)}`}
          target="_blank"
          rel="noreferrer"
        >
          Print
        </a>
        {me && (
          <Button quiet aria-label={`${me.name} is at this tablet: somebody else?`} onClick={() => askFor()}>
            {me.name}
          </Button>
        )}
        <ButtonLink quiet to="/today">
          Leave
        </ButtonLink>
      </header>
      {work.said && (
        <Notice tone={work.failed ? 'stop' : 'ready'} className="mx-6 mt-3">
          {work.said}
        </Notice>
      )}
      {problem && (
        <Notice tone="care" className="mx-6 mt-3">
          {problem === 'away'
            ? `The shop computer does not answer. Work on: ${waiting.length === 1 ? '1 tick waits' : `${waiting.length} ticks wait`} on this tablet and will be sent.`
            : problem}
        </Notice>
      )}
      {whole ? (
        <Whole items={items} onTick={(key, done) => tick(part, step, key, done)} />
      ) : (
        <section className="flex min-h-0 flex-1 flex-col gap-4 p-6 max-sm:p-3">
          <Meters sheet={sheet} done={at < 0 ? items.length : at} of={items.length} />
          <div className="flex min-h-0 flex-1 items-center gap-10 overflow-y-auto max-sm:flex-col max-sm:items-start max-sm:gap-4">
            {here?.warp && <WarpSquare warp={here.warp} woven={here.woven} />}
            <div className="min-w-0">
              <h1
                className="text-balance font-semibold text-5xl leading-tight max-sm:text-3xl"
                data-testid="instruction"
              >
                {here ? here.words : 'All of it is ticked.'}
              </h1>
              {(here?.detail || !here) && (
                <p className="mt-4 text-2xl max-sm:text-lg">
                  {here ? here.detail : 'The thin witness of each mix stays beside the part.'}
                </p>
              )}
              {here?.asks === 'look' && sheet.people.length > 0 && (
                <fieldset className="mt-6 flex flex-wrap items-center gap-2 max-sm:mt-3">
                  <legend className="mb-1 text-lg text-soft">Who looks as well</legend>
                  {sheet.people.map((person) => (
                    <button
                      key={person.id}
                      type="button"
                      aria-pressed={second === person.id}
                      onClick={() => setSecond(second === person.id ? '' : person.id)}
                      className={clsx(
                        'min-h-14 border-2 px-5 text-xl',
                        second === person.id
                          ? 'border-ink bg-ink font-semibold text-ground'
                          : 'border-line bg-panel',
                      )}
                    >
                      {person.name}
                    </button>
                  ))}
                </fieldset>
              )}
              {here?.asks === 'vacuum' && (
                <TextField
                  label="The gauge reads"
                  big
                  unit={vacuum}
                  inputMode="decimal"
                  value={gauge}
                  problem={unread ? `“${gauge}” is no reading; write it like 820` : undefined}
                  onChange={setGauge}
                  onKeyDown={(event) => event.key === 'Enter' && next()}
                  className="mt-6 w-80 max-sm:mt-3"
                />
              )}
              {here?.asks === 'moisture' && (
                <TextField
                  label="The meter reads"
                  big
                  unit="%"
                  inputMode="decimal"
                  value={moist}
                  problem={unread ? `“${moist}” is no moisture; write it like 10.5` : undefined}
                  onChange={setMoist}
                  onKeyDown={(event) => event.key === 'Enter' && next()}
                  className="mt-6 w-80 max-sm:mt-3"
                />
              )}
              {last >= 0 && items[last]?.noted && (
                <p className="mt-6 font-semibold text-lg max-sm:mt-3">
                  {items[last]?.words.split(':')[0]}: {items[last]?.noted}.
                </p>
              )}
              {!here && sheet.sets_at && (
                <p className="mt-6 font-semibold text-xl">
                  Squeeze-out all round? Look at the alignment once more before it sets.
                </p>
              )}
              {!here && (
                <div className="mt-4 flex flex-wrap items-center gap-3">
                  {sheet.batch_id ? (
                    <Photos of={`batches/${sheet.batch_id}`} photos={sheet.photos ?? []} name="this batch" />
                  ) : (
                    <Photos
                      of={`steps/${sheet.part_id}`}
                      query={`?step_key=${encodeURIComponent(sheet.step_key)}`}
                      photos={sheet.photos ?? []}
                      name={sheet.name}
                    />
                  )}
                </div>
              )}
              {/* A sheet kept on this tablet may be of an earlier program. */}
              {!here &&
                (sheet.then ?? []).map((next) => (
                  <p key={next.id} className="mt-6 text-xl">
                    With the same cup next:{' '}
                    <Link className="inline-flex min-h-11 items-center underline" to={`/run/${next.id}`}>
                      {next.name}
                    </Link>
                  </p>
                ))}
              {!here && sheet.still && (
                <Notice tone="care" className="mt-6 text-xl">
                  {sheet.still}
                </Notice>
              )}
              {items[at + 1] && here && (
                <p className="mt-6 text-lg text-soft max-sm:mt-3 max-sm:text-base">
                  Then: {items[at + 1]?.words}
                </p>
              )}
            </div>
          </div>
          <p className="text-sm">
            <span className="font-semibold">Take care:</span> {sheet.caution} The maker’s instructions decide.
          </p>
          <div className="flex gap-4">
            <button
              type="button"
              onClick={back}
              disabled={last < 0}
              className="min-h-28 w-40 border-2 border-line bg-panel font-semibold text-xl disabled:opacity-40 max-sm:w-24"
            >
              Not yet: back
            </button>
            {here ? (
              <button
                type="button"
                onClick={next}
                className="min-h-28 flex-1 border-2 border-ink bg-ink font-semibold text-4xl text-ground"
              >
                Done
              </button>
            ) : (
              <div className="flex min-h-28 flex-1 flex-wrap items-center gap-4">
                <Actions actions={sheet.actions} work={work} big />
                <ButtonLink quiet to="/today">
                  To Today
                </ButtonLink>
              </div>
            )}
          </div>
        </section>
      )}
    </div>
  )
}

type WholeProps = {
  items: { key: string; words: string; detail: string; noted: string; done: boolean }[]
  onTick: (key: string, done: boolean) => void
}

/** The whole sheet: what was pencilled on paper is ticked here afterwards. */
function Whole({ items, onTick }: WholeProps) {
  return (
    <ul className="flex min-h-0 flex-1 flex-col gap-1 overflow-y-auto p-6 max-sm:p-3">
      {items.map((item) => (
        <li key={item.key}>
          <label
            className={clsx('flex min-h-14 items-center gap-5 bg-panel px-4 py-2', item.done && 'edge-ready')}
          >
            <input
              type="checkbox"
              className="size-8"
              checked={item.done}
              onChange={(event) => onTick(item.key, event.target.checked)}
            />
            <span>
              <span className="block font-semibold text-lg">{item.words}</span>
              {item.detail && <span className="text-soft">{item.detail}</span>}
              {item.noted && <span className="block">{item.noted}</span>}
            </span>
          </label>
        </li>
      ))}
    </ul>
  )
}

function remembered(cache: string): RunSheet | undefined {
  try {
    const kept = JSON.parse(localStorage.getItem(cache) ?? 'null')
    // What an older page kept may lack what is new.
    return kept ? { heats: [], ...kept } : undefined
  } catch {
    return undefined
  }
}

/** The screen stays awake, where the tablet lets it. */
function useAwake() {
  useEffect(() => {
    let lock: WakeLockSentinel | undefined
    let left = false
    const ask = async () => {
      try {
        lock = await navigator.wakeLock?.request('screen')
        if (left) await lock?.release()
      } catch {
        // Some tablets refuse; the work goes on all the same.
      }
    }
    const onSeen = () => !document.hidden && void ask()
    void ask()
    document.addEventListener('visibilitychange', onSeen)
    return () => {
      left = true
      document.removeEventListener('visibilitychange', onSeen)
      void lock?.release()
    }
  }, [])
}
