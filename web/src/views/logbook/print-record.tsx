import { useState } from 'react'
import { DayField } from '@/ui/day-field'
import { Pick } from '@/ui/pick'

const DAY = /^\d{4}-\d{2}-\d{2}$/

/** The build record on paper: of an airframe, whole or of some days. A part's own is on its Record. */
export function PrintRecord({ airframes }: { airframes: { id: string; name: string }[] }) {
  const [airframe, setAirframe] = useState(airframes[0]?.id ?? '')
  const [since, setSince] = useState('')
  const [until, setUntil] = useState('')
  const days = new URLSearchParams()
  if (DAY.test(since)) days.set('since', since)
  if (DAY.test(until)) days.set('until', until)
  const read = [since, until].every((day) => day === '' || DAY.test(day))
  const backwards = DAY.test(since) && DAY.test(until) && since > until
  return (
    <section aria-label="Build record" className="flex flex-col gap-3 border-line border-l-6 pl-4">
      <p className="max-w-3xl">
        Who built it, by kind of work; then each part with its drawing, mixes and their lots, cures, readings,
        what was decided and signed, photographs.
      </p>
      <div className="flex flex-wrap items-end gap-3">
        {airframes.length > 1 && (
          <Pick
            label="Of"
            value={airframe}
            choices={airframes.map(({ id, name }) => ({ value: id, name }))}
            onChange={setAirframe}
          />
        )}
        <DayField
          label="From (empty: its first day)"
          value={since}
          past
          onChange={setSince}
          className="w-64"
        />
        <DayField
          label="Until (empty: today)"
          value={until}
          past
          problem={backwards ? 'it ends before it begins' : undefined}
          onChange={setUntil}
          className="w-64"
        />
        {airframe && read && !backwards && (
          <a
            href={`/api/v1/airframes/${airframe}/record.pdf?${days}`}
            target="_blank"
            rel="noreferrer"
            className="inline-flex min-h-[calc(2.75rem+4px)] items-center border-2 border-ink bg-ink px-4 font-semibold text-ground hover:bg-walnut"
          >
            Print the build record
          </a>
        )}
      </div>
    </section>
  )
}
