import { useState } from 'react'
import { Link } from 'react-router'
import type { PlannedStep } from '@/api/client'
import type { Block } from '@/api/loom'
import { useClock } from '@/app/formats'
import { Actions, useWork } from '@/app/work'
import { Button } from '@/ui/button'
import { DayField } from '@/ui/day-field'
import { Notice } from '@/ui/notice'
import { SideSheet } from '@/ui/side-sheet'
import type { Pins } from './pins'

type Props = {
  block: Block | undefined
  /** What is told of it once it is picked. */
  step: PlannedStep | null | undefined
  pins: Pins
  blocks: Block[]
  onPick: (id: string) => void
  onClose: () => void
}

/** One step of the plan: when, by whom, and why not sooner. */
export function BlockSheet({ block, step, blocks, pins, onPick, onClose }: Props) {
  const clock = useClock()
  const work = useWork()
  const holder = blocks.find((other) => other.id === step?.held_by)
  return (
    <SideSheet open={block !== undefined} onClose={onClose} title={block?.name ?? ''}>
      {block && step && (
        <div className="flex flex-col gap-4">
          <p className="text-soft">{step.part}</p>
          <Actions actions={step.actions} work={work} />
          {work.said && <Notice tone={work.failed ? 'stop' : 'ready'}>{work.said}</Notice>}
          <section>
            <h3 className="text-soft">Why not sooner?</h3>
            <p className="text-lg" data-testid="why">
              {step.why}
            </p>
            {holder && (
              <button type="button" className="min-h-11 underline" onClick={() => onPick(holder.id)}>
                Show “{holder.name}”
              </button>
            )}
          </section>
          <section>
            <h3 className="text-soft">When</h3>
            <p>{step.words}</p>
            {step.was && <p className="text-soft">In the accepted plan: {clock.dayTime(step.was.start)}.</p>}
          </section>
          {step.open_time && <p className="edge-stop bg-madder-wash px-3 py-2">{step.open_time}</p>}
          {block.movable && <PinTo key={block.id} block={block} pinned={step.pinned} pins={pins} />}
          {step.people.length > 0 && (
            <section>
              <h3 className="text-soft">Who</h3>
              <p>{step.people.join(', ')}</p>
            </section>
          )}
          {step.marks.length > 0 && (
            <section>
              <h3 className="text-soft">Check from</h3>
              <ul>
                {step.marks.map((mark) => (
                  <li key={mark.name} className="flex justify-between border-line border-b py-1">
                    <span className="capitalize">{mark.name}</span>
                    <span>{clock.dayTime(mark.at)}</span>
                  </li>
                ))}
              </ul>
            </section>
          )}
          {step.caution && (
            <p className="text-sm">
              <span className="font-semibold">Take care:</span> {step.caution} The maker’s instructions
              decide.
            </p>
          )}
          <Link to={`/part/${block.part_id}/steps`} className="inline-flex min-h-11 items-center underline">
            All steps of {step.part}
          </Link>
        </div>
      )}
    </SideSheet>
  )
}

/** When it is wanted. */
function PinTo({ block, pinned, pins }: { block: Block; pinned: string | null; pins: Pins }) {
  const clock = useClock()
  const [at, setAt] = useState('')
  return (
    <section className="flex flex-col gap-2">
      <h3 className="text-soft">Wanted at</h3>
      {pinned && <p>Pinned to {clock.dayTime(pinned)}.</p>}
      <div className="flex flex-wrap items-end gap-2">
        <DayField label="Pin it to" withTime value={at} onChange={setAt} className="w-64" />
        <Button quiet disabled={!at} onClick={() => void pins.pin(block, at)}>
          Pin it
        </Button>
        {pinned && (
          <Button quiet onClick={() => void pins.pin(block, null)}>
            Take the pin out
          </Button>
        )}
      </div>
    </section>
  )
}
