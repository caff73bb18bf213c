import { clsx } from 'clsx'
import { Link } from 'react-router'
import { useMix, useTimes } from '@/api/questions'
import { Notice } from '@/ui/notice'
import { Deviations } from './deviations'
import { Batches } from './mix-tab'

/** What was kept of a part: every batch that is on it, photographs, what was noted of steps it does not have any more. */
export function RecordTab({ partId }: { partId: string }) {
  const kept = useMix(partId)
  const gone = useTimes(partId, '').data?.gone ?? []
  const photos = kept.data?.photos ?? []
  const beside = photos.length > 0 || gone.length > 0
  if (kept.error && !kept.data) return <Notice tone="stop">{kept.error.message}</Notice>
  return (
    <div className={clsx('grid items-start gap-8', beside && 'lg:grid-cols-[1.6fr_1fr]')}>
      <section className="flex min-w-0 flex-col gap-6">
        <Link
          className="inline-flex min-h-11 items-center self-start underline"
          to={`/logbook?part=${partId}`}
        >
          All that the logbook has of it
        </Link>
        <a
          className="inline-flex min-h-11 items-center self-start underline"
          href={`/api/v1/parts/${partId}/record.pdf`}
          target="_blank"
          rel="noreferrer"
        >
          Its build record, to print
        </a>
        <Deviations partId={partId} />
        <div className="flex flex-col gap-3">{kept.data && <Batches batches={kept.data.batches} />}</div>
      </section>
      <div className="flex flex-col gap-8">
        {photos.length > 0 && (
          <section className="flex flex-col gap-3">
            <h2 className="font-semibold text-xl">Photographs</h2>
            <ul className="flex flex-wrap gap-4">
              {photos.map((photo) => (
                <li key={photo.id}>
                  <a
                    href={`/api/v1/photos/${photo.id}`}
                    target="_blank"
                    rel="noreferrer"
                    className="flex flex-col gap-1"
                  >
                    <img
                      src={`/api/v1/photos/${photo.id}?small=true`}
                      alt={photo.words}
                      className="max-h-48 self-start border-2 border-line"
                    />
                    <span className="text-soft text-sm">{photo.words}</span>
                  </a>
                </li>
              ))}
            </ul>
          </section>
        )}
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
    </div>
  )
}
