import type { Edit } from '@/api/edit'
import { Button } from './button'
import { Notice } from './notice'

/** What went wrong with a save, where no field shows it; and what the other browser changed. */
export function EditProblem({ edit, shownInFields = [] }: { edit: Edit; shownInFields?: string[] }) {
  if (!edit.problem) return null
  if (edit.stale) {
    return (
      <Notice tone="care">
        <p className="font-semibold">{edit.problem.message}</p>
        {edit.problem.changed.length > 0 && (
          <ul className="my-2 list-disc pl-5">
            {edit.problem.changed.map((words) => (
              <li key={words}>{words}</li>
            ))}
          </ul>
        )}
        <div className="mt-2 flex flex-wrap gap-3">
          <Button onClick={() => void edit.saveOver()}>Save mine on top</Button>
          <Button quiet onClick={() => void edit.takeTheirs()}>
            Leave theirs
          </Button>
        </div>
      </Notice>
    )
  }
  const fields = Object.keys(edit.problem.fields)
  if (fields.length > 0 && fields.every((field) => shownInFields.includes(field))) return null
  return <Notice tone="stop">{edit.problem.message}</Notice>
}
