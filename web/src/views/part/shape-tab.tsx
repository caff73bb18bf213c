import { useRef, useState } from 'react'
import { answer, client, type ShapeView } from '@/api/client'
import { useEdit } from '@/api/edit'
import { useShape } from '@/api/questions'
import { Button } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { FigureValue } from '@/ui/figure'
import { Notice } from '@/ui/notice'
import { OneOf } from '@/ui/one-of'
import { SavedField } from '@/ui/saved-field'
import { TextField } from '@/ui/text-field'
import { Planform } from '@/weave/planform'
import { SectionDrawing } from '@/weave/section'

type End = 'root' | 'tip' | 'both'

export function ShapeTab({ partId, side }: { partId: string; side: 'upper' | 'lower' | 'whole' }) {
  const shape = useShape(partId)
  const view = shape.data
  const edit = useEdit(view?.version)
  const [note, setNote] = useState('')
  if (shape.error && !shape.data) return <Notice tone="stop">{shape.error.message}</Notice>
  if (!view) return null
  const words = Object.fromEntries(view.measures.map((m) => [m.field, m.text]))
  const saveMeasure = (field: string, unit: string) => (text: string) =>
    edit.save((version, reason) =>
      answer(
        client.PATCH('/api/v1/shapes/{shape_id}', {
          params: { path: { shape_id: view.shape_id } },
          body: { version, reason, measures: { [field]: { text, unit } } },
        }),
      ),
    )
  return (
    <div className="flex flex-col gap-5">
      <EditProblem edit={edit} shownInFields={[...view.measures.map((m) => m.field), 'section', 'naca']} />
      <Planform
        outline={view.outline}
        span={`span ${words.span_m}`}
        root={`${words.root_chord_m}`}
        tip={`${words.tip_chord_m}`}
        className="w-full"
      />
      <div className="grid gap-8 lg:grid-cols-[minmax(0,1.15fr)_minmax(0,1fr)] 2xl:grid-cols-[1fr_1fr_1.1fr]">
        <section className="flex flex-col gap-3">
          <h2 className="font-semibold text-xl">Planform</h2>
          <div className="grid grid-cols-2 items-end gap-3">
            {view.measures.map((m) => (
              <SavedField
                key={m.field}
                label={m.label}
                saved={m.text}
                problem={edit.problem?.fields[m.field]}
                onSave={saveMeasure(m.field, m.unit)}
              />
            ))}
          </div>
          <p className="text-soft text-sm">
            Type 7.2 m, 283 1/2 in or 23 ft 7. A change counts for {view.decides.join('; ')}.
          </p>
        </section>
        <SectionEditor
          view={view}
          side={side === 'lower' ? 'lower' : 'upper'}
          edit={edit}
          note={note}
          onNote={setNote}
        />
        <section className="lg:max-2xl:col-span-2">
          <h2 className="mb-1 font-semibold text-xl">Comes to</h2>
          <div className="grid grid-cols-2 gap-x-2 lg:max-2xl:grid-cols-4">
            {view.figures.map((figure) => (
              <FigureValue key={figure.key} figure={figure} />
            ))}
          </div>
          <p className="px-2 text-soft text-sm">Pick a figure to see what it comes from.</p>
        </section>
      </div>
    </div>
  )
}

type EditorProps = {
  view: ShapeView
  side: 'upper' | 'lower'
  edit: ReturnType<typeof useEdit>
  note: string
  onNote: (note: string) => void
}

function SectionEditor({ view, side, edit, note, onNote }: EditorProps) {
  const file = useRef<HTMLInputElement>(null)
  const [end, setEnd] = useState<End>('both')
  const [digits, setDigits] = useState('')
  const save = async (section: { naca?: string; file?: string; file_name?: string }) => {
    let said = ''
    const done = await edit.save(async (version, reason) => {
      const saved = await answer(
        client.PATCH('/api/v1/shapes/{shape_id}', {
          params: { path: { shape_id: view.shape_id } },
          body: { version, reason, section: { end, file_name: '', ...section } },
        }),
      )
      said = saved.note ?? ''
    })
    onNote(said)
    return done
  }
  const problem = edit.problem?.fields.section ?? edit.problem?.fields.naca
  return (
    <section className="flex flex-col gap-3">
      <h2 className="font-semibold text-xl">Section</h2>
      {view.sections.map((section) => (
        <figure key={section.end}>
          <SectionDrawing upper={section.upper} lower={section.lower} lit={side} />
          <figcaption className="text-sm">
            {section.end}: <span className="font-semibold">{section.name}</span>
          </figcaption>
        </figure>
      ))}
      <OneOf
        label="Change at"
        value={end}
        choices={[
          { value: 'both', name: 'Both ends' },
          { value: 'root', name: 'Root' },
          { value: 'tip', name: 'Tip' },
        ]}
        onChange={(chosen) => setEnd(chosen as End)}
      />
      <form
        className="grid grid-cols-[1fr_auto_auto] items-start gap-2"
        onSubmit={async (event) => {
          event.preventDefault()
          if (await save({ naca: digits })) setDigits('')
        }}
      >
        <TextField
          aria-label="NACA four digits"
          placeholder="NACA 2412"
          value={digits}
          onChange={setDigits}
        />
        <Button type="submit">Use</Button>
        <Button quiet onClick={() => file.current?.click()}>
          From a file…
        </Button>
      </form>
      <input
        ref={file}
        type="file"
        accept=".dat,.txt,.csv"
        aria-label="Section coordinate file"
        className="sr-only"
        tabIndex={-1}
        onChange={async (event) => {
          const chosen = event.target.files?.[0]
          event.target.value = ''
          if (chosen) await save({ file: await chosen.text(), file_name: chosen.name })
        }}
      />
      {problem && <Notice tone="stop">{problem}</Notice>}
      {note && !problem && <Notice tone="care">{note}</Notice>}
    </section>
  )
}
