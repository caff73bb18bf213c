import { useCallback, useState } from 'react'

/** An element's own width, as it changes; measured before it is first shown, so that nothing stands out over the edge. */
export function useWidth<T extends HTMLElement>(first = 1000) {
  const [width, setWidth] = useState(first)
  const box = useCallback((element: T | null) => {
    if (!element) return
    if (element.clientWidth) setWidth(element.clientWidth)
    const watch = new ResizeObserver(([entry]) => entry && setWidth(entry.contentRect.width))
    watch.observe(element)
    return () => watch.disconnect()
  }, [])
  return { box, width }
}
