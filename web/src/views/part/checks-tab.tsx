import { useState } from 'react'
import { Link, useLocation, useNavigate, useSearchParams } from 'react-router'
import { answer, type ChecksView, type CheckView, client } from '@/api/client'
import { useChecks } from '@/api/questions'
import { Button } from '@/ui/button'
import { Decide } from '@/ui/decide'
import { Notice } from '@/ui/notice'
import { Photos } from '@/ui/photos'
import { TakeBack } from '@/ui/take-back'
import { CheckRow } from '@/weave/check-row'
import { CheckForm } from './check-form'
import { ReadCheck } from './read-check'

type Reading = CheckView['readings'][number]
/** Out of tolerance: accepted with a name and a reason, to be mended, or to be done again. */
const RULINGS = [
  { kind: 'accept' as const, name: 'Accept it as it is' },
  { kind: 'mend' as const, name: 'Mend it' },
  { kind: 'redo' as const, name: 'Do it again' },
]
const WORD = { once: 'Found', before: 'Before', between: 'Between', after: 'After' } as const

/** What is read on a part against what is asked: on a keypad, before and after side by side, and decided where it is out. */
export function ChecksTab({ partId }: { partId: string }) {
  const asked = useChecks(partId)
  const [adding, setAdding] = useState(false)
  if (asked.error && !asked.data) return <Notice tone="stop">{asked.error.message}</Notice>
  const view = asked.data
  if (!view) return null
  return (
    <div className="flex flex-col gap-8">
      {view.checks.length === 0 && !adding && (
        <p className="max-w-2xl text-lg text-soft">
          Nothing is read on it yet. A check is what the tape, the string or the inclinometer must say: rib
          spacing, twist at stations, a gap, a torque; with how far it may be off.
        </p>
      )}
      {view.checks.map((check) => (
        <Check key={check.id} check={check} view={view} />
      ))}
      {adding ? (
        <CheckForm key="new" view={view} onDone={() => setAdding(false)} />
      ) : (
        <Button quiet className="self-start" onClick={() => setAdding(true)}>
          Another check…
        </Button>
      )}
      {view.away.length > 0 && (
        <p className="text-soft">Put away: {view.away.map(({ name }) => name).join(', ')}.</p>
      )}
      <p className="text-soft text-sm">{view.caution}</p>
    </div>
  )
}

