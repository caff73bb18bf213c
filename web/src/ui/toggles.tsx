import { clsx } from 'clsx'
import type { ReactNode } from 'react'

type Props = {
  label: string
  known: string[]
  chosen: string[]
  onChange: (chosen: string[]) => void
  children?: ReactNode
}

/** Any of some words, each put on or off with a tap. */
export function Toggles({ label, known, chosen, onChange, children }: Props) {
  return (
    <fieldset className="flex flex-wrap items-end gap-2">
      <legend className="mb-1 text-soft">{label}</legend>
      {known.map((word) => {
        const has = chosen.includes(word)
        return (
          <button
            key={word}
            type="button"
            aria-pressed={has}
            onClick={() => onChange(has ? chosen.filter((w) => w !== word) : [...chosen, word])}
            className={clsx('min-h-11 border-2 px-3', has ? 'border-ink bg-ink text-ground' : 'border-line')}
          >
            {has ? '✓ ' : ''}
            {word}
          </button>
        )
      })}
      {children}
    </fieldset>
  )
}
