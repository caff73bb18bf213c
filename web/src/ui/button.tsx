import { clsx } from 'clsx'
import type { ButtonHTMLAttributes } from 'react'
import { Link, type LinkProps } from 'react-router'

type Look = { quiet?: boolean; big?: boolean }

const look = ({ quiet, big }: Look, className?: string) =>
  clsx(
    'min-h-11 border-2 px-4 font-semibold disabled:opacity-50',
    big && 'min-h-16 px-8 text-xl',
    quiet
      ? 'border-line bg-panel text-ink not-disabled:hover:border-ink'
      : 'border-ink bg-ink text-ground not-disabled:hover:border-walnut not-disabled:hover:bg-walnut',
    className,
  )

export function Button({ quiet, big, className, ...rest }: ButtonHTMLAttributes<HTMLButtonElement> & Look) {
  return <button type="button" {...rest} className={look({ quiet, big }, className)} />
}

/** A way to another page that looks like a button, because it is the next thing to do. */
export function ButtonLink({ quiet, big, className, ...rest }: LinkProps & Look) {
  return <Link {...rest} className={look({ quiet, big }, clsx('inline-flex items-center', className))} />
}
