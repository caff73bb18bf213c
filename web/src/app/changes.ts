import { useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import { answer, client } from '@/api/client'

/** What no change in the shop touches: the table of formats, what is being looked at or typed. */
const LASTING = new Set(['formats', 'preview', 'far', 'blank-sheet'])
const EVERY_MS = 250

// How far the shop's clock is from this tablet's.
let ahead_ms: number | null = null

/** The shop's time now, as far as this tablet knows it [ms]. */
const shopTime = () => Date.now() + (ahead_ms ?? 0)

/** The shop's moment now, to be sent to it; empty while it is not known here. */
export const shopMoment = () => (ahead_ms === null ? '' : new Date(shopTime()).toISOString())

/** The shop's time, every second: for what counts down. */
export function useTicking() {
  const [at, setAt] = useState(shopTime)
  useEffect(() => {
    const timer = window.setInterval(() => setAt(shopTime()), 1000)
    return () => window.clearInterval(timer)
  }, [])
  return at
}

/** Asks the shop what changed while the page is seen, refreshes it, and tells the shop's time. */
export function useShopNow() {
  const queries = useQueryClient()
  const seq = useRef(-1)
  const [now, setNow] = useState<{ at: string; answered: boolean }>({ at: '', answered: true })

  useEffect(() => {
    let timer = 0
    let stopped = false
    const ask = async () => {
      if (!document.hidden) {
        try {
          const got = await answer(client.GET('/api/v1/now', { params: { query: { since: seq.current } } }))
          // The first answer too: what changed between the page's own questions and it would be missed.
          if (seq.current < 0 || got.changes.length > 0) {
            const settings = got.changes.some((change) => change.topic === 'shop')
            void queries.invalidateQueries({
              predicate: ({ queryKey }) =>
                !LASTING.has(String(queryKey[0])) && (settings || queryKey[0] !== 'shop'),
            })
          }
          seq.current = got.seq
          ahead_ms = Date.parse(got.now) - Date.now()
          setNow({ at: got.now, answered: true })
        } catch {
          setNow((before) => ({ ...before, answered: false }))
        }
      }
      if (!stopped) timer = window.setTimeout(ask, EVERY_MS)
    }
    void ask()
    return () => {
      stopped = true
      window.clearTimeout(timer)
    }
  }, [queries])

  return now
}
