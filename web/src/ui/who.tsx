import { clsx } from 'clsx'

type Props = {
  label: string
  people: { id: string; name: string }[]
  who: string
  onWho: (who: string) => void
}

/** One of the crew, by a tap on the name; a second tap takes it back. */
export function Who({ label, people, who, onWho }: Props) {
  return (
    <fieldset className="flex flex-wrap gap-2">
      <legend className="mb-1 text-soft">{label}</legend>
      {people.map((person) => (
        <button
          key={person.id}
          type="button"
          aria-pressed={who === person.id}
          onClick={() => onWho(who === person.id ? '' : person.id)}
          className={clsx(
            'min-h-12 border-2 px-4 text-lg',
            who === person.id ? 'border-ink bg-ink font-semibold text-ground' : 'border-line bg-panel',
          )}
        >
          {person.name}
        </button>
      ))}
    </fieldset>
  )
}
