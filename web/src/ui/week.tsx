import { TextField } from './text-field'

export const DAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday']

type Props = { week: string[]; problems: Record<string, string>; onChange: (week: string[]) => void }

/** Hours of each day as one line, several spells apart by commas; an empty day is a day off. */
export function Week({ week, problems, onChange }: Props) {
  return (
    <>
      {DAYS.map((name, day) => (
        <div key={name} className="grid grid-cols-[7rem_1fr] items-start gap-2">
          <span className="pt-2.5">{name}</span>
          <TextField
            aria-label={`Hours on ${name}`}
            value={week[day] ?? ''}
            placeholder="–"
            problem={problems[`week.${day}`]}
            onChange={(text) => onChange(week.map((line, n) => (n === day ? text : line)))}
          />
        </div>
      ))}
    </>
  )
}
