import { useState } from 'react'
import { useRefresh } from '@/api/changes'
import { answer, type CureCard, client, newId, type PostCureTried, Problem } from '@/api/client'
import { useShow, useUnitOf } from '@/app/formats'
import { Button } from '@/ui/button'
import { DayField } from '@/ui/day-field'
import { Notice } from '@/ui/notice'
import { Pick } from '@/ui/pick'
import { TextField } from '@/ui/text-field'

type Leg = { to: string; ramp: string; hold: string }
type Props = { card: CureCard; onTried: (card: CureCard | null) => void; onClose: () => void }

/** Ramps and holds, looked at before they are kept: what the glass transition comes to, and what speaks against it. */
export function PostCureForm({ card, onTried, onClose }: Props) {
  const refresh = useRefresh()
  const show = useShow()
  const unit = useUnitOf()('temperature')
  const [legs, setLegs] = useState<Leg[]>([
    { to: show(45, 'temperature'), ramp: show(5, 'difference'), hold: '8 h' },
  ])
  const [start, setStart] = useState('')
  const [service, setService] = useState('')
  const [cool, setCool] = useState('')
  const [from, setFrom] = useState(card.place.zone_id)
  const [tried, setTried] = useState<PostCureTried | null>(null)
  const [problem, setProblem] = useState<Problem | null>(null)
  const body = {
    part_id: card.part_id,
    step_key: card.step_key,
    start: start || null,
    service: service.trim() ? { text: service, unit } : null,
    cool: { text: cool, unit: unit === '°F' ? 'Δ°F' : 'K' },
    heat_from: from,
    legs: legs.map((leg) => ({
      to: { text: leg.to, unit },
      ramp: { text: leg.ramp, unit: unit === '°F' ? 'Δ°F' : 'K' },
      hold: { text: leg.hold, unit: 'h' },
    })),
  }
  const tell = async (work: () => Promise<void>) => {
    try {
      await work()
      setProblem(null)
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      setProblem(error)
      setTried(null)
      onTried(null)
    }
  }
  const look = () =>
    tell(async () => {
      const found = await answer(client.POST('/api/v1/cures/post-cure', { body }))
      setTried(found)
      onTried(found.card)
    })
  const keep = () =>
    tell(async () => {
      await answer(client.POST('/api/v1/post-cures', { body: { ...body, id: newId() } }))
      await refresh()
      onClose()
    })
  const put = (i: number, part: Partial<Leg>) =>
    setLegs(legs.map((leg, j) => (i === j ? { ...leg, ...part } : leg)))
  return (
    <section aria-label="Post-cure" className="flex flex-col gap-3 border-2 border-line p-4">
      {legs.map((leg, i) => (
        <div key={`${i + 1}`} className="flex flex-wrap items-end gap-3">
          <TextField
            label={i ? 'then ramp an hour' : 'Ramp an hour'}
            value={leg.ramp}
            problem={i ? undefined : problem?.fields.ramp}
            onChange={(ramp) => put(i, { ramp })}
            className="w-36"
          />
          <TextField
            label="to"
            value={leg.to}
            problem={i ? undefined : problem?.fields.to}
            onChange={(to) => put(i, { to })}
            className="w-32"
          />
          <TextField
            label="and hold"
            value={leg.hold}
            problem={i ? undefined : problem?.fields.hold}
            onChange={(hold) => put(i, { hold })}
            className="w-28"
          />
          {i === legs.length - 1 && (
            <>
              <Button quiet onClick={() => setLegs([...legs, { ...leg }])}>
                Another hold
              </Button>
              {i > 0 && (
                <Button quiet onClick={() => setLegs(legs.slice(0, -1))}>
                  One less
                </Button>
              )}
            </>
          )}
        </div>
      ))}
      <div className="flex flex-wrap items-end gap-3">
        <DayField
          label="From (empty: now)"
          withTime
          value={start}
          problem={problem?.fields.start}
          onChange={setStart}
          className="w-60"
        />
        <TextField
          label="Cooled an hour by"
          placeholder="as is usual"
          value={cool}
          problem={problem?.fields.cool}
          onChange={setCool}
          className="w-40"
        />
        <div className="w-56">
          <Pick
            label="The heat comes from"
            value={from}
            choices={[
              ...card.place.zones.map((zone) => ({ value: zone.id, name: zone.name })),
              { value: 'tent', name: 'A heated tent round it' },
            ]}
            onChange={setFrom}
          />
        </div>
        <TextField
          label="In service it comes to"
          placeholder="white, in the sun"
          value={service}
          problem={problem?.fields.service}
          onChange={setService}
          className="w-52"
        />
        <Button onClick={() => void look()}>Look at it</Button>
        {tried && (
          <Button quiet onClick={() => void keep()}>
            Keep this post-cure
          </Button>
        )}
        <Button quiet onClick={onClose}>
          Close
        </Button>
      </div>
      {problem && !['ramp', 'to', 'hold', 'start', 'service', 'cool'].some((f) => problem.fields[f]) && (
        <Notice tone="stop">{problem.message}</Notice>
      )}
      {tried && (
        <div className="flex flex-col gap-2" data-testid="post-cure">
          {tried.against.map((words) => (
            <Notice key={words} tone="stop">
              {words}
            </Notice>
          ))}
          <p className="font-semibold text-lg">{tried.sentence}</p>
          {tried.follows.map((words) => (
            <p key={words}>{words}</p>
          ))}
          <p className="text-soft text-sm">
            Computed from the sheet’s gel and glass transitions; the maker’s post-cure and the designer
            decide.
          </p>
        </div>
      )}
    </section>
  )
}
