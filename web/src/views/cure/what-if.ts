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

  const ask = async (more: Asked) => {
    asked.current = { ...asked.current, ...more }
    if (running.current) {
      waiting.current = true
      return
    }
    running.current = true
    do {
      waiting.current = false
      const body = { part_id: card.part_id, step_key: card.step_key, ...asked.current }
      try {
        const got = await answer(client.POST('/api/v1/cures/what-if', { body }))
        if (Object.keys(asked.current).length > 0) setTried(got)
        setProblem(null)
      } catch (error) {
        if (!(error instanceof Problem)) throw error
        setProblem(error)
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
      setTried(null)
      setProblem(null)
    },
  }
}
