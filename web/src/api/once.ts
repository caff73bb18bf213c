import { useRef } from 'react'

/** Doing each thing once at a time: a second press before the first was answered would say the same again. */
export function useOnce() {
  const under = useRef(new Set<string>())
  return async (what: string, work: () => Promise<unknown>) => {
    if (under.current.has(what)) return
    under.current.add(what)
    try {
      await work()
    } finally {
      under.current.delete(what)
    }
  }
}
