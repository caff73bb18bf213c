import { useState } from 'react'
import type { Supposed, WhatIf } from '@/api/client'
import { useUnitOf } from '@/app/formats'
import { Button } from '@/ui/button'
import { DayField } from '@/ui/day-field'
import { Notice } from '@/ui/notice'
import { Pick } from '@/ui/pick'
import { TextField } from '@/ui/text-field'
import { Toggles } from '@/ui/toggles'
import { DAYS } from '@/ui/week'

const KINDS: { value: Supposed['kind']; name: string }[] = [
  { value: 'heat', name: 'a room is heated' },
  { value: 'person', name: 'there is one more on the crew' },
  { value: 'station', name: 'there is more of a place or device' },
  { value: 'late', name: 'a delivery comes later, or sooner' },
  { value: 'product', name: 'another product is taken' },
  { value: 'away', name: 'somebody is away' },
  { value: 'colder', name: 'it gets colder outside' },
]

type Props = {
  can: WhatIf['can']
  fields: Record<string, string>
  says: string
  /** Answers whether it was taken. */
  onSuppose: (one: Supposed) => Promise<boolean>
  onNot: (() => void) | null
}

/** One change to suppose: what kind, and what it takes to say it. */
export function SupposeForm({ can, fields, says, onSuppose, onNot }: Props) {
  const unit = useUnitOf()
  const [kind, setKind] = useState<Supposed['kind']>('heat')
  const [of, setOf] = useState('')
  const [to, setTo] = useState('')
  const [value, setValue] = useState('')
  const [name, setName] = useState('')
  const [skills, setSkills] = useState<string[]>([])
  const [days, setDays] = useState<string[]>([])
  const [first, setFirst] = useState('')
  const [last, setLast] = useState('')
  const [count, setCount] = useState('')
  const choices = {
    heat: can.zones,
    station: can.stations,
    late: can.awaited,
    product: can.products,
    away: can.people,
    person: [],
    colder: [],
  }[kind]
  const chosen = choices.some((one) => one.id === of) ? of : (choices[0]?.id ?? '')
  const others = can.products.find((one) => one.id === chosen)?.to ?? []
  const other = others.some((one) => one.id === to) ? to : (others[0]?.id ?? '')
  const nothing = choices.length === 0 && kind !== 'person' && kind !== 'colder'
  // Only what this kind asks: what was typed of another kind is not seen, nor refused.
  const dated = kind === 'away' || kind === 'colder'
  const person = kind === 'person'
  const said = (): Supposed => ({
    kind,
    of: chosen,
    value:
      kind === 'heat' || kind === 'colder'
        ? { text: value, unit: unit(kind === 'heat' ? 'temperature' : 'difference') }
        : null,
    name: person ? name : '',
    skills: person ? skills : [],
    week: person && days.length > 0 ? DAYS.map((day) => (days.includes(day) ? '0:00–24:00' : '')) : null,
    first: dated ? first || null : null,
    last: dated ? last || null : null,
    count: kind === 'station' || kind === 'late' ? count : '',
    to: other,
  })
  return (
    <form
      aria-label="Suppose"
      className="flex flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault()
        void onSuppose(said())
      }}
    >
      <div className="flex flex-wrap items-start gap-3">
        <Pick
          label="Suppose that"
          value={kind}
          choices={KINDS}
          onChange={(kind) => setKind(kind as Supposed['kind'])}
        />
        {choices.length > 0 && (
          <Pick
            label={OF[kind] ?? 'Of'}
            value={chosen}
            choices={choices.map((one) => ({ value: one.id, name: one.name }))}
            onChange={setOf}
          />
        )}
        {kind === 'product' && (
          <Pick
            label="In its place"
            value={other}
            choices={others.map((one) => ({ value: one.id, name: one.name }))}
            onChange={setTo}
          />
        )}
        {kind === 'heat' && (
          <TextField
            label="Held at"
            className="w-28"
            value={value}
            unit={unit('temperature')}
            problem={fields.value ?? fields.heat}
            onChange={setValue}
          />
        )}
        {kind === 'colder' && (
          <TextField
            label="Colder by"
            className="w-28"
            value={value}
            unit={unit('difference')}
            problem={fields.value}
            onChange={setValue}
          />
        )}
        {kind === 'station' && (
          <TextField
            label="So many more"
            className="w-28"
            value={count}
            placeholder="1"
            inputMode="numeric"
            problem={fields.count}
            onChange={setCount}
          />
        )}
        {kind === 'late' && (
          <TextField
            label="Days later (− sooner)"
            className="w-44"
            value={count}
            placeholder="7"
            problem={fields.count}
            onChange={setCount}
          />
        )}
        {dated && (
          <>
            <DayField label="From" value={first} problem={fields.first ?? fields.start} onChange={setFirst} />
            <DayField label="To" value={last} problem={fields.last ?? fields.end} onChange={setLast} />
          </>
        )}
        {person && (
          <TextField
            label="Called"
            className="w-44"
            value={name}
            placeholder="One more"
            problem={fields.name}
            onChange={setName}
          />
        )}
      </div>
      {person && (
        <>
          <Toggles label="Who can do" known={can.skills} chosen={skills} onChange={setSkills} />
          <Toggles
            label="Only on (none: whenever the shop is open)"
            known={DAYS}
            chosen={days}
            onChange={setDays}
          />
        </>
      )}
      {nothing && <p className="text-soft">There is nothing of that here yet.</p>}
      {says && <Notice tone="stop">{says}</Notice>}
      <div className="flex flex-wrap gap-3">
        <Button type="submit" disabled={nothing}>
          Suppose it
        </Button>
        {onNot && (
          <Button quiet onClick={onNot}>
            Not after all
          </Button>
        )}
      </div>
    </form>
  )
}

const OF: Partial<Record<Supposed['kind'], string>> = {
  heat: 'Which',
  station: 'Which',
  late: 'What',
  product: 'In place of',
  away: 'Who',
}
