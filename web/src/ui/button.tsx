import { clsx } from 'clsx'
import type { ButtonHTMLAttributes } from 'react'

type Props = ButtonHTMLAttributes<HTMLButtonElement> & { quiet?: boolean; big?: boolean }

export function Button({ quiet, big, className, ...rest }: Props) {
  return (
    <button
      type="button"
      {...rest}
      className={clsx(
        'min-h-11 border-2 px-4 font-semibold disabled:opacity-50',
        big && 'min-h-16 px-8 text-xl',
        quiet
          ? 'border-line bg-panel text-ink enabled:hover:border-ink'
          : 'border-ink bg-ink text-ground enabled:hover:bg-walnut enabled:hover:border-walnut',
        className,
      )}
    />
  )
}
