import { Link } from 'react-router'
import type { Block, Lane } from '@/api/client'
import { useClock } from '@/app/formats'
import { SideSheet } from '@/ui/side-sheet'

type Props = {
  block: Block | undefined
  lane: Lane | undefined
  blocks: Block[]
  onPick: (id: string) => void
  onClose: () => void
}

/** One step of the plan: when, by whom, and why not sooner. */
export function BlockSheet({ block, lane, blocks, onPick, onClose }: Props) {
  const clock = useClock()
  const holder = blocks.find((other) => other.id === block?.held_by)
  return (
    <SideSheet open={block !== undefined} onClose={onClose} title={block?.name ?? ''}>
      {block && (
        <div className="flex flex-col gap-4">
          <p className="text-soft">{lane?.name}</p>
          <section>
            <h3 className="text-soft">Why not sooner?</h3>
            <p className="text-lg" data-testid="why">
              {block.why}
            </p>
            {holder && (
              <button type="button" className="min-h-11 underline" onClick={() => onPick(holder.id)}>
                Show “{holder.name}”
              </button>
            )}
          </section>
          <section>
            <h3 className="text-soft">When</h3>
            <p>{block.words}</p>
          </section>
          {block.people.length > 0 && (
            <section>
              <h3 className="text-soft">Who</h3>
              <p>{block.people.join(', ')}</p>
            </section>
          )}
          {block.marks.length > 0 && (
            <section>
              <h3 className="text-soft">Check from</h3>
              <ul>
                {block.marks.map((mark) => (
                  <li key={mark.name} className="flex justify-between border-line border-b py-1">
                    <span className="capitalize">{mark.name}</span>
                    <span>{clock.dayTime(mark.at)}</span>
                  </li>
                ))}
              </ul>
            </section>
          )}
          {block.caution && (
            <p className="text-sm">
              <span className="font-semibold">Take care:</span> {block.caution} The maker’s instructions
              decide.
            </p>
          )}
          <Link
            to={`/surface/${block.surface_id}/steps`}
            className="inline-flex min-h-11 items-center underline"
          >
            All steps of {lane?.name}
          </Link>
        </div>
      )}
    </SideSheet>
  )
}
