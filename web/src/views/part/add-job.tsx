import { useEffect, useState } from 'react'
import { useLocation, useSearchParams } from 'react-router'
import { answer, client, type JobLook, newId, type PartHead } from '@/api/client'
import { useEdit } from '@/api/edit'
import { useJobLook } from '@/api/questions'
import { Button, ButtonLink } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { Notice } from '@/ui/notice'
import { OneOf } from '@/ui/one-of'
import { Pick } from '@/ui/pick'
import { TextField } from '@/ui/text-field'

type Draft = {
  id: string
  after: string | null
  recipe: string
  given: Record<string, string>
  products: Record<string, string>
  alone: boolean
  /** The role a product is being made for, on another page. */
  making: string
}
const keyOf = (part: string) => `job ${part}`

/** What was typed of a job that is not kept yet; it stays in this browser while a product is made for it. */
export function keptDraft(part: string): Draft | null {
  const kept = sessionStorage.getItem(keyOf(part))
  return kept ? (JSON.parse(kept) as Draft) : null
}

type Props = { head: PartHead; after: string | null; onDone: (id: string) => void; onClose: () => void }

/** A way of building chosen, given what it asks, looked at, and added. */
export function AddJob({ head, after, onDone, onClose }: Props) {
  const edit = useEdit(0)
  const [draft, setDraft] = useState<Draft>(() => {
    const kept = keptDraft(head.id)
    return kept?.after === after
      ? kept
      : { id: newId(), after, recipe: '', given: {}, products: {}, alone: false, making: '' }
  })
  const [query, setQuery] = useSearchParams()
  const made = query.get('made')
  useEffect(() => {
    if (!made) return
    setDraft((now) =>
      now.making ? { ...now, making: '', products: { ...now.products, [now.making]: made } } : now,
    )
    setQuery(
      (now) => {
        now.delete('made')
        return now
      },
      { replace: true },
    )
  }, [made, setQuery])
  useEffect(() => {
    if (draft.recipe) sessionStorage.setItem(keyOf(head.id), JSON.stringify(draft))
    else sessionStorage.removeItem(keyOf(head.id))
  }, [draft, head.id])
  const change = (more: Partial<Draft>) => setDraft((now) => ({ ...now, ...more }))
  const leave = () => {
    sessionStorage.removeItem(keyOf(head.id))
    onClose()
  }
  const add = async () => {
    const { id, recipe, given, products, alone } = draft
    const path = { params: { path: { part_id: head.id } } }
    const body = { id, recipe, after, alone, given: said(given), products }
    if (!(await edit.save(() => answer(client.POST('/api/v1/parts/{part_id}/jobs', { ...path, body })))))
      return
    sessionStorage.removeItem(keyOf(head.id))
    onDone(id)
  }
  if (!draft.recipe) return <Catalogue head={head} onPick={(recipe) => change({ recipe })} />
  return (
    <div className="flex flex-col gap-4">
      {head.mirrored.length > 0 && (
        <OneOf
          label={`For ${head.mirrored.join(', ')} too?`}
          value={draft.alone ? 'alone' : 'all'}
          choices={[
            { value: 'all', name: 'For all of them' },
            { value: 'alone', name: 'Only this part' },
          ]}
          onChange={(whose) => change({ alone: whose === 'alone' })}
        />
      )}
      <JobForm head={head} draft={draft} onChange={change} />
      <EditProblem edit={edit} />
      <div className="flex flex-wrap gap-3">
        <Button onClick={() => void add()}>Add this job</Button>
        <Button quiet onClick={() => change({ recipe: '', given: {}, products: {} })}>
          Another way
        </Button>
        <Button quiet onClick={leave}>
          Leave it
        </Button>
      </div>
    </div>
  )
}

const said = (texts: Record<string, string>) =>
  Object.fromEntries(Object.entries(texts).filter(([, text]) => text.trim()))

