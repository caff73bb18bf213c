import { clsx } from 'clsx'
import { X } from 'lucide-react'
import { useState } from 'react'
import { answer, client, newId, type Supposed, type WhatIf } from '@/api/client'
import { useKeep } from '@/api/keep'
import { useWhatIf } from '@/api/loom-questions'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { SupposeForm } from './suppose-form'

/** What if: changes are supposed, alone or together; the plan they make stands beside the one there is. */
export function WhatIfPanel() {
  const view = useWhatIf().data
  const { keep, says, fields } = useKeep(['value', 'heat', 'count', 'name', 'first', 'start', 'last', 'end'])
  const [adds, setAdds] = useState(false)
  const [id, setId] = useState(newId)
  if (!view) return null
  const asked = view.kept ? [] : view.asked
  const looking = view.state === 'looking' || view.state === 'waiting'
  const suppose = async (changes: Supposed[]) => {
    const kept = await keep(async () => {
      if (changes.length === 0) await answer(client.POST('/api/v1/studies/leave', { body: { id: view.id } }))
      else await answer(client.POST('/api/v1/studies', { body: { id, kind: 'what if', changes } }))
    })
    if (kept) setId(newId())
    return kept
  }
  const tell = (how: 'make-so' | 'leave' | 'stop') => {
    const body = { body: { id: view.id } }
    return keep(() =>
      how === 'make-so'
        ? answer(client.POST('/api/v1/studies/make-so', body))
        : how === 'leave'
          ? answer(client.POST('/api/v1/studies/leave', body))
          : answer(client.POST('/api/v1/studies/stop', body)),
    )
  }
  return (
    <section aria-label="What if" className="flex flex-col gap-3">
      {asked.length === 0 && (
        <p className="text-lg">
          {view.sentence ||
            'Suppose something: the same orders are placed with and without it, and both plans stand side by side.'}
        </p>
      )}
      {asked.length > 0 && (
        <div className="grid gap-x-8 gap-y-3 lg:grid-cols-[minmax(0,5fr)_minmax(0,7fr)]">
          <div className="flex flex-col gap-3">
            <ul aria-label="Supposed" className="flex flex-col">
              {asked.map((one, n) => (
                <li
                  key={JSON.stringify(one)}
                  className="flex items-center justify-between gap-3 border-line border-b"
                >
                  <span className="py-2 font-semibold">{view.said[n]}</span>
                  <Button
                    quiet
                    aria-label={`Without: ${view.said[n]}`}
                    className="px-2.5"
                    onClick={() => void suppose(asked.filter((_, other) => other !== n))}
                  >
                    <X aria-hidden size={20} />
                  </Button>
                </li>
              ))}
            </ul>
            <p className="text-lg" aria-live="polite">
              {view.sentence}
            </p>
            {view.because && <p>{view.because}</p>}
            {view.fails.map((words) => (
              <Notice key={words} tone="stop">
                {words}
              </Notice>
            ))}
            {!adds && (
              <div className="flex flex-wrap gap-3">
                {looking ? (
                  <Button onClick={() => void tell('stop')}>Stop</Button>
                ) : (
                  view.mine &&
                  view.measures.length > 0 && <Button onClick={() => void tell('make-so')}>Make it so</Button>
                )}
                <Button quiet onClick={() => setAdds(true)}>
                  And suppose…
                </Button>
                {!looking && (
                  <Button quiet onClick={() => void tell('leave')}>
                    Drop it
                  </Button>
                )}
              </div>
            )}
          </div>
          {view.measures.length > 0 && <Measures view={view} />}
        </div>
      )}
      {says && !adds && asked.length > 0 && <Notice tone="stop">{says}</Notice>}
      {(adds || asked.length === 0) && (
        <SupposeForm
          can={view.can}
          fields={fields}
          says={says}
          onSuppose={async (one) => {
            const kept = await suppose([...asked, one])
            if (kept) setAdds(false)
            return kept
          }}
          onNot={asked.length > 0 ? () => setAdds(false) : null}
        />
      )}
    </section>
  )
}

/** The plan there is and the plan it would be, side by side; which is the better one in each stands out. */
function Measures({ view }: { view: WhatIf }) {
  return (
    <table className="w-full border-collapse self-start">
      <thead>
        <tr className="border-ink border-b-2 text-left">
          <th className="py-1.5 pr-4 font-normal text-soft">
            <span className="sr-only">Compared in</span>
          </th>
          <th className="py-1.5 pr-4">The plan there is</th>
          <th className="py-1.5">Supposed</th>
        </tr>
      </thead>
      <tbody>
        {view.measures.map((one) => (
          <tr key={one.name} className="border-line border-b align-top">
            <th className="py-1.5 pr-4 text-left font-normal text-soft sm:whitespace-nowrap">{one.name}</th>
            <td className={clsx('py-1.5 pr-4', one.better === 'now' && 'font-semibold text-lichen')}>
              {one.now}
            </td>
            <td className={clsx('py-1.5', one.better === 'then' && 'font-semibold text-lichen')}>
              {one.then}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
