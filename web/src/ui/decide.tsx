import { useState } from 'react'
import { useRefresh } from '@/api/changes'
import { newId, Problem } from '@/api/client'
import { Button } from './button'
import { Notice } from './notice'
import { Pick } from './pick'
import { TextField } from './text-field'

type Person = { id: string; name: string }
type Signed<K extends string> = { id: string; kind: K; crew_member_id: string | null; note: string }
type Props<K extends string> = {
  words?: string
  kinds: { kind: K; name: string }[]
  people: Person[]
  send: (signed: Signed<K>) => Promise<unknown>
}

/** What somebody decides, by name and reason: one button for each way out of it. */
export function Decide<K extends string>({ words, kinds, people, send }: Props<K>) {
  const refresh = useRefresh()
  const [id] = useState(newId)
  const [who, setWho] = useState('')
  const [note, setNote] = useState('')
  const [problem, setProblem] = useState<Problem | null>(null)
  const decide = async (kind: K) => {
    try {
      await send({ id, kind, crew_member_id: who || null, note })
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      setProblem(error)
      return
    }
    setProblem(null)
    await refresh()
  }
  return (
    <div className="flex flex-col gap-3 bg-panel p-4">
      {words && <p className="font-semibold">{words}</p>}
      <div className="grid items-start gap-3 sm:grid-cols-[14rem_1fr]">
        <Pick
          label="Who decides"
          value={who}
          placeholder="Who?"
          choices={people.map((one) => ({ value: one.id, name: one.name }))}
          onChange={setWho}
        />
        <TextField label="Why" value={note} problem={problem?.fields.note} onChange={setNote} />
      </div>
      {problem && !problem.fields.note && <Notice tone="stop">{problem.message}</Notice>}
      <div className="flex flex-wrap gap-3">
        {kinds.map(({ kind, name }) => (
          <Button key={kind} quiet onClick={() => void decide(kind)}>
            {name}
          </Button>
        ))}
      </div>
    </div>
  )
}
