import { clsx } from 'clsx'
import { useCallback, useState } from 'react'
import { Link } from 'react-router'
import { useRefresh } from '@/api/changes'
import type { JointView } from '@/api/client'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { TextField } from '@/ui/text-field'
import { ticked, useTicks } from '../run/ticks'

type Face = JointView['faces'][number]
const EDGE: Record<string, string> = {
  ready: 'edge-ready',
  'under way': 'edge-care',
  expired: 'edge-stop',
  contaminated: 'edge-stop',
  bare: 'border-l-6 border-line',
}

/** Both faces of a joint: how each is, and what makes it ready, ticked as it is done. */
export function Faces({ view, asked }: { view: JointView; asked: number }) {
  const refresh = useRefresh()
  const onSent = useCallback(() => void refresh(), [refresh])
  const { tick, waiting, problem } = useTicks(onSent)
  // As it was ticked here, until the shop has said it too.
  const mine = new Map(
    waiting
      .filter((one) => one.part_id === view.part_id && one.step_key === view.step_key)
      .map((one) => [one.item, one.done]),
  )
  const done = (item: string, kept: boolean) =>
    mine.get(item) ?? ticked(view.part_id, view.step_key, { key: item, done_at: kept ? item : null }, asked)
  return (
    <section aria-label="Faces" className="flex flex-col gap-3">
      <h3 className="flex flex-wrap items-baseline justify-between gap-x-6 font-semibold text-xl">
        Faces
        <Link
          to={`/run/${view.part_id}/${encodeURIComponent(view.step_key)}`}
          className="inline-flex min-h-11 items-center font-normal text-base underline"
        >
          In bench mode
        </Link>
      </h3>
      {problem && (
        <Notice tone="care">
          {problem === 'away' ? 'The shop computer does not answer; what was ticked waits here.' : problem}
        </Notice>
      )}
      {view.moisture && <Notice tone="care">{view.moisture}</Notice>}
      <div className="grid gap-4 md:grid-cols-2">
        {view.faces.map((face) => (
          <FaceCard
            key={face.which}
            face={face}
            done={done}
            onTick={(item, done, noted) => tick(view.part_id, view.step_key, item, done, noted)}
          />
        ))}
      </div>
    </section>
  )
}

type CardProps = {
  face: Face
  done: (item: string, kept: boolean) => boolean
  onTick: (item: string, done: boolean, noted?: { moisture: { text: string; unit: string } }) => void
}

function FaceCard({ face, done, onTick }: CardProps) {
  const [moist, setMoist] = useState('')
  return (
    <div className={clsx('flex flex-col gap-2 bg-panel px-4 py-3', EDGE[face.state])}>
      <p>
        <span className="font-semibold text-lg">{face.part}</span>
        {face.where && <span className="text-soft">, {face.where}</span>}
        <span className="block text-soft">
          {face.face}
          {face.moisture && `, ${face.moisture} moisture`}
          {face.fixes ? ', fixed by it' : ', holds it'}
        </span>
      </p>
      <p role="status" className="text-lg">
        {face.sentence}
      </p>
      <ol className="flex flex-col gap-1">
        {face.treatments
          .map((kept) => ({ ...kept, done: done(kept.item, kept.done) }))
          .map((one) => (
            <li key={one.item}>
              <label className={clsx('flex min-h-12 items-center gap-4 px-2', one.done && 'bg-lichen-wash')}>
                <input
                  type="checkbox"
                  className="size-7 shrink-0"
                  checked={one.done}
                  onChange={(event) =>
                    onTick(
                      one.item,
                      event.target.checked,
                      one.asks === 'moisture' && moist.trim()
                        ? { moisture: { text: moist, unit: '%' } }
                        : undefined,
                    )
                  }
                />
                <span className="first-letter:uppercase">
                  {one.does}
                  {!one.done && one.detail && <span className="block text-soft text-sm">{one.detail}</span>}
                </span>
              </label>
              {one.asks === 'moisture' && !one.done && (
                <TextField
                  label="The meter reads"
                  unit="%"
                  inputMode="decimal"
                  value={moist}
                  onChange={setMoist}
                  className="ml-13 w-40"
                />
              )}
            </li>
          ))}
      </ol>
      {face.state !== 'bare' && face.state !== 'contaminated' && (
        <Button quiet className="self-start" onClick={() => onTick(`${face.which}/touched`, true)}>
          It was touched, or got wet
        </Button>
      )}
    </div>
  )
}
