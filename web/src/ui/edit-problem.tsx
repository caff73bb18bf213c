import type { Edit } from '@/api/edit'
import { Button } from './button'
import { Notice } from './notice'
import { TextField } from './text-field'

/** What is built already is changed on paper: only with a reason, which is kept with it. */
function Reason({ edit }: { edit: Edit }) {
  return (
    <Notice tone="stop" className="flex flex-wrap items-end gap-3">
      <p className="w-full font-semibold">{edit.problem?.message}</p>
      <TextField
        label="Why it is changed"
        value={edit.why}
        onChange={edit.setWhy}
        className="min-w-60 flex-1"
      />
      <Button disabled={!edit.why.trim()} onClick={() => void edit.because()}>
        Change it, as a deviation
      </Button>
      <Button quiet onClick={() => void edit.leave()}>
        Leave it as it is
      </Button>
    </Notice>
  )
}

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
  if (edit.problem.fields.reason) return <Reason edit={edit} />
  const fields = Object.keys(edit.problem.fields)
  if (fields.length > 0 && fields.every((field) => shownInFields.includes(field))) return null
  return <Notice tone="stop">{edit.problem.message}</Notice>
}
