import { useParams } from 'react-router'
import { useCures } from '@/api/questions'
import { ButtonLink } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { useSteady } from '@/ui/steady'
import { Card } from './card'

/** One card a cure: what is curing, what may be checked, and the next mixes. */
export default function CurePage() {
  const { part } = useParams()
  const cures = useCures()
  const view = cures.data
  const cards = useSteady(
    [...(view?.cards ?? [])].sort((a, b) => Number(b.part_id === part) - Number(a.part_id === part)),
    (card) => card.part_id + card.step_key,
  )
  if (cures.error && !cures.data)
    return (
      <Notice tone="stop" className="m-6">
        {cures.error.message}
      </Notice>
    )
  if (!view) return null
  const live = cards.filter((card) => card.state !== 'planned')
  const ahead = cards.filter((card) => card.state === 'planned')
  return (
    <div className="mx-auto flex max-w-6xl flex-col gap-5 p-6 max-sm:p-4">
      <div className="flex flex-wrap items-center justify-between gap-4">
        <h1 className="font-semibold text-2xl">Curing</h1>
        <ButtonLink quiet to="/air">
          The shop’s air
        </ButtonLink>
      </div>
      {view.ask && <Notice tone="care">{view.ask}</Notice>}
      {!view.ask && live.length === 0 && (
        <p className="text-soft">Nothing cures now. Keep a batch and its clock starts here.</p>
      )}
      {live.map((card) => (
        <Card key={card.part_id + card.step_key} card={card} now={view.now} />
      ))}
      {ahead.length > 0 && (
        <h2 className="mt-2 font-semibold text-2xl">
          To be mixed next
          <span className="ml-3 font-normal text-base text-soft">
            drag a brown block to try another start
          </span>
        </h2>
      )}
      {ahead.map((card) => (
        <Card key={card.part_id + card.step_key} card={card} now={view.now} />
      ))}
      {view.temperature && <p className="text-soft text-sm">{view.temperature}</p>}
      <p className="text-soft text-sm">
        “Check from”, not “done at”: a reading on the thin witness of each mix releases the part.
      </p>
    </div>
  )
}
