import { useRef, useState } from 'react'
import { TextField } from './text-field'

type Props = {
  label: string
  /** The saved value in words, shown until something else is typed. */
  saved: string
  problem?: string
  /** Answers whether what was typed is settled; until then it stays in the field. */
  onSave: (text: string) => Promise<boolean>
  className?: string
}

/** A field that saves when left or on Enter, and only if something was typed. */
export function SavedField({ label, saved, problem, onSave, className }: Props) {
  const [typed, setTyped] = useState<string | null>(null)
  const sent = useRef<string | null>(null)
  // What was refused: its problem says nothing of what is typed since.
  const [refused, setRefused] = useState<string | null>(null)
  const save = async () => {
    if (typed === null || sent.current === typed) return
    sent.current = typed
    const settled = await onSave(typed)
    if (settled) setTyped((now) => (now === typed ? null : now))
    setRefused(settled ? null : typed)
    sent.current = null
  }
  return (
    <TextField
      label={label}
      value={typed ?? saved}
      problem={typed === null || typed === refused ? problem : undefined}
      className={className}
      onChange={setTyped}
      onBlur={save}
      onKeyDown={(event) => {
        if (event.key === 'Enter') void save()
        if (event.key === 'Escape') setTyped(null)
      }}
    />
  )
}
