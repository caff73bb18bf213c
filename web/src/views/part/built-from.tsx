import { useState } from 'react'
import { answer, type BuiltFromView, client } from '@/api/client'
import { useEdit } from '@/api/edit'
import { useBuiltFrom } from '@/api/questions'
import { Button } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { Pick } from '@/ui/pick'
import { SavedField } from '@/ui/saved-field'

/** Which other parts must be built before a step of this one, and what it is turned with. */
export function BuiltFrom({ partId }: { partId: string }) {
  const view = useBuiltFrom(partId).data
  return view ? <Form view={view} partId={partId} /> : null
}

function Form({ view, partId }: { view: BuiltFromView; partId: string }) {
  const edit = useEdit(view.version)
  const [open, setOpen] = useState(false)
  const [other, setOther] = useState('')
  const [step, setStep] = useState('')
  const mine = view.needs.map(({ part_id, step_key }) => ({ part_id, step_key }))
  const say = (needs: typeof mine, thing: string) =>
    edit.save((version) =>
      answer(
        client.POST('/api/v1/parts/{part_id}/built-from', {
          params: { path: { part_id: partId } },
          body: { version, needs, thing },
        }),
      ),
    )
  const add = async () => {
    if (await say([...mine, { part_id: other, step_key: step }], view.thing)) {
      setOpen(false)
      setOther('')
    }
  }
  return (
    <section className="flex flex-col gap-3">
      <h2 className="font-semibold text-xl">Built from</h2>
      {view.needs.length === 0 && <p className="text-soft">No other part must be built before this one.</p>}
      <ul className="flex flex-col gap-2">
        {view.needs.map((need, at) => (
          <li
            key={`${need.part_id} ${need.step_key}`}
            className="edge-wait flex items-center justify-between gap-3 bg-panel px-3 py-1.5"
          >
            <span>
              <span className="font-semibold">{need.part}</span> before “{need.step}”
            </span>
            <Button
              quiet
              className="shrink-0 whitespace-nowrap"
              aria-label={`Do not wait for ${need.part}`}
              onClick={() => void say(mine.toSpliced(at, 1), view.thing)}
            >
              Take out
            </Button>
          </li>
        ))}
      </ul>
      {open ? (
        <div className="flex flex-col gap-3">
          <Pick
            label="This part is built first"
            value={other}
            placeholder="Which?"
            choices={view.others.map(({ id, name }) => ({ value: id, name }))}
            onChange={setOther}
          />
          <Pick
            label="Before this step here"
            value={step}
            placeholder="Which?"
            choices={view.steps.map(({ id, name }) => ({ value: id, name }))}
            onChange={setStep}
          />
          <div className="flex gap-3">
            <Button disabled={!other || !step} onClick={() => void add()}>
              Build it first
            </Button>
            <Button quiet onClick={() => setOpen(false)}>
              Leave it
            </Button>
          </div>
        </div>
      ) : (
        <Button quiet className="self-start" onClick={() => setOpen(true)}>
          Needs another part first…
        </Button>
      )}
      <EditProblem edit={edit} shownInFields={['thing']} />
      {view.turns && (
        <div className="flex flex-col gap-1">
          <SavedField
            label="Turned together with"
            saved={view.thing}
            problem={edit.problem?.fields.thing}
            onSave={(text) => say(mine, text)}
          />
          <p className="text-soft text-sm">
            Parts of one name are turned as one, like both faces of a wing. Empty: it is turned by itself.
          </p>
        </div>
      )}
    </section>
  )
}
