import { clsx } from 'clsx'
import type { Figure } from '@/api/client'
import { useShow } from '@/app/formats'
import { useFromWhat } from '@/app/from-what'

type Props = { figure: Figure; label?: string; bare?: boolean; className?: string }

/** A figure that answers "from what?" when picked; assumed ones are dotted underneath. */
export function FigureValue({ figure, label, bare, className }: Props) {
  const ask = useFromWhat()
  const show = useShow()
  const shown = show(figure.value, figure.kind)
  return (
    <button
      type="button"
      onClick={() => ask(figure)}
      aria-label={`${label ?? figure.label} ${shown}: from what?`}
      className={clsx('group min-h-11 text-left hover:bg-woad-wash', !bare && 'px-2 py-1', className)}
    >
      {!bare && <span className="block text-soft text-sm">{label ?? figure.label}</span>}{' '}
      <span
        className={clsx(
          'border-b-2 font-semibold group-hover:border-woad',
          !bare && 'text-xl',
          figure.assumed ? 'border-weld border-dotted' : 'border-transparent',
        )}
      >
        {shown}
      </span>
    </button>
  )
}

/** Says what the dots under a figure mean, where any is dotted. */
export function AssumedNote({ figures }: { figures: Figure[] }) {
  if (!figures.some((figure) => figure.assumed)) return null
  return (
    <p className="text-soft text-sm">
      <span className="border-weld border-b-2 border-dotted">Dotted</span> figures rest on something assumed;
      pick one to see what.
    </p>
  )
}
