import { useQuery } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { Link, useNavigate, useParams, useSearchParams } from 'react-router'
import { answer, client, newId, type SheetView } from '@/api/client'
import { useEdit } from '@/api/edit'
import { useBlankSheet, useSheet } from '@/api/questions'
import { Button, ButtonLink } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { Notice } from '@/ui/notice'
import { TextField } from '@/ui/text-field'
import { Lots } from './lots'
import { SheetFields } from './sheet-fields'
import { type SheetDraft, StagesTable } from './stages-table'

/** One data sheet, read and edited in one place; it is questioned while it is typed. */
export default function SheetPage() {
  const { id } = useParams()
  const [query] = useSearchParams()
  const kept = useSheet(id ?? '')
  const blank = useBlankSheet(id ? null : { kind: query.get('kind') ?? '', like: query.get('like') ?? '' })
  const sheet = id ? kept : blank
  if (sheet.error && !sheet.data)
    return (
      <Notice tone="stop" className="m-6">
        {sheet.error.message}
      </Notice>
    )
  if (!sheet.data) return null
  return <Sheet key={`${id}${query}`} sheet={sheet.data} />
}

const keptDraft = (at: string) =>
  JSON.parse(sessionStorage.getItem(at) ?? 'null') as { draft: SheetDraft; base: number } | null

const draftOf = (sheet: SheetView): SheetDraft => ({
  name: sheet.name,
  texts: Object.fromEntries(sheet.fields.map((field) => [field.key, field.text])),
  temps: sheet.stages?.temps ?? [],
  stages: sheet.stages?.rows ?? [],
})

function Sheet({ sheet }: { sheet: SheetView }) {
  const go = useNavigate()
  const [query] = useSearchParams()
  const then = query.get('then') ?? ''
  // What was typed and not saved outlives a look at another page; on this tablet only.
  const at = `sheet:${sheet.id || sheet.kind}`
  const [typed, setTyped] = useState<SheetDraft | null>(() => keptDraft(at)?.draft ?? null)
  const [fresh] = useState(newId)
  // What is typed was read at this version, whatever others have saved since.
  const [base, setBase] = useState(() => keptDraft(at)?.base ?? sheet.version)
  useEffect(() => {
    if (typed) sessionStorage.setItem(at, JSON.stringify({ draft: typed, base }))
    else sessionStorage.removeItem(at)
  }, [at, typed, base])
  const edit = useEdit(typed ? base : sheet.version)
  const draft = typed ?? draftOf(sheet)
  const change = (part: Partial<SheetDraft>) => {
    if (!typed) setBase(sheet.version)
    setTyped({ ...draft, ...part })
  }
  const checked = useChecked(sheet.kind, typed) ?? sheet.checked
  // What a save was refused for says nothing of what is typed since.
  const [refused, setRefused] = useState<SheetDraft | null>(null)
  const problems = { ...checked.problems, ...(typed === refused ? edit.problem?.fields : {}) }
  const body = { kind: sheet.kind, ...draft }
  const save = async () => {
    let put = sheet.id
    const done = await edit.save(async (version) => {
      if (sheet.id) {
        const path = { params: { path: { sheet_id: sheet.id } } }
        return answer(client.PATCH('/api/v1/shelf/{sheet_id}', { ...path, body: { ...body, version } }))
      }
      const keptSheet = await answer(client.POST('/api/v1/shelf', { body: { ...body, id: fresh } }))
      put = keptSheet.id
      return keptSheet
    })
    setRefused(done ? null : typed)
    if (!done) return
    setTyped((now) => (now === typed ? null : now))
    // Made on the spot for something that is being typed elsewhere, one goes on there.
    if (then.startsWith('/')) void go(`${then}${then.includes('?') ? '&' : '?'}made=${put}`)
    else if (!sheet.id) void go(`/stores/${put}`, { replace: true })
  }
  const hide = async () => {
    const done = await edit.save((version) =>
      answer(
        client.PATCH('/api/v1/shelf/{sheet_id}/hidden', {
          params: { path: { sheet_id: sheet.id } },
          body: { version, hidden: true },
        }),
      ),
    )
    if (done) void go('/stores')
  }
  return (
    <div className="mx-auto flex max-w-6xl flex-col gap-4 px-6 pt-4 max-sm:px-4">
      {then && (
        <Notice tone="wait" className="flex flex-wrap items-center justify-between gap-3">
          Once it is saved, the form you came from goes on where it was.
          <ButtonLink quiet to={then}>
            Back without it
          </ButtonLink>
        </Notice>
      )}
      <h1 className="sr-only">{draft.name || `A new ${sheet.kind}`}</h1>
      <div className="flex flex-wrap items-end gap-4">
        <TextField
          label={`Name of this ${sheet.kind}`}
          value={draft.name}
          problem={problems.name}
          className="min-w-64 flex-1 sm:max-w-lg"
          onChange={(name) => change({ name })}
        />
        {sheet.id && (
          <>
            <ButtonLink quiet to={`/stores/new?kind=${encodeURIComponent(sheet.kind)}&like=${sheet.id}`}>
              Copy
            </ButtonLink>
            {draft.texts['lids.resin'] && (
              <a
                href={`/api/v1/lids?sheet=${sheet.id}`}
                className="inline-flex min-h-11 items-center border-2 border-line bg-panel px-4 font-semibold hover:border-ink"
              >
                Lid labels
              </a>
            )}
            <Button quiet onClick={() => void hide()}>
              Take off the shelf
            </Button>
          </>
        )}
        <Link to="/stores" className="ml-auto inline-flex min-h-11 items-center underline">
          The whole shelf
        </Link>
      </div>
      <div className="grid items-start gap-6 lg:grid-cols-[1fr_22rem]">
        <div className="flex min-w-0 flex-col gap-5">
          <SheetFields
            sheet={sheet}
            draft={draft}
            problems={problems}
            change={change}
            stages={
              sheet.stages && (
                <StagesTable
                  usual={sheet.stages.usual}
                  draft={draft}
                  problem={problems.stages ?? problems['stages.hours']}
                  change={change}
                />
              )
            }
          />
          <HazardBoxes sheet={sheet} draft={draft} change={change} />
        </div>
        <aside className="flex flex-col gap-3 lg:sticky lg:top-4" aria-label="About this sheet">
          <About checked={checked} />
          {sheet.used_by.length > 0 && (
            <p>
              <span className="text-soft">Built with it:</span> {sheet.used_by.join(', ')}.
            </p>
          )}
          {sheet.id && <Lots sheet={sheet} />}
        </aside>
      </div>
      {(typed || !sheet.id) && (
        <div className="sticky bottom-0 z-10 -mx-6 flex flex-wrap items-center gap-3 border-ink border-t-2 bg-panel px-6 py-3 max-sm:-mx-4">
          <Button big onClick={() => void save()}>
            {sheet.id ? 'Save the sheet' : 'Put it on the shelf'}
          </Button>
          <Button
            quiet
            onClick={() => {
              setTyped(null)
              if (!sheet.id) void go('/stores')
            }}
          >
            {sheet.id ? 'Leave it as it was' : 'Throw it away'}
          </Button>
          {typed && <p className="text-soft">Not saved yet; it stays on this tablet meanwhile.</p>}
          <div className="min-w-0 flex-1">
            <EditProblem edit={edit} />
          </div>
        </div>
      )}
      {!typed && sheet.id && <EditProblem edit={edit} />}
    </div>
  )
}

