import { useCutList } from '@/api/questions'
import { Notice } from '@/ui/notice'
import { SawBars } from '@/weave/saw-bars'

/** What is sawn out of lengths of stock, section by section, and where scarfs stand. */
export function CutListTab({ partId, job }: { partId: string; job: string }) {
  const asked = useCutList(partId, job)
  const view = asked.data
  if (asked.error && !view) return <Notice tone="stop">{asked.error.message}</Notice>
  if (!view) return null
  return (
    <div className="flex flex-col gap-6">
      {view.asks.map((words) => (
        <Notice key={words} tone="care">
          {words}
        </Notice>
      ))}
      {view.lists.map((list) => (
        <section key={list.section} aria-label={list.section} className="flex flex-col gap-3">
          <h3 className="font-semibold text-xl">{list.section}</h3>
          <p className="text-lg">{list.sentence}</p>
          <SawBars bars={list.bars} />
          {list.scarfs.map((words) => (
            <p key={words} className="font-semibold">
              {words}
            </p>
          ))}
        </section>
      ))}
      <p className="max-w-3xl text-soft text-sm">{view.caution}</p>
    </div>
  )
}
