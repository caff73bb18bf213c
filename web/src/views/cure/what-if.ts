import { useRef, useState } from 'react'
import { answer, type CureCard, client, Problem, type Tried, type Typed } from '@/api/client'

type Asked = { start?: string; heater?: Typed; heater_from?: string; heater_to?: string }

/** Tries another start or a heater on a cure. While something is dragged only the newest question waits. */
export function useWhatIf(card: CureCard) {
  const [tried, setTried] = useState<Tried | null>(null)
  const [problem, setProblem] = useState<Problem | null>(null)
  const asked = useRef<Asked>({})
  const running = useRef(false)
  const waiting = useRef(false)
  // What was put back is not answered any more, however late the answer comes.
  const turn = useRef(0)

  const ask = async (more: Asked) => {
    asked.current = { ...asked.current, ...more }
    if (running.current) {
      waiting.current = true
      return
    }
    running.current = true
    do {
      waiting.current = false
      const mine = turn.current
      const body = { part_id: card.part_id, step_key: card.step_key, ...asked.current }
      try {
        const got = await answer(client.POST('/api/v1/cures/what-if', { body }))
        if (turn.current === mine) {
          setTried(got)
          setProblem(null)
        }
      } catch (error) {
        if (!(error instanceof Problem)) throw error
        if (turn.current === mine) setProblem(error)
      }
    } while (waiting.current)
    running.current = false
  }

  return {
    card: tried?.card ?? null,
    sentence: tried?.sentence ?? '',
    problem,
    start: (at: string) => void ask({ start: at }),
    heat: (heater: Typed, from: string, to: string) => void ask({ heater, heater_from: from, heater_to: to }),
    putBack: () => {
      asked.current = {}
      waiting.current = false
      turn.current += 1
      setTried(null)
      setProblem(null)
    },
  }
}
