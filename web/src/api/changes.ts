import { type Query, type QueryClient, useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useState } from 'react'
import { answer, client } from './client'
import { type Heard, heardTo, hears, news } from './heard'

const EVERY_MS = 250

// What stands beside a page is asked again after the page itself, or after so long: the shop answers one at a time.
const BESIDE = new Set(['weather', 'order-list'])
const PAGE_FIRST_MS = 1500

// How far the shop's clock is from this tablet's own.
let ahead_ms: number | null = null
// What is being asked again, and of it the page itself.
let asking: Promise<unknown> = Promise.resolve()
let page: Promise<unknown> = Promise.resolve()

/** The shop's time now, as far as this tablet knows it [ms]. */
const shopTime = () => Date.now() + (ahead_ms ?? 0)

/** A moment of this tablet's clock as the shop's [ms]; null while the shop's is not known here. */
export const asShops = (here_ms: number) => (ahead_ms === null ? null : here_ms + ahead_ms)

/** The shop's moment now, to be sent to it; empty while it is not known here. */
export const shopMoment = () => (ahead_ms === null ? '' : new Date(shopTime()).toISOString())

/** Whether the shop's moment is known here: until then nobody can say which day it is there. */
export function useHeard() {
  const [known, setKnown] = useState(ahead_ms !== null)
  useEffect(() => {
    if (known) return
    const timer = window.setInterval(() => setKnown(ahead_ms !== null), 100)
    return () => window.clearInterval(timer)
  }, [known])
  return known
}

/** The shop's time, every second: for what counts down. */
export function useTicking() {
  const [at, setAt] = useState(shopTime)
  useEffect(() => {
    let timer = 0
    const tick = () => {
      setAt(shopTime())
      // Before the shop was heard this is the tablet's own time: it is corrected as soon as it is.
      timer = window.setTimeout(tick, ahead_ms === null ? 100 : 1000)
    }
    tick()
    return () => window.clearTimeout(timer)
  }, [])
  return at
}

/** Asks the shop what changed, where a write's answer did not say it, and asks again only what that touches. */
async function hear(queries: QueryClient, told: Heard | null = null) {
  const since = heardTo()
  const got = told ?? (await answer(client.GET('/api/v1/now', { params: { query: { since } } })))
  // A shop that has heard less than this tablet was begun anew.
  const first = since < 0 || got.seq < since
  ahead_ms = Date.parse(got.now) - Date.now()
  // Nothing happened, or it was heard another way and asked again meanwhile.
  if (!first && got.seq <= heardTo()) return got.now
  hears(got)
  const touched = new Set(got.touched)
  // The first answer touches all: what changed between the page's own questions and it would be missed.
  if (first || touched.size > 0) {
    const predicate = ({ queryKey }: Query) =>
      touched.has(String(queryKey[0])) || (first && queryKey[0] !== 'formats')
    // A question that is still being answered for the first time is not asked again by that: its answer may be from
    // before the change. It is asked once more when it is there.
    const late = queries
      .getQueryCache()
      .findAll({ predicate })
      .filter(({ state }) => state.fetchStatus === 'fetching' && state.data === undefined)
      .map(async (query) => {
        await query.promise?.catch(() => undefined)
        await queries.invalidateQueries({ queryKey: query.queryKey, exact: true })
      })
    const again = (beside: boolean) =>
      queries.invalidateQueries({
        predicate: (query) => predicate(query) && BESIDE.has(String(query.queryKey[0])) === beside,
      })
    const whole = again(false)
    page = Promise.race([whole, patience()])
    asking = Promise.all([asking, whole, page.then(() => again(true)), ...late])
  }
  return got.now
}

const patience = () => new Promise((over) => window.setTimeout(over, PAGE_FIRST_MS))

/** What to call after a write of one's own: it settles once all that it touched was asked again. */
export function useRefresh() {
  const queries = useQueryClient()
  return useCallback(async () => {
    // Where it can't be heard what changed, all is asked again.
    await hear(queries, news()).catch(() => queries.invalidateQueries())
    await asking
  }, [queries])
}

/** Asks the shop what changed while the page is seen, refreshes it, and tells the shop's time. */
export function useShopNow() {
  const queries = useQueryClient()
  const [now, setNow] = useState<{ at: string; answered: boolean }>({ at: '', answered: true })

  useEffect(() => {
    let timer = 0
    let stopped = false
    const ask = async () => {
      await page
      if (!document.hidden && !stopped) {
        try {
          setNow({ at: await hear(queries), answered: true })
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
