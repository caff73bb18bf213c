import { clsx } from 'clsx'
import { type InputHTMLAttributes, useId } from 'react'

type Props = Omit<InputHTMLAttributes<HTMLInputElement>, 'onChange' | 'value'> & {
  label?: string
  value: string
  unit?: string
  problem?: string
  big?: boolean
  onChange: (text: string) => void
}

/** One line of typed text. Its problem stands below it and what was typed stays. */
export function TextField({ label, value, unit, problem, big, onChange, className, ...rest }: Props) {
  const id = useId()
  return (
    <div className={clsx('flex flex-col gap-1', className)}>
      {label && (
        <label htmlFor={id} className="text-soft">
          {label}
        </label>
      )}
      <div
        className={clsx(
          'flex items-center border-2 bg-panel focus-within:border-woad',
          problem ? 'border-madder' : 'border-line',
        )}
      >
        <input
          id={id}
          {...rest}
          value={value}
          autoComplete="off"
          spellCheck={false}
          aria-invalid={problem ? true : undefined}
          aria-describedby={problem ? `${id}-problem` : undefined}
          onChange={(event) => onChange(event.target.value)}
          className={clsx(
            'w-full min-w-0 bg-transparent px-3 outline-none',
            big ? 'h-16 font-semibold text-3xl' : 'h-11',
          )}
        />
        {unit && <span className={clsx('pr-3 text-soft', big && 'text-xl')}>{unit}</span>}
      </div>
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
