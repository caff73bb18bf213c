import { clsx } from 'clsx'
import type { Pour } from '@/api/client'
import { Button } from '@/ui/button'
import { TextField } from '@/ui/text-field'

/** What the scale shows beyond what was in the cup [g]. */
export const addedSince = (pour: Pour, from: number | null, grams: number | null) => {
  const before = (from ?? pour.resin_g) + (pour.hardener_g ?? 0)
  return Math.max((grams ?? before) - before, 0)
}

type PartProps = {
  /** The figure is what is to be added, not what is to be in the cup. */
  adding?: boolean
  followed: boolean
  onDone?: () => void
  lid: string
  target: string
  onFrom?: () => void
  typed: string
  onTyped: (text: string) => void
  unit: string
  problem?: string
  children: React.ReactNode
}

/** One of the two: how much to pour, how much is in the cup. */
export function Part({
  adding,
  followed,
  onDone,
  lid,
  target,
  onFrom,
  typed,
  onTyped,
  unit,
  problem,
  children,
}: PartProps) {
  return (
    <section
      className={clsx(
        'flex flex-col gap-2 border-2 bg-panel px-5 py-2',
        followed ? 'border-ink' : 'border-line',
      )}
    >
      <h2 className="flex min-h-11 items-center justify-between gap-3 text-xl">
        {lid}
        {onDone && <Button onClick={onDone}>That is in</Button>}
      </h2>
      <button
        type="button"
        disabled={!onFrom}
        onClick={onFrom}
        className="whitespace-nowrap text-left font-semibold text-[96px] leading-none md:max-lg:text-[64px] tracking-tight enabled:hover:text-woad"
        aria-label={`Pour ${target} of ${lid}: from what?`}
      >
        <span className={clsx(target === '–' && 'text-soft text-[44px]')}>{target.split(' ')[0]}</span>
        <span className="text-[44px]"> {target.split(' ').slice(1).join(' ')}</span>
        {adding && <span className="font-normal text-2xl text-soft tracking-normal"> to add</span>}
      </button>
      {children}
      <TextField
        big
        label="In the cup, by the scale"
        inputMode="decimal"
        unit={unit}
        value={typed}
        onChange={onTyped}
        problem={problem}
        className="lg:flex-row lg:flex-wrap lg:items-center lg:gap-x-3 lg:[&>div]:min-w-40 lg:[&>div]:flex-1 lg:[&>p]:basis-full"
      />
    </section>
  )
}
