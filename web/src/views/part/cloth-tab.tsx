import { useCloth } from '@/api/questions'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { ClothFlat } from '@/weave/cloth-flat'

/** Cloth that covers a part: laid flat with its widths and lands, and what is done where it did not stick. */
export function ClothTab({ partId, job, onPieces }: { partId: string; job: string; onPieces: () => void }) {
  const asked = useCloth(partId, job)
  const view = asked.data
  if (asked.error && !view) return <Notice tone="stop">{asked.error.message}</Notice>
  if (!view) return null
  return (
    <div className="flex flex-col gap-5">
      <div className="flex flex-wrap items-start justify-between gap-x-6 gap-y-2">
        <div className="max-w-2xl">
          {view.words.map((words) => (
            <p key={words} className="text-lg">
              {words}
            </p>
          ))}
        </div>
        <Button quiet onClick={onPieces}>
          Lay the widths out
        </Button>
      </div>
      {view.asks.map((words) => (
        <Notice key={words} tone="care">
          {words}
        </Notice>
      ))}
      <ClothFlat view={view} />
      <p className="text-soft">
        Brown: where it is glued. Dashed edges: widths of cloth, lapping at seams
        {view.sides.length > 0 && ', none on the leading edge'}. Ribs by number from the root; dotted ones it
        slides on. Red: the turn in which the iron goes over each bay.
      </p>
      <ul className="flex flex-wrap gap-x-8 gap-y-1">
        {view.widths.map((one) => (
          <li key={one.code}>
            <span className="font-bold">{one.code}</span> {one.size}
          </li>
        ))}
      </ul>
    </div>
  )
}
