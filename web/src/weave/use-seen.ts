import { type RefObject, useEffect, useState } from 'react'

/** So far it must be scrolled until what is drawn is thought over again [px]. */
const STEP = 200

/** Which stretch of a tall box is near what is seen of it [px]: half a screen more above and below. */
export function useSeen(box: RefObject<HTMLElement | null>) {
  const [seen, setSeen] = useState({ from: 0, to: 1.5 * window.innerHeight })
  useEffect(() => {
    const look = () => {
      const top = box.current?.getBoundingClientRect().top ?? 0
      const from = Math.floor((-top - window.innerHeight / 2) / STEP) * STEP
      const to = Math.ceil((-top + 1.5 * window.innerHeight) / STEP) * STEP
      setSeen((before) => (before.from === from && before.to === to ? before : { from, to }))
    }
    look()
    // Whatever scrolls around it is heard on its way down.
    document.addEventListener('scroll', look, { capture: true, passive: true })
    window.addEventListener('resize', look)
    return () => {
      document.removeEventListener('scroll', look, { capture: true })
      window.removeEventListener('resize', look)
    }
  }, [box])
  return seen
}
