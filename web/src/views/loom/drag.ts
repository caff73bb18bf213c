import { type PointerEvent, useRef, useState } from 'react'
import type { Block } from '@/api/loom'
import { useClock } from '@/app/formats'
import type { Scale } from '@/weave/time-parts'
import { ms } from '@/weave/time-scale'

const GRID = 5 * 60_000
/** A finger that moves less has not dragged [px]. */
const STILL = 6

/** Drags a block along its lane; let go, it is pinned where it was left, to five minutes. */
export function useDrag(block: Block, x: Scale, onPin: (block: Block, at: string) => Promise<void>) {
  const clock = useClock()
  const begun = useRef<number | null>(null)
  const dragged = useRef(false)
  const [by, setBy] = useState(0)
  const first = block.pieces[0]?.start ?? ''
  const at = () => {
    const moved = ms(first) + (x.invert(x(ms(first)) + by).valueOf() - ms(first))
    return new Date(Math.round(moved / GRID) * GRID).toISOString()
  }
  const stop = () => {
    begun.current = null
    setBy(0)
  }
  const on = block.movable
    ? {
        onPointerDown: (event: PointerEvent<HTMLElement>) => {
          begun.current = event.clientX
          dragged.current = false
          event.currentTarget.setPointerCapture(event.pointerId)
        },
        onPointerMove: (event: PointerEvent<HTMLElement>) => {
          if (begun.current === null) return
          const moved = event.clientX - begun.current
          if (Math.abs(moved) >= STILL) dragged.current = true
          if (dragged.current) setBy(moved)
        },
        onPointerUp: () => {
          if (dragged.current && by !== 0) onPin(block, at())
          stop()
        },
        onPointerCancel: stop,
      }
    : {}
  return { on, by, words: by === 0 ? '' : clock.dayTime(at()), was: () => dragged.current }
}
