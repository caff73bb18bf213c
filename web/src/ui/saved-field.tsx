import { useEffect, useRef, useState } from 'react'
import { TextField } from './text-field'

type Props = {
  label: string
  /** The saved value in words; the field follows it until something is typed. */
  saved: string
  problem?: string
  onSave: (text: string) => Promise<boolean>
  className?: string
}

/** A field that saves when left or on Enter, and only if something was typed. */
export function SavedField({ label, saved, problem, onSave, className }: Props) {
  const [text, setText] = useState(saved)
  const typed = useRef(false)
  useEffect(() => {
    if (!typed.current) setText(saved)
  }, [saved])
  const save = async () => {
    if (!typed.current) return
    if (await onSave(text)) typed.current = false
  }
  return (
    <TextField
      label={label}
      value={text}
      problem={problem}
      className={className}
      onChange={(next) => {
        typed.current = true
        setText(next)
      }}
      onBlur={save}
      onKeyDown={(event) => {
        if (event.key === 'Enter') void save()
        if (event.key === 'Escape') {
          typed.current = false
          setText(saved)
        }
      }}
    />
  )
}
