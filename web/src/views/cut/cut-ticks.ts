import { useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useState } from 'react'
import { answer, client, newId, Problem } from '@/api/client'
import { goesNow, meNow } from '@/api/present'

/** `by` is who ticked it, where people sign in: nobody else's session sends it. */
type Tick = { id: string; way: string; piece: string; done: boolean; by?: string }
const KEPT = 'pieces cut to send'
const AGAIN_MS = 1500

const kept = (): Tick[] => {
  try {
    return JSON.parse(localStorage.getItem(KEPT) ?? '[]')
  } catch {
    return []
  }
}

/** Pieces ticked at the table are kept on this tablet first and sent as soon as the shop answers. */
export function useCutTicks(way: string) {
  const queries = useQueryClient()
  const [mine, setMine] = useState<Record<string, boolean>>(() =>
    Object.fromEntries(
      kept()
        .filter((t) => t.way === way)
        .map((t) => [t.piece, t.done]),
    ),
  )
  const [problem, setProblem] = useState('')
  const [poke, setPoke] = useState(0)
  // biome-ignore lint/correctness/useExhaustiveDependencies: a poke sends at once
  useEffect(() => {
    let stopped = false
    let timer = 0
    const send = async () => {
      for (const { way: way_id, by, ...body } of kept()) {
        if (!goesNow(by)) {
          setProblem('What somebody else ticked here is sent when they sign in here.')
          continue
        }
        try {
          await answer(
            client.POST('/api/v1/cut-ways/{way_id}/pieces', { params: { path: { way_id } }, body }),
          )
          setProblem('')
        } catch (error) {
          if (!(error instanceof Problem)) throw error
          if (error.status === 0 || error.status >= 500) {
            setProblem('The shop’s computer does not answer: what is ticked is kept here and sent later.')
            break
          }
          if (error.status === 401 || error.status === 403) {
            setProblem(error.message)
            break
          }
          setProblem(`${body.piece.split('#')[0]?.split(':').at(-1)}: ${error.message}`)
          setMine((before) => ({ ...before, [body.piece]: !body.done }))
        }
        localStorage.setItem(KEPT, JSON.stringify(kept().filter((tick) => tick.id !== body.id)))
        await queries.invalidateQueries({ queryKey: ['cut-plan'] })
      }
      if (!stopped) timer = window.setTimeout(send, AGAIN_MS)
    }
    void send()
    return () => {
      stopped = true
      window.clearTimeout(timer)
    }
  }, [queries, poke])
  const tick = useCallback(
    (piece: string, done: boolean) => {
      localStorage.setItem(
        KEPT,
        JSON.stringify([...kept(), { id: newId(), way, piece, done, by: meNow()?.id }]),
      )
      setMine((before) => ({ ...before, [piece]: done }))
      setPoke((n) => n + 1)
    },
    [way],
  )
  return { tick, ticked: (piece: string) => mine[piece], problem }
}
