import { useMix, useTimes } from '@/api/questions'
import { Notice } from '@/ui/notice'
import { Batches } from './mix-tab'

/** What was kept of a part: every batch that is on it, and what was noted of steps it does not have any more. */
export function RecordTab({ partId }: { partId: string }) {
  const kept = useMix(partId)
  const gone = useTimes(partId, '').data?.gone ?? []
  if (kept.error && !kept.data) return <Notice tone="stop">{kept.error.message}</Notice>
  return (
    <div className="grid gap-8 lg:grid-cols-[1.6fr_1fr]">
      <section className="flex flex-col gap-3">
        {kept.data && <Batches batches={kept.data.batches} />}
      </section>
      {gone.length > 0 && (
        <section className="flex flex-col gap-2">
          <h2 className="font-semibold text-xl">No longer built so</h2>
          <p className="text-soft text-sm">
            Noted of steps this part does not have any more; nothing of it is lost.
          </p>
          <ul className="flex flex-col">
            {gone.map((words) => (
              <li key={words} className="border-line border-t py-1.5">
                {words}
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  )
}
