import { useEffect, useRef, useState } from 'react'

/** An element's own width, as it changes. */
export function useWidth<T extends HTMLElement>(first = 1000) {
  const box = useRef<T>(null)
  const [width, setWidth] = useState(first)
  useEffect(() => {
    if (!box.current) return
    const watch = new ResizeObserver(([entry]) => entry && setWidth(entry.contentRect.width))
    watch.observe(box.current)
    return () => watch.disconnect()
  }, [])
  return { box, width }
}
