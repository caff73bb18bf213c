import { useQueryClient } from '@tanstack/react-query'
import { useRef, useState } from 'react'
import { useRefresh } from './changes'
import { Problem } from './client'

/** `reason` is why, where what is built already is changed; empty until it is asked for. */
type Save = (version: number, reason: string) => Promise<unknown>
type Held = { save: Save; reason: string; settle: (settled: boolean) => void }

/** Saving something others may be editing too.

`save` answers whether what was typed is settled. A refusal is not: it keeps what was typed
and says why. A stale save shows what the other browser changed and waits to be told which
of the two stays. */
export function useEdit(version: number | undefined) {
  const refresh = useRefresh()
  const queries = useQueryClient()
  const [problem, setProblem] = useState<Problem | null>(null)
  const [held, setHeld] = useState<Held | null>(null)
  // One's own last save is no conflict, also before the page has fetched it.
  const own = useRef(0)
  // Nor is a second save sent before the first was answered: it would name the version before it.
  const before = useRef<Promise<unknown>>(Promise.resolve())

  /** What was refused because it needs a reason, and the reason as it is typed. */
  const [unsaid, setUnsaid] = useState<{
    save: Save
    on?: number
    settle: (settled: boolean) => void
  } | null>(null)
  const [why, setWhy] = useState('')

  const send = (save: Save, on?: number, reason = '') => {
    const sent = before.current.then(async () => {
      own.current = versionOf(await save(on ?? Math.max(version ?? 0, own.current), reason)) ?? own.current
    })
    before.current = sent.catch(() => undefined)
    return sent
  }

  const run = async (save: Save, on?: number, reason = ''): Promise<boolean> => {
    try {
      await send(save, on, reason)
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      setProblem(error)
      if (error.fields.reason) return new Promise((settle) => setUnsaid({ save, on, settle }))
      if (error.status !== 409) return false
      return new Promise((settle) => setHeld({ save, reason, settle }))
    }
    setProblem(null)
    setWhy('')
    await refresh()
    return true
  }

  const decide = async (settled: Promise<boolean>) => {
    const waiting = held
    setHeld(null)
    waiting?.settle(await settled)
  }

  const drop = async () => {
    setProblem(null)
    await queries.invalidateQueries()
    return true
  }

  return {
    problem,
    stale: held !== null,
    save: (save: Save) => run(save),
    why,
    setWhy,
    /** Sends it with the reason: asked for no more, unless that is refused too. */
    because: async () => {
      const waiting = unsaid
      if (!waiting) return
      setUnsaid(null)
      setProblem(null)
      waiting.settle(await run(waiting.save, waiting.on, why))
    },
    leave: async () => {
      const waiting = unsaid
      setUnsaid(null)
      setWhy('')
      waiting?.settle(await drop())
    },
    saveOver: () => held && problem?.version && decide(run(held.save, problem.version, held.reason)),
    takeTheirs: () => decide(drop()),
  }
}

export type Edit = ReturnType<typeof useEdit>

/** Something saved, as it is typed: the saved while nothing is typed, and again once what was typed is settled.

The third is told what was sent and whether that settled; what was typed since then stays. */
export function useTyped<T>(saved: T): [T, (typed: T) => void, (sent: T) => (settled: boolean) => void] {
  const [typed, setTyped] = useState<{ now: T } | null>(null)
  const settle = (sent: T) => (settled: boolean) => {
    if (settled) setTyped((since) => (since?.now === sent ? null : since))
  }
  return [typed ? typed.now : saved, (now) => setTyped({ now }), settle]
}

const versionOf = (saved: unknown) =>
  typeof saved === 'object' && saved !== null && 'version' in saved && typeof saved.version === 'number'
    ? saved.version
    : undefined
