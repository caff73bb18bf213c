import { useState } from 'react'
import type { JointView } from '@/api/client'
import { useEdit } from '@/api/edit'
import { Button } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { Notice } from '@/ui/notice'
import { OneOf } from '@/ui/one-of'
import { Pick } from '@/ui/pick'
import { TextField } from '@/ui/text-field'
import { HiddenHole } from './hidden-hole'
import { saidOf, sayJoint } from './joint-ties'

/** A row of fasteners along the joint: how many, how far apart, what is checked, and the strip at full size. */
export function FastenerRow({ view }: { view: JointView }) {
  const edit = useEdit(view.version)
  const [open, setOpen] = useState(false)
  const kept = Object.fromEntries(view.fasteners.fields.map(({ field, text }) => [field, text]))
  const [typed, setTyped] = useState<Record<string, string>>({})
  const texts = { ...kept, ...typed }
  const row = view.fasteners
  const put = (field: string, text: string) => setTyped({ ...typed, [field]: text })
  const keep = async (fasteners: Record<string, string>) => {
    if (await sayJoint(edit, view, saidOf(view), fasteners)) {
      setTyped({})
      setOpen(false)
    }
  }
  return (
    <section aria-label="Fasteners" className="flex flex-col gap-3">
      <h3 className="font-semibold text-xl">Fasteners</h3>
      {row.says.map((words) => (
        <p key={words}>{words}</p>
      ))}
      {row.checks.map((check) => (
        <Notice key={check.words} tone={check.holds ? 'ready' : 'care'}>
          {check.words}
        </Notice>
      ))}
      {open && (
        <div className="grid items-end gap-3 sm:grid-cols-2 lg:grid-cols-3">
          {row.fields.map((field) =>
            field.style === 'choice' ? (
              <Pick
                key={field.field}
                label={field.label}
                value={texts[field.field] ?? ''}
                placeholder="Choose one"
                choices={field.choices.map((name) => ({ value: name, name }))}
                onChange={(text) => put(field.field, text)}
              />
            ) : field.style === 'yes' ? (
              <OneOf
                key={field.field}
                label={field.label}
                value={texts[field.field] || 'no'}
                choices={[
                  { value: 'yes', name: 'Yes' },
                  { value: 'no', name: 'No' },
                ]}
                onChange={(text) => put(field.field, text)}
              />
            ) : (
              <TextField
                key={field.field}
                label={field.label}
                unit={field.unit}
                value={texts[field.field] ?? ''}
                problem={edit.problem?.fields[field.field]}
                onChange={(text) => put(field.field, text)}
              />
            ),
          )}
        </div>
      )}
      <EditProblem edit={edit} shownInFields={row.fields.map(({ field }) => field)} />
      <div className="flex flex-wrap gap-3">
        {open ? (
          <>
            <Button onClick={() => void keep(texts)}>Keep this row</Button>
            <Button quiet onClick={() => setOpen(false)}>
              Leave it
            </Button>
            {row.given && (
              <Button quiet onClick={() => void keep({})}>
                It has no fasteners
              </Button>
            )}
          </>
        ) : (
          <Button quiet onClick={() => setOpen(true)}>
            {row.given ? 'Change the row…' : 'It has a row of fasteners…'}
          </Button>
        )}
        {row.given && row.says.length > 0 && (
          <a
            className="inline-flex min-h-11 items-center underline"
            href={`/api/v1/parts/${view.part_id}/fasteners.pdf`}
            target="_blank"
            rel="noreferrer"
          >
            Strip at full size, and its table
          </a>
        )}
      </div>
      <HiddenHole />
    </section>
  )
}
