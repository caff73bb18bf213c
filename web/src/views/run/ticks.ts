import { useEffect, useState } from 'react'
import { asShops } from '@/api/changes'
import { answer, client, newId, Problem } from '@/api/client'
import { goesNow, meNow } from '@/api/present'

type Tick = {
  id: string
  part_id: string
  step_key: string
  item: string
  done: boolean
  second_id?: string
  gauge?: { text: string; unit: string }
  moisture?: { text: string; unit: string }
}
/** What is noted with a tick: who looked as well, what the gauge or the moisture meter reads. */
export type Noted = Pick<Tick, 'second_id' | 'gauge' | 'moisture'>
// A tick with when it was made, by this tablet's clock [ms]: the shop's may not have been heard yet.
// And who made it, where people sign in: nobody else's session sends it.
type Waiting = Tick & { here_ms?: number; by?: { id: string; name: string } }
// The latest moment that was sent [ms]: of two ticks the second is never the earlier, though the clocks were
// compared anew between them.
let told = 0
function inTurn(tick: Waiting) {
  const { here_ms, by: _, ...sent } = tick
  told = Math.max(told, asShops(here_ms ?? Date.now()) ?? 0)
  return { ...sent, happened_at: new Date(told).toISOString() }
}

const mine = ({ by }: Waiting) => goesNow(by?.id)

const KEPT = 'ticks to send'
const AGAIN_MS = 2000
const byMe = () => {
  const me = meNow()
  return me ? { by: { id: me.id, name: me.name } } : {}
}

const kept = (): Waiting[] => {
  try {
    return JSON.parse(localStorage.getItem(KEPT) ?? '[]')
  } catch {
    return []
  }
}

// What was ticked here last, by place, and since when the shop has it [ms]; null while it has not.
type Mark = { id: string; done: boolean; had: number | null }
const marks = new Map<string, Mark>()
const place = (part_id: string, step_key: string, item: string) => `${part_id} ${step_key} ${item}`

/** Whether an item is ticked: as it was ticked here, until an answer asked for after the shop had that. */
export function ticked(
  part_id: string,
  step_key: string,
  item: { key: string; done_at: string | null },
  asked: number,
) {
  const mark = marks.get(place(part_id, step_key, item.key))
  if (mark && (mark.had === null || mark.had > asked)) return mark.done
  return item.done_at !== null
}

/** Ticks are kept on this tablet first and sent as soon as the shop answers: none is lost with the connection. */
export function useTicks(onSent: () => void) {
  const [waiting, setWaiting] = useState(kept)
  const [problem, setProblem] = useState('')
  useEffect(() => {
    let stopped = false
    let timer = 0
    // After a refusal they go one by one, so that the one that is refused costs no other.
    let most = 400
    const send = async () => {
      const all = kept()
      const now = all.filter(mine)
      const other = all.find((tick) => !mine(tick))?.by
      if (now.length > 0 && asShops(0) !== null) {
        try {
          const ticks = now.slice(0, most).map(inTurn)
          await answer(client.POST('/api/v1/ticks', { body: { ticks } }))
          const sent = new Set(now.slice(0, most).map((tick) => tick.id))
          const left = kept().filter((tick) => !sent.has(tick.id))
          localStorage.setItem(KEPT, JSON.stringify(left))
          for (const mark of marks.values()) if (sent.has(mark.id)) mark.had = performance.now()
          setWaiting(left)
          setProblem('')
          onSent()
        } catch (error) {
          if (!(error instanceof Problem)) throw error
          // Who may not, or is not signed in, has it still: somebody else's turn may come.
          const refused = error.status >= 400 && error.status < 500 && ![401, 403].includes(error.status)
          if (refused && most === 1) {
            const left = kept().filter((tick) => tick.id !== now[0]?.id)
            for (const [key, mark] of marks) if (mark.id === now[0]?.id) marks.delete(key)
            localStorage.setItem(KEPT, JSON.stringify(left))
            setWaiting(left)
          }
          if (refused) most = 1
          setProblem(error.status === 0 ? 'away' : error.message)
        }
      }
      if (other && now.length === 0)
        setProblem(`What ${other.name} ticked is sent when ${other.name} signs in here.`)
      if (!stopped) timer = window.setTimeout(send, AGAIN_MS)
    }
    void send()
    return () => {
      stopped = true
      window.clearTimeout(timer)
    }
  }, [onSent])

  const tick = (part_id: string, step_key: string, item: string, done: boolean, noted: Noted = {}) => {
    const id = newId()
    marks.set(place(part_id, step_key, item), { id, done, had: null })
    const next = [...kept(), { id, part_id, step_key, item, done, ...noted, here_ms: Date.now(), ...byMe() }]
    localStorage.setItem(KEPT, JSON.stringify(next))
    setWaiting(next)
  }
  return { tick, waiting, problem }
}