/** What the shop says of what is typed, a moment after the last key. */
function useChecked(kind: string, typed: SheetDraft | null) {
  const [settled, setSettled] = useState(typed)
  useEffect(() => {
    const timer = window.setTimeout(() => setSettled(typed), 250)
    return () => window.clearTimeout(timer)
  }, [typed])
  const checked = useQuery({
    queryKey: ['check-sheet', kind, settled],
    queryFn: () => answer(client.POST('/api/v1/shelf/check', { body: { kind, ...(settled as SheetDraft) } })),
    enabled: settled !== null,
    placeholderData: (before) => before,
    retry: false,
  })
  return typed ? checked.data : undefined
}

function About({ checked }: { checked: SheetView['checked'] }) {
  const [assumed, lacks] = [checked.lacks.filter((l) => l.assumed), checked.lacks.filter((l) => !l.assumed)]
  return (
    <>
      {checked.questions.length > 0 && (
        <Notice tone="care">
          <p className="font-semibold">Is this right?</p>
          <ul className="mt-1 flex flex-col gap-2">
            {checked.questions.map((question) => (
              <li key={question.sentence}>{question.sentence}</li>
            ))}
          </ul>
        </Notice>
      )}
      {checked.follows.map((words) => (
        <p key={words} className="border-line border-l-6 pl-3">
          {words}
        </p>
      ))}
      {lacks.length > 0 && (
        <section className="border-line border-l-6 pl-3">
          <h2 className="font-semibold">The sheet does not say</h2>
          <ul className="flex flex-col gap-1">
            {lacks.map((lack) => (
              <li key={lack.field}>{lack.words}</li>
            ))}
          </ul>
        </section>
      )}
      {assumed.length > 0 && (
        <section className="border-weld border-l-6 border-dotted pl-3">
          <h2 className="font-semibold">Assumed instead</h2>
          <ul className="flex flex-col gap-1">
            {assumed.map((lack) => (
              <li key={lack.field}>{lack.words}</li>
            ))}
          </ul>
        </section>
      )}
    </>
  )
}

type HazardProps = { sheet: SheetView; draft: SheetDraft; change: (part: Partial<SheetDraft>) => void }

function HazardBoxes({ sheet, draft, change }: HazardProps) {
  const chosen = (draft.texts.hazards ?? '')
    .split(';')
    .map((word) => word.trim())
    .filter(Boolean)
  const names = [...new Set([...Object.keys(sheet.cautions), ...chosen])]
  const toggle = (name: string) => {
    const next = chosen.includes(name) ? chosen.filter((other) => other !== name) : [...chosen, name]
    change({ texts: { ...draft.texts, hazards: next.join('; ') } })
  }
  return (
    <fieldset>
      <legend className="mb-1 font-semibold text-lg">Hazards, and the usual care</legend>
      <div className="grid gap-x-6 sm:grid-cols-2">
        {names.map((name) => (
          <label
            key={name}
            className="flex min-h-11 items-center gap-3 border-line border-t py-1.5 has-checked:bg-weld-wash"
          >
            <input
              type="checkbox"
              className="size-11 shrink-0"
              checked={chosen.includes(name)}
              onChange={() => toggle(name)}
            />
            <span>
              <span className="font-semibold">{name}.</span>{' '}
              <span className="text-soft">{sheet.cautions[name]}</span>
            </span>
          </label>
        ))}
      </div>
      <p className="mt-1 text-soft text-sm">The maker’s instructions and local rules decide.</p>
    </fieldset>
  )
}
