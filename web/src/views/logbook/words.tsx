import { useId } from 'react'

type Props = { label: string; value: string; problem?: string; onChange: (words: string) => void }

/** Some lines of writing. Its problem stands below it and what was typed stays. */
export function Words({ label, value, problem, onChange }: Props) {
  const id = useId()
  return (
    <div className="flex flex-col gap-1">
      <label htmlFor={id} className="text-soft">
        {label}
      </label>
      <textarea
        id={id}
        rows={Math.min(Math.max(4, value.split('\n').length + 1), 14)}
        value={value}
        aria-invalid={problem ? true : undefined}
        aria-describedby={problem ? `${id}-problem` : undefined}
        onChange={(event) => onChange(event.target.value)}
        className="border-2 border-line bg-panel px-3 py-2 text-lg outline-none focus:border-woad"
      />
      {problem && (
        <p
          id={`${id}-problem`}
          role="alert"
          className="edge-stop bg-madder-wash px-3 py-1.5 text-madder text-sm"
        >
          {problem}
        </p>
      )}
    </div>
  )
}
