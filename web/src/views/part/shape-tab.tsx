import { useEffect, useState } from 'react'
import { answer, client, newId, type PartHead, type ShapeTyped, type ShapeView } from '@/api/client'
import { useEdit } from '@/api/edit'
import { useAirframe, useShape, useShapeLook } from '@/api/questions'
import { Button } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { Notice } from '@/ui/notice'
import { ShapeEditor } from './shape-editor'
import { ShapeSource, type Source } from './shape-source'
import { begun } from './shape-typed'

/** A part's shape: typed in a table, drawn as it is typed, kept when it is right. */
export function ShapeTab({ head }: { head: PartHead }) {
  const shape = useShape(head.id, head.shaped)
  if (!head.shaped) return <GiveShape head={head} />
  if (shape.error && !shape.data) return <Notice tone="stop">{shape.error.message}</Notice>
  return shape.data ? <Editing key={shape.data.shape_id} head={head} view={shape.data} /> : null
}

type Draft = { shape: ShapeTyped; base: number }

function Editing({ head, view }: { head: PartHead; view: ShapeView }) {
  // What was typed and not kept outlives a look at another page; on this tablet only.
  const at = `shape ${view.shape_id}`
  const [draft, setDraft] = useState<Draft | null>(() => JSON.parse(sessionStorage.getItem(at) ?? 'null'))
  useEffect(() => {
    if (draft) sessionStorage.setItem(at, JSON.stringify(draft))
    else sessionStorage.removeItem(at)
  }, [at, draft])
  // What is typed was read at this version, whatever others have saved since.
  const edit = useEdit(draft?.base ?? view.version)
  const [note, setNote] = useState('')
  const shape = draft?.shape ?? view.typed
  const changed = draft !== null && JSON.stringify(shape) !== JSON.stringify(view.typed)
  const looked = useShapeLook(changed ? { shape, side: head.side, hand: head.hand, part_id: head.id } : null)
  const look = changed ? looked : { drawing: view.drawing, notes: note ? [note] : [], unread: null }
  const keep = async () => {
    let said = ''
    let base = 0
    const done = await edit.save(async (version, reason) => {
      const saved = await answer(
        client.PATCH('/api/v1/shapes/{shape_id}', {
          params: { path: { shape_id: view.shape_id } },
          body: { version, reason, shape },
        }),
      )
      said = saved.note ?? ''
      base = saved.version
      return saved
    })
    if (!done) return
    // What was typed while this was being kept is not kept yet.
    setDraft((now) => (now && now.shape !== draft?.shape ? { ...now, base } : null))
    setNote(said)
  }
  return (
    <form
      className="flex flex-col gap-5"
      onSubmit={(event) => {
        event.preventDefault()
        if (changed) void keep()
      }}
    >
      {changed && (
        <div className="sticky top-0 z-10 flex flex-wrap items-center gap-3 border-ink border-b-2 bg-ground py-2">
          <span className="min-w-60 flex-1">
            Not kept yet. It counts for {view.decides.join('; ')}: areas, amounts, steps and the plan follow;
            what was mixed or done stays.
          </span>
          <Button type="submit">Keep this shape</Button>
          <Button quiet onClick={() => setDraft(null)}>
            Leave it as it was
          </Button>
        </div>
      )}
      <EditProblem edit={edit} shownInFields={look?.unread ? [look.unread.field] : []} />
      <ShapeEditor
        shape={shape}
        look={look}
        side={head.side}
        onChange={(typed) => setDraft({ shape: typed, base: draft?.base ?? view.version })}
      />
      {!changed && view.decides.length > 1 && (
        <p className="text-soft">A change counts for {view.decides.join('; ')}.</p>
      )}
    </form>
  )
}

/** A part that has no shape yet gets one. */
function GiveShape({ head }: { head: PartHead }) {
  const edit = useEdit(0)
  const [id] = useState(newId)
  const [source, setSource] = useState<Source>({ kind: '', of: '', shape: null })
  const others = useAirframe(head.project_id).data?.assemblies.flatMap((assembly) => assembly.parts) ?? []
  const keep = () =>
    edit.save(() =>
      answer(
        client.POST('/api/v1/airframes/parts/{part_id}/shape', {
          params: { path: { part_id: head.id } },
          body: { id, shape: source.shape, shape_of: source.of },
        }),
      ),
    )
  const ready = source.of !== '' || (source.shape !== null && begun(source.shape))
  return (
    <div className="flex flex-col gap-5">
      <p className="text-lg">{head.name} has no shape yet.</p>
      <ShapeSource
        source={source}
        side={head.side}
        hand={head.hand}
        others={others.filter((part) => part.id !== head.id && part.shape)}
        onChange={setSource}
      />
      <EditProblem edit={edit} />
      <Button className="self-start" disabled={!ready} onClick={() => void keep()}>
        Keep this shape
      </Button>
    </div>
  )
}
