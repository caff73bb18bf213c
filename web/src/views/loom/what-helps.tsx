import { useState } from 'react'
import { answer, client, newId, type Supposed } from '@/api/client'
import { useKeep } from '@/api/keep'
import { useWhatHelps } from '@/api/loom-questions'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'

/** What would help most: every single relief tried, the best first, each as long as what it brings. */
export function WhatHelpsPanel({ onSuppose }: { onSuppose: () => void }) {
  const view = useWhatHelps().data
  const { keep, says } = useKeep()
  const [id, setId] = useState(newId)
  if (!view) return null
  const looking = view.state === 'looking' || view.state === 'waiting'
  const ask = async () => {
    const body = { id, kind: 'helps' as const }
    if (await keep(() => answer(client.POST('/api/v1/studies', { body })))) setId(newId())
  }
  const stop = () => keep(() => answer(client.POST('/api/v1/studies/stop', { body: { id: view.id } })))
  const suppose = async (one: Supposed) => {
    const body = { id: newId(), kind: 'what if' as const, changes: [one] }
    if (await keep(() => answer(client.POST('/api/v1/studies', { body })))) onSuppose()
  }
  return (
    <section aria-label="What helps most" className="flex flex-col gap-3">
      <p className="text-lg" aria-live="polite">
        {view.sentence ||
          'One more person, one more of each place, a longer day, warmer air, a delivery sooner: each is tried by itself.'}
      </p>
      {view.old && !looking && (
        <p className="text-soft">Something was noted since this was tried; ask again to be sure.</p>
      )}
      {view.helps.length > 0 && (
        <ul className="flex flex-col">
          {view.helps.map((one) => (
            <li
              key={one.name}
              className="grid grid-cols-[minmax(0,1fr)_auto] items-center gap-x-4 border-line border-b py-1.5 sm:grid-cols-[minmax(0,22rem)_minmax(0,1fr)_7rem_auto]"
            >
              <span className="font-semibold">{one.name}</span>
              <span
                aria-hidden
                className="h-4 bg-woad max-sm:hidden"
                style={{ width: `${100 * one.share}%` }}
              />
              <span className="tabular-nums max-sm:text-right">{one.brings}</span>
              {one.suppose ? (
                <Button
                  quiet
                  className="max-sm:col-span-2"
                  onClick={() => void suppose(one.suppose as Supposed)}
                >
                  Suppose it
                </Button>
              ) : (
                <span className="min-h-11" />
              )}
            </li>
          ))}
        </ul>
      )}
      {view.nothing.length > 0 && (
        <details className="text-soft">
          <summary className="flex min-h-11 cursor-pointer items-center underline">
            {`${view.nothing.length} that bring nothing by themselves`}
          </summary>
          <p>{view.nothing.join('; ')}.</p>
        </details>
      )}
      {says && <Notice tone="stop">{says}</Notice>}
      <div className="flex flex-wrap gap-3">
        {looking ? (
          <Button onClick={() => void stop()}>Stop, it is enough</Button>
        ) : (
          <Button quiet={view.state !== 'none'} onClick={() => void ask()}>
            {view.state === 'none' ? 'Try each' : 'Try again'}
          </Button>
        )}
      </div>
    </section>
  )
}
