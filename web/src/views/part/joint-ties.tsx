import { useState } from 'react'
import { answer, client, type JointView } from '@/api/client'
import { type Edit, useEdit } from '@/api/edit'
import { Button } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { OneOf } from '@/ui/one-of'
import { Pick } from '@/ui/pick'
import { SavedField } from '@/ui/saved-field'

type Face = { part_id: string; where: string; fixes: boolean }
type Says = { faces: Face[]; loose: string[]; located: string[]; after: string[]; shuts: string[] }
const LISTS = [
  { field: 'loose', label: 'Must still be loose', of: 'parts', add: 'Must still be loose…' },
  { field: 'located', label: 'Must be located before', of: 'parts', add: 'Must be located…' },
  { field: 'shuts', label: 'Out of reach afterwards', of: 'joints', add: 'Out of reach after it…' },
  { field: 'after', label: 'Comes after', of: 'joints', add: 'Comes after…' },
] as const
const FIELDS = ['faces.0.part_id', 'faces.1.part_id', 'faces.0.where', 'faces.1.where', 'faces.0.fixes']

/** What a joint says, as it is sent. */
export const saidOf = (view: JointView): Says => ({
  faces:
    view.version > 0
      ? view.faces.map(({ part_id, where, fixes }) => ({ part_id, where, fixes }))
      : [
          { part_id: '', where: '', fixes: false },
          { part_id: '', where: '', fixes: true },
        ],
  loose: view.loose,
  located: view.located,
  after: view.after,
  shuts: view.shuts,
})

/** A joint as it is said, with fasteners as they are: all of it is sent at once. */
export const sayJoint = (edit: Edit, view: JointView, says: Says, fasteners?: Record<string, string>) =>
  edit.save((version) =>
    answer(
      client.POST('/api/v1/parts/{part_id}/joint', {
        params: { path: { part_id: view.part_id } },
        body: { version, ...says, fasteners: fasteners ?? typedFasteners(view) },
      }),
    ),
  )

const typedFasteners = (view: JointView): Record<string, string> =>
  view.fasteners.given
    ? Object.fromEntries(view.fasteners.fields.map(({ field, text }) => [field, text]))
    : {}

/** What a joint ties, what it fixes, and what must be so when it is made: its place in the order follows. */
export function Ties({ view }: { view: JointView }) {
  const edit = useEdit(view.version)
  const [draft, setDraft] = useState<Says>(() => saidOf(view))
  const [adding, setAdding] = useState('')
  const names = new Map([...view.parts, ...view.joints].map(({ id, name }) => [id, name]))
  const change = (next: Says) => {
    setDraft(next)
    if (next.faces.every((face) => face.part_id)) return sayJoint(edit, view, next)
    return Promise.resolve(true)
  }
  const face = (n: number, more: Partial<Face>) =>
    change({ ...draft, faces: draft.faces.map((one, m) => (m === n ? { ...one, ...more } : one)) })
  return (
    <section aria-label="What it ties" className="flex flex-col gap-4">
      <h3 className="font-semibold text-xl">What it ties</h3>
      {view.version === 0 && (
        <p className="max-w-2xl text-soft">
          Say which two parts it ties and which of them it fixes. Then its faces have a state, and its turn
          among the other joints is found.
        </p>
      )}
      <div className="grid gap-4 md:grid-cols-2">
        {draft.faces.map((one, n) => (
          <div key={n} className="flex flex-col gap-3">
            <Pick
              label={n === 0 ? 'One part' : 'The other part'}
              value={one.part_id}
              placeholder="Which?"
              choices={view.parts.map(({ id, name }) => ({ value: id, name }))}
              onChange={(part_id) => void face(n, { part_id })}
            />
            <SavedField
              label="Where on it"
              saved={one.where}
              problem={edit.problem?.fields[`faces.${n}.where`]}
              onSave={(where) => face(n, { where })}
            />
            <OneOf
              label="Afterwards it is"
              value={one.fixes ? 'fixed' : 'held'}
              choices={[
                { value: 'fixed', name: 'fixed by this joint' },
                { value: 'held', name: 'what holds it' },
              ]}
              onChange={(value) => void face(n, { fixes: value === 'fixed' })}
            />
          </div>
        ))}
      </div>
      <EditProblem edit={edit} shownInFields={FIELDS.filter((field) => field.endsWith('where'))} />
      {view.version > 0 && (
        <div className="flex flex-col gap-3 border-line border-t pt-3">
          {LISTS.map(({ field, label, of, add }) => {
            const choices = view[of].filter(({ id }) => !draft[field].includes(id))
            return (
              <div key={field} className="flex flex-wrap items-center gap-2">
                <span className="w-48 text-soft">{label}</span>
                {draft[field].map((id) => (
                  <button
                    key={id}
                    type="button"
                    aria-label={`${label}: take ${names.get(id) ?? 'it'} out`}
                    onClick={() =>
                      void change({ ...draft, [field]: draft[field].filter((key) => key !== id) })
                    }
                    className="inline-flex min-h-11 items-center gap-2 border-2 border-line bg-panel px-3 hover:border-ink"
                  >
                    {names.get(id) ?? 'a part taken out'} <span aria-hidden>×</span>
                  </button>
                ))}
                {adding === field ? (
                  <Pick
                    hideLabel
                    label={add}
                    value=""
                    placeholder="Which?"
                    choices={choices.map(({ id, name }) => ({ value: id, name }))}
                    onChange={(id) => {
                      setAdding('')
                      void change({ ...draft, [field]: [...draft[field], id] })
                    }}
                  />
                ) : (
                  <Button quiet disabled={choices.length === 0} onClick={() => setAdding(field)}>
                    {draft[field].length > 0 ? 'And…' : add}
                  </Button>
                )}
              </div>
            )
          })}
        </div>
      )}
    </section>
  )
}