function Catalogue({ head, onPick }: { head: PartHead; onPick: (recipe: string) => void }) {
  const fits = head.ways.filter((way) => !way.unfit)
  const others = head.ways.filter((way) => way.unfit)
  return (
    <div className="flex flex-col gap-4">
      <ul className="flex flex-col gap-2">
        {fits.map((way) => (
          <li key={way.key}>
            <button
              type="button"
              onClick={() => onPick(way.key)}
              className="min-h-14 w-full border-2 border-line px-4 py-2 text-left hover:border-ink"
            >
              <span className="block font-semibold first-letter:uppercase">{way.name}</span>
              <span className="block text-soft text-sm">{way.about}</span>
            </button>
          </li>
        ))}
      </ul>
      {others.length > 0 && (
        <section aria-label="Not on this shape" className="flex flex-col gap-2">
          <h3 className="font-semibold">{head.shaped ? 'Not on this shape' : 'Once it has a shape'}</h3>
          <ul className="flex flex-col gap-1 text-soft text-sm">
            {others.map((way) => (
              <li key={way.key}>
                <span className="font-semibold">{way.name}</span>
                {head.shaped && `: ${way.unfit}`}
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  )
}

type FormProps = { head: PartHead; draft: Draft; onChange: (more: Partial<Draft>) => void }

/** What a way of building asks, and what it would come to. */
function JobForm({ head, draft, onChange }: FormProps) {
  const here = useLocation()
  const look = useJobLook(head.id, {
    recipe: draft.recipe,
    given: said(draft.given),
    products: draft.products,
  })
  const view = look.data
  const wrong = look.error && 'fields' in look.error ? (look.error.fields as Record<string, string>) : {}
  const back = encodeURIComponent(`${here.pathname}${here.search}`)
  if (!view) return look.error ? <Notice tone="stop">{look.error.message}</Notice> : null
  return (
    <>
      <div>
        <h3 className="font-semibold text-lg first-letter:uppercase">{view.name}</h3>
        <p className="text-soft">{view.about}</p>
      </div>
      {view.roles.map((role) => (
        <div key={role.role} className="flex flex-col gap-1">
          {role.choices.length > 0 ? (
            <Pick
              label={role.label}
              value={role.sheet_id}
              placeholder={`Choose a ${role.label.toLowerCase()}`}
              choices={role.choices.map(({ id, name }) => ({ value: id, name }))}
              onChange={(sheet) => onChange({ products: { ...draft.products, [role.role]: sheet } })}
            />
          ) : (
            <Notice tone="care">No {role.label.toLowerCase()} is on the shelf yet.</Notice>
          )}
          <ButtonLink
            quiet
            to={`/stores/new?kind=${encodeURIComponent(role.kinds[0] ?? '')}&then=${back}`}
            onClick={() => onChange({ making: role.role })}
          >
            {role.choices.length > 0 ? 'Another one…' : `Make a ${role.label.toLowerCase()}’s sheet…`}
          </ButtonLink>
        </div>
      ))}
      {view.given.map((field) => (
        <Given
          key={field.field}
          field={field}
          text={draft.given[field.field] ?? ''}
          problem={wrong[field.field]}
          onText={(text) => onChange({ given: { ...draft.given, [field.field]: text } })}
        />
      ))}
      <Looked view={view} />
    </>
  )
}

type GivenProps = {
  field: JobLook['given'][number]
  text: string
  problem: string | undefined
  onText: (text: string) => void
}

function Given({ field, text, problem, onText }: GivenProps) {
  const label = field.unit ? `${field.label}, ${field.unit}` : field.label
  if (field.style === 'choice' || field.style === 'yes') {
    const choices = field.style === 'yes' ? ['yes', 'no'] : field.choices
    const few = choices.length <= 3
    const named = choices.map((name) => ({ value: name, name }))
    const shown = field.assumed && field.text ? `${label} (assumed)` : label
    return few ? (
      <OneOf label={shown} value={text || field.text} choices={named} onChange={onText} />
    ) : (
      <Pick
        label={shown}
        value={text || field.text}
        placeholder="Choose one"
        choices={named}
        onChange={onText}
      />
    )
  }
  return (
    <TextField
      label={label}
      value={text}
      placeholder={field.assumed && field.text ? `${field.text} (assumed)` : ''}
      problem={problem}
      onChange={onText}
    />
  )
}

function Looked({ view }: { view: JobLook }) {
  return (
    <section aria-label="Comes to" className="flex flex-col gap-2 border-line border-t pt-3">
      <h3 className="font-semibold text-lg">Comes to</h3>
      {view.cant.length > 0 && (
        <Notice tone="care">
          <span className="font-semibold">It can be added as it is, but not planned yet.</span>
          <ul className="mt-1 list-disc pl-5">
            {view.cant.map((reason) => (
              <li key={reason} className="first-letter:uppercase">
                {reason}
              </li>
            ))}
          </ul>
        </Notice>
      )}
      {view.asks.map((words) => (
        <Notice key={words} tone="care">
          {words}
        </Notice>
      ))}
      {view.then && <p>{view.then}</p>}
      {view.work && <p className="font-semibold">{view.work}</p>}
      {view.amounts.map((words) => (
        <p key={words}>{words}</p>
      ))}
      <ol className="flex flex-col gap-1 text-sm">
        {view.steps.map((step) => (
          <li key={step.name} className="border-line border-t pt-1">
            <span className="font-semibold">{step.name}</span>: {step.takes}
            {step.wait && <span className="text-soft">; {step.wait}</span>}
          </li>
        ))}
      </ol>
    </section>
  )
}
