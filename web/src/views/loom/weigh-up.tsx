import { useState } from 'react'
import { useBetterOrder } from '@/api/loom-questions'
import { Button } from '@/ui/button'
import { OneOf } from '@/ui/one-of'
import { BetterOrderPanel } from './better-order'
import { HowSurePanel } from './how-sure'
import { WhatHelpsPanel } from './what-helps'
import { WhatIfPanel } from './what-if'

export type Question = 'better' | 'if' | 'helps' | 'sure'

const QUESTIONS: { value: Question; name: string }[] = [
  { value: 'better', name: 'A better order' },
  { value: 'if', name: 'What if' },
  { value: 'helps', name: 'What helps most' },
  { value: 'sure', name: 'How sure' },
]

type Props = {
  question: Question
  onQuestion: (question: Question) => void
  onClose: () => void
}

/** The plan is weighed up: another order, what if, what would help, how sure its end is. */
export function WeighUp({ question, onQuestion, onClose }: Props) {
  return (
    <section aria-label="Weigh up the plan" className="flex flex-col gap-4 border-2 border-line bg-panel p-4">
      <div className="flex flex-wrap items-end justify-between gap-3">
        <div className="sm:whitespace-nowrap">
          <OneOf
            label="Weigh up the plan"
            value={question}
            choices={QUESTIONS}
            onChange={(chosen) => onQuestion(chosen as Question)}
          />
        </div>
        <Button quiet onClick={onClose}>
          Close
        </Button>
      </div>
      {question === 'better' && <BetterOrderPanel />}
      {question === 'if' && <WhatIfPanel />}
      {question === 'helps' && <WhatHelpsPanel onSuppose={() => onQuestion('if')} />}
      {question === 'sure' && <HowSurePanel />}
    </section>
  )
}

/** Which question is open: what is asked for here; or a better order that was looked for and neither kept nor left. */
export function useQuestion() {
  const [asked, setAsked] = useState<Question | 'none' | ''>('')
  const search = useBetterOrder().data
  const found = search !== undefined && search.state !== 'none' && !search.kept
  const open: Question | '' = asked === 'none' ? '' : asked || (found ? 'better' : '')
  return [open, setAsked] as const
}
