import { useState } from 'react'
import { useRefresh } from '@/api/changes'
import { answer, type CureCard, client, newId, Problem } from '@/api/client'
import { useOnce } from '@/api/once'
import { useUnitOf } from '@/app/formats'
import { Button } from '@/ui/button'
import { DayField } from '@/ui/day-field'
import { Notice } from '@/ui/notice'
import { Pick } from '@/ui/pick'
import { TextField } from '@/ui/text-field'

/** Where the part is and how warm it is itself; moved, read, or its post-cure called off. */
export function PartPlace({ place, part }: { place: CureCard['place']; part: string }) {
  const refresh = useRefresh()
  const unit = useUnitOf()('temperature')
  const [temp, setTemp] = useState('')
  const [back, setBack] = useState('')
  // Where it is to go, until that is settled.
  const [to, setTo] = useState('')
  const [problem, setProblem] = useState<Problem | null>(null)
  const path = { params: { path: { part_id: place.part_id } } }
  const once = useOnce()
  const tell = (what: string, work: () => Promise<unknown>) =>
    once(what, async () => {
      try {
        await work()
        setProblem(null)
        setTemp('')
        await refresh()
      } catch (error) {
        if (!(error instanceof Problem)) throw error
        setProblem(error)
      }
    })
  const move = (zone_id: string, sure: boolean) => {
    setTo(zone_id)
    return tell('move', async () => {
      await answer(
        client.POST('/api/v1/parts/{part_id}/place', {
          ...path,
          body: { id: newId(), zone_id, back: back || null, sure },
        }),
      )
      setTo('')
      setBack('')
    })
  }
  const read = (sure: boolean) =>
    tell('read', () =>
      answer(
        client.POST('/api/v1/parts/{part_id}/temperature', {
          ...path,
          body: { id: newId(), temp: { text: temp, unit }, sure },
        }),
      ),
    )
  const takeBack = () =>
    tell('take back', () =>
      answer(
        client.POST('/api/v1/taken-back', {
          body: { id: newId(), what: 'part temperature', of_id: place.typed_id, note: '' },
        }),
      ),
    )
  const callOff = () =>
    tell('call off', () =>
      answer(
        client.POST('/api/v1/post-cures/{heating_id}/off', {
          params: { path: { heating_id: place.heating_id } },
          body: { id: newId() },
        }),
      ),
    )
  return (
    <section aria-label={`Where it is: ${part}`} className="flex flex-wrap items-end gap-x-4 gap-y-2">
      <div className="w-48">
        <Pick
          label="It is in the"
          value={to || place.zone_id}
          choices={place.zones.map((zone) => ({ value: zone.id, name: zone.name }))}
          onChange={(zone) => (zone === place.zone_id ? setTo('') : setTo(zone))}
        />
      </div>
      {to && (
        <>
          <DayField
            label="Back where it was (empty: it stays)"
            withTime
            value={back}
            problem={problem?.fields.back}
            onChange={setBack}
            className="w-64"
          />
          <Button onClick={() => void move(to, false)}>Move it there</Button>
          <Button
            quiet
            onClick={() => {
              setTo('')
              setProblem(null)
            }}
          >
            Leave it
          </Button>
        </>
      )}
      <TextField
        label="The part itself, read now"
        unit={unit}
        value={temp}
        problem={problem?.fields.temp}
        onChange={setTemp}
        className="w-52"
      />
      <Button quiet disabled={!temp.trim()} onClick={() => void read(false)}>
        It reads that
      </Button>
      <p className="min-w-56 flex-1 self-center pt-5 text-soft">{place.words}</p>
      {place.typed_id && (
        <Button quiet onClick={() => void takeBack()}>
          Take that reading back
        </Button>
      )}
      {place.heating && (
        <p className="flex w-full flex-wrap items-center gap-4">
          {place.heating}
          {place.heating_id && (
            <Button quiet onClick={() => void callOff()}>
              Call it off
            </Button>
          )}
        </p>
      )}
      {problem && !problem.fields.temp && !problem.fields.back && (
        <Notice tone="stop" className="w-full">
          {problem.fields.sure ?? problem.message}
          {problem.fields.sure && (
            <Button quiet className="ml-4" onClick={() => void (to ? move(to, true) : read(true))}>
              Yes, it is so
            </Button>
          )}
        </Notice>
      )}
    </section>
  )
}
