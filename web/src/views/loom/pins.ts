import { useCallback, useState } from 'react'
import { useRefresh } from '@/api/changes'
import { answer, client, newId, Problem } from '@/api/client'
import type { Block } from '@/api/loom'

/** So long it is said that it was done. */
const SAID_MS = 8000

/** Pins a step to a time, or takes its pin out; the plan goes round it at once. */
export function usePins() {
  const refresh = useRefresh()
  const [said, setSaid] = useState('')
  const [failed, setFailed] = useState(false)
  // The same one throughout, so that a lane is drawn anew only when it changes.
  const pin = useCallback(
    async (block: Block, start: string | null) => {
      try {
        const body = { id: newId(), part_id: block.part_id, step_key: block.key, start }
        await answer(client.POST('/api/v1/pins', { body }))
        const words = start
          ? `${block.name} is pinned; the plan goes round it.`
          : `${block.name}: the pin is out.`
        setSaid(words)
        setFailed(false)
        window.setTimeout(() => setSaid((now) => (now === words ? '' : now)), SAID_MS)
      } catch (error) {
        if (!(error instanceof Problem)) throw error
        setSaid(error.message)
        setFailed(true)
      }
      await refresh()
    },
    [refresh],
  )
  return { pin, said, failed }
}

export type Pins = ReturnType<typeof usePins>
