import { clsx } from 'clsx'

const TINTS = ['bg-woad', 'bg-walnut', 'bg-lichen', 'bg-ink', 'bg-weld', 'bg-soft']

/** A cup's letter on its colour, as it is written on the cup: so one knows which clock is which. */
export function CupToken({ letter, tint, big }: { letter: string; tint: number; big?: boolean }) {
  return (
    <span
      className={clsx(
        'grid shrink-0 place-items-center rounded-b-full font-bold text-on-dye',
        big ? 'size-24 text-6xl' : 'size-8 text-lg',
        TINTS[tint],
      )}
    >
      {letter}
    </span>
  )
}
