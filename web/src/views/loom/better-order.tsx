import { useEffect, useState } from 'react'
import { answer, type BetterOrder, client, newId } from '@/api/client'
import { useKeep } from '@/api/keep'
import { useBetterOrder } from '@/api/loom-questions'
import { Button } from '@/ui/button'
import { DayField } from '@/ui/day-field'
import { Notice } from '@/ui/notice'
import { OneOf } from '@/ui/one-of'
import { Pick } from '@/ui/pick'
import { FallingEnd } from '@/weave/falling-end'

const TIMES = [
  { value: '10', name: '10\u00a0s' },
  { value: '30', name: '30\u00a0s' },
  { value: '120', name: '2\u00a0min' },
  { value: '300', name: '5\u00a0min' },
]

const AIMS: { value: BetterOrder['aim']; name: string }[] = [
  { value: 'soonest', name: 'Done soonest' },
  { value: 'calm', name: 'Calm days, done by' },
  { value: 'turnings', name: 'Fewest turnings' },
  { value: 'heating', name: 'Least heating' },
]

const NEVER = 'never'
const SAVES = [
  { value: NEVER, name: 'Never' },
  { value: '24', name: 'If it saves 1\u00a0day' },
  { value: '72', name: 'If it saves 3\u00a0days' },
  { value: '168', name: 'If it saves a week' },
]

/** A better order is looked for: the end falls; stop it, make what was found the plan, or leave it. */
export function BetterOrderPanel() {
  const view = useBetterOrder().data
  const { keep, says, fields } = useKeep(['done_by', 'by'])
  const [aim, setAim] = useState<BetterOrder['aim']>('soonest')
  const [by, setBy] = useState('')
  const [saves, setSaves] = useState(NEVER)
  const [seconds, setSeconds] = useState('30')
  const [id, setId] = useState(newId)
  const looking = view?.state === 'looking' || view?.state === 'waiting'
  const elapsed = useElapsed(view?.id ?? '', looking, view?.ends.at(-1)?.after_s ?? 0)
  if (!view) return null
  const look = async () => {
    const body = {
      id,
      seconds: Number(seconds),
      seed: 1,
      aim,
      done_by: aim === 'calm' ? by || null : null,
      saves_h: saves === NEVER ? null : Number(saves),
    }
    if (await keep(() => answer(client.POST('/api/v1/better-order', { body })))) setId(newId())
  }
  const tell = (what: 'stop' | 'keep' | 'leave') => {
    const body = { body: { id: view.id } }
    return keep(() =>
      what === 'stop'
        ? answer(client.POST('/api/v1/better-order/stop', body))
        : what === 'keep'
          ? answer(client.POST('/api/v1/better-order/keep', body))
          : answer(client.POST('/api/v1/better-order/leave', body)),
    )
  }
  return (
    <section aria-label="A better order" className="flex flex-col gap-3">
      <div className="flex flex-wrap items-end justify-between gap-3">
        <p className="min-w-0 flex-1 basis-80 text-lg" aria-live="polite">
          {view.sentence ||
            'Other orders of the same steps are placed, and the one that ends soonest is kept.'}
        </p>
        {looking && (
          <span className="text-soft tabular-nums">{`${Math.round(elapsed)} of ${view.seconds} s`}</span>
        )}
      </div>
      {view.ends.length > 0 && view.aim === 'soonest' && <FallingEnd view={view} elapsed={elapsed} />}
      {says && <Notice tone="stop">{says}</Notice>}
      <div className="flex flex-wrap items-end gap-3">
        {looking ? (
          <Button onClick={() => void tell('stop')}>Stop, keep the best so far</Button>
        ) : (
          <>
            {view.can_keep && <Button onClick={() => void tell('keep')}>Make it the plan</Button>}
            <Pick
              label="Better is"
              value={aim}
              choices={AIMS}
              onChange={(chosen) => setAim(chosen as BetterOrder['aim'])}
            />
            {aim === 'calm' && (
              <DayField label="Done by" value={by} problem={fields.done_by ?? fields.by} onChange={setBy} />
            )}
            {view.kept_days > 0 && (
              <Pick label="Kept days move" value={saves} choices={SAVES} onChange={setSaves} />
            )}
            <OneOf label="Look for" value={seconds} choices={TIMES} onChange={setSeconds} />
            <Button quiet={view.can_keep} onClick={() => void look()}>
              {view.state === 'none' ? 'Look for a better order' : 'Look again'}
            </Button>
            {view.state !== 'none' && !view.kept && (
              <Button quiet onClick={() => void tell('leave')}>
                Leave it
              </Button>
            )}
          </>
        )}
      </div>
    </section>
  )
}

/** The seconds since a search was seen to run; one that was running before began no later than its last find. */
function useElapsed(id: string, looking: boolean, found: number) {
  const [begun, setBegun] = useState({ id: '', at: 0 })
  const [now, setNow] = useState(0)
  useEffect(() => {
    if (!looking) return
    setBegun((known) => (known.id === id ? known : { id, at: Date.now() - found * 1000 }))
    const timer = setInterval(() => setNow(Date.now()), 500)
    return () => clearInterval(timer)
  }, [id, looking, found])
  return begun.id === id && now > begun.at ? (now - begun.at) / 1000 : found
}
