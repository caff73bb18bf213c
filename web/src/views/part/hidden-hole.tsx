import { useState } from 'react'
import { answer, client, type HoleSaid, Problem } from '@/api/client'
import { useUnitOf } from '@/app/formats'
import { typedNumber } from '@/app/typed-number'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { OneOf } from '@/ui/one-of'
import { TextField } from '@/ui/text-field'

const BLANK = { hole: '', apart: '', one: '', other: '', steps: '1', off: '' }

/** A hole that can't be seen any more, behind a skin or under a tip: found again by measures, with a pilot that forgives. */
export function HiddenHole() {
  const unit = useUnitOf()('step')
  const [open, setOpen] = useState(false)
  const [by, setBy] = useState<'two measures' | 'pitch'>('two measures')
  const [typed, setTyped] = useState(BLANK)
  const [said, setSaid] = useState<HoleSaid | null>(null)
  const [problem, setProblem] = useState<Problem | null>(null)
  const look = async () => {
    const length = (text: string) => ({ text, unit })
    const body = {
      by,
      hole: length(typed.hole),
      apart: length(typed.apart),
      one: length(typed.one),
      other: length(typed.other),
      off: length(typed.off),
      steps: typedNumber(typed.steps),
    }
    try {
      setSaid(await answer(client.POST('/api/v1/hidden-hole/look', { body })))
      setProblem(null)
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      setSaid(null)
      setProblem(error)
    }
  }
  const field = (name: keyof typeof BLANK, label: string) => (
    <TextField
      label={label}
      unit={name === 'steps' ? undefined : unit}
      value={typed[name]}
      problem={problem?.fields[name]}
      onChange={(text) => setTyped({ ...typed, [name]: text })}
    />
  )
  if (!open)
    return (
      <Button quiet className="self-start" onClick={() => setOpen(true)}>
        A hole that can’t be seen…
      </Button>
    )
  return (
    <div className="flex flex-col gap-3 border-line border-t pt-3">
      <OneOf
        label="A hole that can’t be seen is found"
        value={by}
        choices={[
          { value: 'two measures', name: 'by two measures from two points' },
          { value: 'pitch', name: 'by the pitch from one that was found' },
        ]}
        onChange={(value) => setBy(value as typeof by)}
      />
      <div className="grid items-start gap-3 sm:grid-cols-2 lg:grid-cols-4">
        {by === 'pitch' ? (
          <>
            {field('apart', 'Pitch')}
            {field('steps', 'So many pitches on')}
          </>
        ) : (
          <>
            {field('apart', 'The two points are apart')}
            {field('one', 'From the first to it')}
            {field('other', 'From the second to it')}
          </>
        )}
        {field('hole', 'The hole has in the end')}
        {field('off', 'A measure may be off by')}
      </div>
      {problem && Object.keys(problem.fields).every((name) => !(name in BLANK)) && (
        <Notice tone="stop">{problem.message}</Notice>
      )}
      {said && (
        <Notice tone={said.holds ? 'ready' : 'care'}>
          {said.says.map((words) => (
            <span key={words} className="block">
              {words}
            </span>
          ))}
        </Notice>
      )}
      <div className="flex gap-3">
        <Button onClick={() => void look()}>Where is it?</Button>
        <Button quiet onClick={() => setOpen(false)}>
          Leave it
        </Button>
      </div>
    </div>
  )
}
