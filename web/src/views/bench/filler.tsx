import type { Pour } from '@/api/client'
import { useShow } from '@/app/formats'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { TextField } from '@/ui/text-field'
import type { Draft } from './draft'

type Props = {
  wanted: NonNullable<Pour['filler']>
  draft: Draft
  change: (part: Partial<Draft>) => void
  unit: string
}

/** The filler, called for once the ratio is right, for what was really poured. */
export function Filler({ wanted, draft, change, unit }: Props) {
  const show = useShow()
  const filler = draft.filler
  if (!filler) return null
  const all = show(wanted.grams, 'scale').replace(` ${unit}`, '')
  return (
    <Notice
      tone={filler.grams ? 'ready' : 'wait'}
      className="flex flex-wrap items-end justify-between gap-4 text-xl"
    >
      <span data-testid="filler" className="min-w-64 flex-1 font-semibold text-2xl">
        {wanted.words}
      </span>
      <TextField
        label="Filler in the cup"
        unit={unit}
        value={filler.grams}
        onChange={(grams) => change({ filler: { ...filler, grams } })}
        className="w-44"
      />
      <Button onClick={() => change({ filler: { ...filler, grams: all } })}>
        It is in: {all} {unit}
      </Button>
      <Button quiet onClick={() => change({ filler: null })}>
        Without filler
      </Button>
    </Notice>
  )
}
