import { useState } from 'react'
import { answer, client, newId } from '@/api/client'
import { useKeep } from '@/api/keep'
import { useHowSure } from '@/api/loom-questions'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { EndsByDay } from '@/weave/ends-by-day'

/** How sure the end is: drawn plans by the day they end on, the dates that hold, and the steps that decide. */
export function HowSurePanel() {
  const view = useHowSure().data
  const { keep, says } = useKeep()
  const [id, setId] = useState(newId)
  if (!view) return null
  const looking = view.state === 'looking' || view.state === 'waiting'
  const ask = async () => {
    const body = { id, kind: 'sure' as const }
    if (await keep(() => answer(client.POST('/api/v1/studies', { body })))) setId(newId())
  }
  const stop = () => keep(() => answer(client.POST('/api/v1/studies/stop', { body: { id: view.id } })))
  return (
    <section aria-label="How sure" className="flex flex-col gap-3">
      <div className="flex flex-wrap items-end justify-between gap-3">
        <p className="min-w-0 flex-1 basis-80 text-lg" aria-live="polite">
          {view.sentence ||
            `${view.draws} plans are drawn: each step takes somewhat more or less than estimated, each night is somewhat warmer or colder than expected.`}
        </p>
        {view.drawn > 0 && <span className="text-soft tabular-nums">{view.drawn} plans drawn</span>}
      </div>
      {view.old && !looking && (
        <p className="text-soft">Something was noted since these were drawn; draw again to be sure.</p>
      )}
      {view.days.length > 0 && <EndsByDay view={view} />}
      {view.risk && <Notice tone="care">{view.risk}</Notice>}
      {view.decide.length > 0 && (
        <div>
          <h3 className="font-semibold">What decides it</h3>
          <ul>
            {view.decide.slice(0, 6).map((one) => (
              <li
                key={one.step_id}
                className="flex flex-wrap items-baseline justify-between gap-x-4 border-line border-b py-1.5"
              >
                <span>
                  {one.name}
                  <span className="text-soft"> · {one.part}</span>
                </span>
                <span className="text-soft">{one.words}</span>
              </li>
            ))}
          </ul>
        </div>
      )}
      {says && <Notice tone="stop">{says}</Notice>}
      <div className="flex flex-wrap gap-3">
        {looking ? (
          <Button onClick={() => void stop()}>Stop, it is enough</Button>
        ) : (
          <Button quiet={view.state !== 'none'} onClick={() => void ask()}>
            {view.state === 'none' ? 'Draw them' : 'Draw again'}
          </Button>
        )}
      </div>
    </section>
  )
}