function Check({ check, view }: { check: CheckView; view: ChecksView }) {
  const [params] = useSearchParams()
  const go = useNavigate()
  const opened = useLocation().key === 'default'
  // Come from a step that is this reading: its keypad is open, and goes back there.
  const asked = check.moments.find(
    ({ step_key }) => step_key !== '' && step_key === params.get('read'),
  )?.moment
  const [reading, setReading] = useState<Reading['moment'] | null>(asked ?? null)
  const [editing, setEditing] = useState(false)
  const unread = check.moments.find(({ moment }) => !check.readings.some((one) => one.moment === moment))
  const last = check.readings.at(-1)
  return (
    <section
      aria-label={check.name}
      className="flex flex-col gap-3 border-line border-t-2 pt-4 first:border-t-0 first:pt-0"
    >
      <div className="flex flex-wrap items-start justify-between gap-x-6 gap-y-2">
        <div>
          <h3 className="font-semibold text-xl">{check.name}</h3>
          <p className="text-soft">
            {check.kind}, may be off {check.tolerance}
            {check.after && `; ${with_step(check)}`}
          </p>
        </div>
        <div className="flex flex-wrap gap-2">
          {check.moments.map(({ moment }) => (
            <Button
              key={moment}
              quiet={check.moments.length > 1 && moment !== unread?.moment}
              onClick={() => setReading(moment)}
            >
              {moment === 'once' ? 'Read it' : `Read ${moment}`}
            </Button>
          ))}
          <Button quiet onClick={() => setEditing(!editing)}>
            Change…
          </Button>
        </div>
      </div>
      {editing && <CheckForm check={check} view={view} onDone={() => setEditing(false)} />}
      <CheckRow check={check} />
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: on a phone it is scrolled sideways, by keys too */}
      <section tabIndex={0} aria-label={`What was read of ${check.name}`} className="overflow-x-auto">
        <table className="min-w-[32rem]">
          <thead className="text-left text-soft">
            <tr>
              <th className="pr-4 font-normal">Place</th>
              <th className="pr-4 font-normal">Asked</th>
              {check.readings.map((one) => (
                <th key={one.id} className="pr-4 font-normal" colSpan={2}>
                  {WORD[one.moment]}, {one.who}
                </th>
              ))}
              {check.others.map((one) => (
                <th key={one.part_id} className="pr-4 font-normal" colSpan={2}>
                  <Link className="underline" to={`/part/${one.part_id}/checks`}>
                    {one.name}
                  </Link>
                  {one.moment !== 'once' && `, ${one.moment}`}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {check.places.map((place, n) => (
              <tr key={place.name} className="border-line border-t">
                <td className="whitespace-nowrap py-1.5 pr-4">
                  {place.name}
                  {place.at && <span className="text-soft"> at {place.at}</span>}
                </td>
                <td className="whitespace-nowrap pr-4 tabular-nums">{place.asked}</td>
                {[...check.readings, ...check.others].map((one, m) => (
                  <Cells key={m} value={one.values[n]} />
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      {last && (
        <Notice tone={last.holds ? 'ready' : last.decided === 'accept' ? 'care' : 'stop'}>
          {last.says.map((words) => (
            <span key={words} className="block">
              {words}
            </span>
          ))}
        </Notice>
      )}
      {check.moved && <p>{check.moved}</p>}
      {check.apart && <p>{check.apart}</p>}
      {last?.decision && <p className="font-semibold">{last.decision}</p>}
      {last && !last.holds && !last.decided && (
        <Decide
          words="What follows is held until it is decided."
          kinds={RULINGS.map((one) =>
            one.kind === 'mend' && check.mends ? { ...one, name: `Mend it: ${check.mends}` } : one,
          )}
          people={view.people}
          send={(body) =>
            answer(
              client.POST('/api/v1/measured/{measured_id}/rulings', {
                params: { path: { measured_id: last.id } },
                body,
              }),
            )
          }
        />
      )}
      {last && (
        <div className="flex flex-wrap items-center gap-3">
          <Photos of={`measured/${last.id}`} photos={last.photos} name={`${check.name}, ${last.who}`} />
        </div>
      )}
      {last && (
        <TakeBack
          what="measured"
          of_id={last.id}
          label={last.moment === 'once' ? 'Take this reading back' : `Take back what was read ${last.moment}`}
          className="self-start"
        />
      )}
      {check.earlier > 0 && (
        <p className="text-soft text-sm">
          {check.earlier === 1 ? 'One earlier reading is' : `${check.earlier} earlier readings are`} kept in
          the record.
        </p>
      )}
      {reading && (
        <ReadCheck
          check={check}
          moment={reading}
          view={view}
          onClose={() => (reading === asked && !opened ? void go(-1) : setReading(null))}
        />
      )}
    </section>
  )
}

function with_step(check: CheckView) {
  if (check.reads === 'each') return 'read before, between and after the skins'
  return `${check.reads === 'twice' ? 'before and after' : 'after'} “${check.after}”`
}

function Cells({ value }: { value: Reading['values'][number] | undefined }) {
  const tone = value && !value.holds ? 'font-semibold text-madder' : ''
  return (
    <>
      <td className={`whitespace-nowrap pr-2 tabular-nums ${tone}`}>{value?.found || '—'}</td>
      <td className={`whitespace-nowrap pr-4 text-sm tabular-nums ${tone || 'text-soft'}`}>{value?.off}</td>
    </>
  )
}
