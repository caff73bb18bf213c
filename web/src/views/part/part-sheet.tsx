import { useState } from 'react'
import { useNavigate } from 'react-router'
import { answer, client, newId, type PartHead } from '@/api/client'
import { useEdit, useTyped } from '@/api/edit'
import { useAirframe } from '@/api/questions'
import { Button } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { LabelLink } from '@/ui/label-link'
import { OneOf } from '@/ui/one-of'
import { Pick } from '@/ui/pick'
import { SavedField } from '@/ui/saved-field'
import { TextField } from '@/ui/text-field'
import { PlaceFields } from '../airframe/place-fields'

type Side = PartHead['side']
type Props = { head: PartHead; onClose: () => void }

/** Of the part itself: its name, where it belongs and lies, its copies, and taking it out. */
export function PartSheet({ head, onClose }: Props) {
  const go = useNavigate()
  const edit = useEdit(head.version)
  const airframe = useAirframe(head.project_id).data
  const [place, setPlace, placeKept] = useTyped(head.place)
  const path = { params: { path: { part_id: head.id } } }
  const change = (more: {
    name?: string
    assembly_id?: string
    side?: Side
    hand?: PartHead['hand']
    place?: Record<string, string>
  }) =>
    edit.save((version, reason) =>
      answer(client.PATCH('/api/v1/parts/{part_id}', { ...path, body: { version, reason, ...more } })),
    )
  const differ = () =>
    edit.save((version) =>
      answer(client.POST('/api/v1/parts/{part_id}/differ', { ...path, body: { version } })),
    )
  const hide = async (hidden: boolean) => {
    const done = await edit.save((version) =>
      answer(client.POST('/api/v1/parts/{part_id}/hidden', { ...path, body: { version, hidden } })),
    )
    if (!done) return
    onClose()
    if (hidden) void go(`/airframe?id=${head.project_id}`)
  }
  const problems = edit.problem?.fields ?? {}
  const fields = airframe?.place ?? []
  const placed = JSON.stringify(place) !== JSON.stringify(head.place)
  return (
    <div className="flex flex-col gap-5">
      <EditProblem edit={edit} shownInFields={['name', ...fields.map((one) => one.field)]} />
      <SavedField
        label="Its name"
        saved={head.name}
        problem={problems.name}
        onSave={(name) => change({ name })}
      />
      {airframe && (
        <Pick
          label="It belongs to"
          value={head.assembly_id}
          choices={airframe.assemblies.map(({ id, name }) => ({ value: id, name }))}
          onChange={(assembly_id) => void change({ assembly_id })}
        />
      )}
      <OneOf
        label="It is"
        value={head.hand}
        choices={[
          { value: 'left', name: 'Left' },
          { value: 'right', name: 'Right' },
          { value: 'centre', name: 'Centre' },
        ]}
        onChange={(hand) => void change({ hand: hand as PartHead['hand'] })}
      />
      <OneOf
        label="Built on its"
        value={head.side}
        choices={[
          { value: 'whole', name: 'Both sides' },
          { value: 'upper', name: 'Upper side' },
          { value: 'lower', name: 'Lower side' },
        ]}
        onChange={(side) => void change({ side: side as Side })}
      />
      <fieldset className="flex flex-col gap-2 [&>div]:grid-cols-1!">
        <legend className="mb-1 font-semibold text-lg">Where it lies on the airframe</legend>
        <PlaceFields fields={fields} texts={place} problems={problems} onChange={setPlace} />
        <Button quiet disabled={!placed} onClick={() => void change({ place }).then(placeKept(place))}>
          Keep its place
        </Button>
      </fieldset>
      <section className="flex flex-col gap-3 border-line border-t pt-4">
        <h3 className="font-semibold text-lg">Another like it</h3>
        {head.hand !== 'centre' && head.mirrored.length === 0 && (
          <Another head={head} how="mirror" onDone={(id) => void go(`/part/${id}/steps`)} />
        )}
        <Another head={head} how="copy" onDone={(id) => void go(`/part/${id}/steps`)} />
        {head.sharing && (
          <>
            <p className="text-soft">
              It shares its shape or its jobs with other parts: what is changed on one counts for all of them.
            </p>
            <Button quiet onClick={() => void differ()}>
              Let it differ from now on
            </Button>
          </>
        )}
      </section>
      <section className="flex flex-col gap-2 border-line border-t pt-4">
        <p className="text-soft">
          {head.taken_out
            ? 'It was taken out of its airframe.'
            : 'Taken out, nothing of it is planned any more. It can be taken back for thirty days; what was done of it is never lost.'}
        </p>
        <LabelLink kind="part" ids={[head.id]} name="Label for it" />
        <Button quiet onClick={() => void hide(!head.taken_out)}>
          {head.taken_out ? 'Take it back' : 'Take this part out'}
        </Button>
      </section>
    </div>
  )
}

type AnotherProps = { head: PartHead; how: 'mirror' | 'copy'; onDone: (id: string) => void }

function Another({ head, how, onDone }: AnotherProps) {
  const edit = useEdit(0)
  const [id] = useState(newId)
  const [name, setName] = useState('')
  const other = head.hand === 'left' ? 'right' : 'left'
  const add = async () => {
    const path = { params: { path: { part_id: head.id } } }
    const body = { id, how, name }
    if (await edit.save(() => answer(client.POST('/api/v1/parts/{part_id}/copy', { ...path, body }))))
      onDone(id)
  }
  return (
    <div className="flex flex-col gap-2">
      <div className="flex items-end gap-2">
        <TextField
          label={
            how === 'mirror'
              ? `The ${other} one, its mirror image, shares shape and jobs`
              : 'A copy with its jobs, to be changed by itself'
          }
          placeholder="its name; empty: one is made"
          value={name}
          problem={edit.problem?.fields.name}
          onChange={setName}
          className="flex-1"
        />
        <Button quiet onClick={() => void add()}>
          {how === 'mirror' ? 'Mirror' : 'Copy'}
        </Button>
      </div>
      <EditProblem edit={edit} shownInFields={['name']} />
    </div>
  )
}
