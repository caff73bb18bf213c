import { clsx } from 'clsx'
import { useState } from 'react'
import { useRefresh } from '@/api/changes'
import { answer, type ChecksView, type CheckView, client, newId, Problem } from '@/api/client'
import { useWho } from '@/api/present'
import { Button } from '@/ui/button'
import { Keypad } from '@/ui/keypad'
import { Notice } from '@/ui/notice'
import { TextField } from '@/ui/text-field'
import { Who } from '@/ui/who'
import { Planform } from '@/weave/planform'

type Props = {
  check: CheckView
  moment: CheckView['readings'][number]['moment']
  view: ChecksView
  onClose: () => void
}

/** One place after the other on a big keypad, the row of them above; the whole screen, for gloves. */
export function ReadCheck({ check, moment, view, onClose }: Props) {
  const refresh = useRefresh()
  const [id] = useState(newId)
  const [at, setAt] = useState(0)
  const [who, setWho] = useWho()
  const [note, setNote] = useState('')
  const [texts, setTexts] = useState<string[]>(() => check.places.map(() => ''))
  const [problem, setProblem] = useState<Problem | null>(null)
  const place = check.places[at]
  const text = texts[at] ?? ''
  const signed = check.kind === 'angle' || check.kind === 'straightness'
  const type = (next: string) => setTexts(texts.map((one, n) => (n === at ? next : one)))
  const keep = async (sure = false) => {
    try {
      const body = {
        id,
        check_id: check.id,
        moment,
        sure,
        crew_member_id: who || null,
        note,
        values: texts.map((one) => ({ text: one, unit: check.unit })),
      }
      const params = { path: { part_id: view.part_id } }
      await answer(client.POST('/api/v1/parts/{part_id}/measured', { params, body }))
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      setProblem(error)
      const wrong = Object.keys(error.fields).find((field) => field.startsWith('values.'))
      if (wrong) setAt(Number(wrong.split('.')[1]))
      return
    }
    await refresh()
    onClose()
  }
  // Where to measure: the place one is at, on the part's own outline.
  const marks = place?.mark ? [{ at: place.mark, name: String(at + 1) }] : []
  const wrong = problem?.fields[`values.${at}`]
  return (
    <div
      role="dialog"
      aria-modal
      aria-label={`Read ${check.name}`}
      className="fixed inset-0 z-40 flex flex-col gap-4 overflow-y-auto bg-ground p-6 max-sm:p-3"
    >
      <header className="flex flex-wrap items-center justify-between gap-3">
        <h2 className="font-semibold text-2xl">
          {check.name}
          {moment !== 'once' && <span className="font-normal text-soft">, {moment}</span>}
        </h2>
        <Button quiet onClick={onClose}>
          Leave it
        </Button>
      </header>
      <div className="flex shrink-0 gap-1 overflow-x-auto pb-1">
        {check.places.map((one, n) => (
          <button
            key={one.name}
            type="button"
            aria-current={n === at ? 'step' : undefined}
            onClick={() => setAt(n)}
            className={clsx(
              'min-h-14 min-w-24 shrink-0 border-2 px-3 text-left',
              n === at ? 'border-ink bg-ink text-ground' : 'border-line bg-panel',
            )}
          >
            <span className="block text-sm">{one.name}</span>
            <span className="font-semibold tabular-nums">{texts[n] || '—'}</span>
          </button>
        ))}
      </div>
      {/* On a phone the keys come right below what they type. */}
      <div className="grid items-start gap-x-10 gap-y-4 md:grid-cols-[1fr_auto]">
        <div className="min-w-0">
          <p className="text-xl">
            {place?.name}
            {place?.at && <span className="text-soft"> at {place.at}</span>}
          </p>
          <p className="text-lg text-soft">
            asked {place?.asked}, {check.tolerance}
            {check.others.slice(0, 3).map(
              (other) =>
                other.values[at]?.found && (
                  <span key={other.part_id} className="block">
                    {other.name}: {other.values[at].found}
                  </span>
                ),
            )}
          </p>
          <label className="mt-3 block">
            <span className="sr-only">Found at {place?.name}</span>
            <span className="flex items-baseline gap-3 border-ink border-b-4 bg-panel px-4">
              <input
                value={text}
                inputMode="none"
                autoComplete="off"
                aria-invalid={wrong ? true : undefined}
                onChange={(event) => type(event.target.value)}
                onKeyDown={(event) =>
                  event.key === 'Enter' && setAt(Math.min(at + 1, check.places.length - 1))
                }
                className="h-24 w-full min-w-0 bg-transparent font-semibold text-6xl tabular-nums outline-none"
              />
              <span className="text-3xl text-soft">{check.unit}</span>
            </span>
          </label>
          {wrong && (
            <p role="alert" className="edge-stop mt-2 bg-madder-wash px-3 py-1.5 text-madder">
              {wrong}
            </p>
          )}
          {problem && !wrong && (
            <div className="mt-3 flex flex-col gap-2">
              <Notice tone={problem.fields.sure ? 'care' : 'stop'}>
                {problem.fields.sure ?? problem.message}
              </Notice>
              {problem.fields.sure && (
                <Button quiet className="self-start" onClick={() => void keep(true)}>
                  It is so: keep it
                </Button>
              )}
            </div>
          )}
        </div>
        <div className="md:row-span-2">
          <Keypad text={text} sixteenths={check.sixteenths} signed={signed} onText={type} />
        </div>
        <div className="min-w-0">
          <Who label="Who reads it" people={view.people} who={who} onWho={setWho} />
          <TextField
            label={check.kind === 'torque' ? 'Its mark of paint, and how it is safetied' : 'Anything to note'}
            value={note}
            onChange={setNote}
            className="mt-3"
          />
          {marks.length > 0 && (
            <Planform
              outline={view.outline}
              ends={view.loft}
              marks={marks}
              deepest={80}
              className="mt-3 w-full"
            />
          )}
        </div>
      </div>
      <div className="-bottom-6 sticky mt-auto flex gap-4 bg-ground py-2 max-sm:-bottom-3">
        <button
          type="button"
          disabled={at === 0}
          onClick={() => setAt(at - 1)}
          className="min-h-20 w-40 border-2 border-line bg-panel font-semibold text-xl disabled:opacity-40 max-sm:w-24"
        >
          Back
        </button>
        {at < check.places.length - 1 ? (
          <button
            type="button"
            onClick={() => setAt(at + 1)}
            className="min-h-20 flex-1 border-2 border-ink bg-ink font-semibold text-3xl text-ground"
          >
            Next: {check.places[at + 1]?.name}
          </button>
        ) : (
          <button
            type="button"
            onClick={() => void keep()}
            className="min-h-20 flex-1 border-2 border-ink bg-ink font-semibold text-3xl text-ground"
          >
            Keep it
          </button>
        )}
      </div>
    </div>
  )
}
