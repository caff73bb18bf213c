import { useEffect, useRef } from 'react'

/** So long after the last touch a list may take another order [ms]. */
const AT_REST_MS = 45_000

let touched = Number.NEGATIVE_INFINITY
for (const kind of ['pointerdown', 'keydown', 'wheel']) {
  window.addEventListener(kind, () => (touched = performance.now()), { capture: true, passive: true })
}

/** The same things in the order they stood in while somebody works on the page; what is new comes last.
 *  Left alone for a while they take the order they should have. */
export function useSteady<T>(things: T[], key: (thing: T) => string): T[] {
  const stood = useRef<string[]>([])
  const ranks = new Map(stood.current.map((name, rank) => [name, rank]))
  const held = performance.now() - touched < AT_REST_MS
  const rank = (thing: T) => ranks.get(key(thing)) ?? ranks.size
  const shown = held ? [...things].sort((a, b) => rank(a) - rank(b)) : things
  useEffect(() => {
    stood.current = shown.map(key)
  })
  return shown
}
