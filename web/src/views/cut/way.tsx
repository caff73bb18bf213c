import { useCallback, useState } from 'react'
import { Link, useSearchParams } from 'react-router'
import { useRefresh } from '@/api/changes'
import { answer, type CutPlanView, type CutWay, client, newId, Problem } from '@/api/client'
import { useEdit } from '@/api/edit'
import { useShownAs, useUnitOf } from '@/app/formats'
import { Button, ButtonLink } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { FigureValue } from '@/ui/figure'
import { GivenField } from '@/ui/given-field'
import { Notice } from '@/ui/notice'
import { Pick } from '@/ui/pick'
import { CutLayout, type CutPiece } from '@/weave/cut-layout'

const FORMS = ['dxf', 'svg', 'pdf'] as const

/** One way of cutting: how it cuts, its layout, and what becomes of it. */
export function Way({ plan, way }: { plan: CutPlanView; way: CutWay }) {
  const refresh = useRefresh()
  const [problem, setProblem] = useState('')
  const [busy, setBusy] = useState(false)
  const looking = way.state === 'looking' || way.state === 'waiting'
  const params = { path: { way_id: way.id } }
  const act = async (what: () => Promise<unknown>) => {
    setBusy(true)
    try {
      await what()
      setProblem('')
    } catch (error) {
      if (error instanceof Problem) setProblem(error.message)
    }
    await refresh()
    setBusy(false)
  }
  return (
    <section aria-label={way.name} className="flex flex-col gap-5">
      <HowItCuts plan={plan} way={way} />
      <div className="flex flex-wrap items-center gap-3">
        {looking ? (
          <Button
            disabled={busy}
            onClick={() => void act(() => answer(client.POST('/api/v1/cut-ways/{way_id}/stop', { params })))}
          >
            Stop, keep the best so far
          </Button>
        ) : (
          !way.cut_at && (
            <Button
              disabled={busy || way.wrong !== '' || way.wanted === 0}
              onClick={() =>
                void act(() => answer(client.POST('/api/v1/cut-ways/{way_id}/layout', { params })))
              }
            >
              {way.stocks.length > 0 ? 'Lay it out again' : `Lay out ${way.wanted} pieces`}
            </Button>
          )
        )}
        <p aria-live="polite" className="min-w-0 flex-1 text-lg">
          {way.cut_at ? `Cut ${way.cut_at}. ` : ''}
          {way.sentence}
        </p>
      </div>
      {problem && <Notice tone="stop">{problem}</Notice>}
      {way.wrong && <Notice tone="stop">{way.wrong}</Notice>}
      {way.care.map((words) => (
        <Notice key={words} tone="care">
          {words}
        </Notice>
      ))}
      {way.stocks.length > 0 && <Layout way={way} />}
      {way.ready && <Afterwards plan={plan} way={way} act={act} />}
    </section>
  )
}

type ActProps = { plan: CutPlanView; way: CutWay; act: (what: () => Promise<unknown>) => Promise<void> }

function Afterwards({ plan, way, act }: ActProps) {
  const [id] = useState(newId)
  const total = way.stocks.reduce((sum, stock) => sum + stock.pieces.length, 0)
  const params = { path: { way_id: way.id } }
  return (
    <div className="flex flex-wrap items-center gap-3 border-line border-t pt-4">
      {!way.cut_at && (
        <ButtonLink to={`/cut/${plan.id}/table/${way.id}`}>
          {way.cut > 0 ? `Go on cutting: ${way.cut} of ${total} are cut` : 'At the table, piece by piece'}
        </ButtonLink>
      )}
      {!way.cut_at && (
        <Button
          quiet
          onClick={() =>
            void act(() => answer(client.POST('/api/v1/cut-ways/{way_id}/cut', { params, body: { id } })))
          }
        >
          All of it is cut
        </Button>
      )}
      {way.cut_at && (
        <p>
          What is left over lies{' '}
          <Link to="/cut" className="underline">
            on the shelf
          </Link>
          .
        </p>
      )}
      <span className="ml-auto text-soft">Goes out as</span>
      {FORMS.map((form) => (
        <a
          key={form}
          href={`/api/v1/cut-ways/${way.id}/layout.${form}`}
          target="_blank"
          rel="noreferrer"
          className="inline-flex min-h-11 items-center border-2 border-line bg-panel px-4 font-semibold hover:border-ink"
        >
          {form.toUpperCase()}
        </a>
      ))}
    </div>
  )
}

const plyOf = (piece: CutPiece) => `${piece.part_id}:${piece.job}:${piece.ply}`

function HowItCuts({ plan, way }: { plan: CutPlanView; way: CutWay }) {
  const edit = useEdit(way.version)
  const [open, setOpen] = useState(way.wrong !== '')
  const change = (what: { texts?: Record<string, string>; data_sheet_id?: string; hidden?: boolean }) =>
    edit.save((version) =>
      answer(
        client.PATCH('/api/v1/cut-ways/{way_id}', {
          params: { path: { way_id: way.id } },
          body: { version, ...what },
        }),
      ),
    )
  const problems = { [way.wrong_field]: way.wrong, ...edit.problem?.fields }
  const said = way.fields.filter((field) =>
    ['width_m', 'length_m', 'gap_m', 'overlap_m'].includes(field.field),
  )
  return (
    <div className="border-line border-y py-3">
      <div className="flex flex-wrap items-center justify-between gap-3">
        <p>
          <span className="font-semibold">{way.product}</span>
          <span className="text-soft">
            {said.map((field) => (field.text ? `, ${field.label.toLowerCase()} ${field.text}` : '')).join('')}
          </span>
        </p>
        {!way.cut_at && (
          <Button quiet aria-expanded={open} onClick={() => setOpen(!open)}>
            {open ? 'Close' : 'How it is cut'}
          </Button>
        )}
      </div>
      {open && !way.cut_at && (
        <div className="mt-3 flex flex-col gap-3">
          <EditProblem edit={edit} shownInFields={way.fields.map((field) => field.field)} />
          <div className="grid items-start gap-3 sm:grid-cols-2 lg:grid-cols-4">
            <Pick
              label="Cut from"
              value={way.sheet_id}
              choices={way.products.map((one) => ({ value: one.id, name: one.name }))}
              onChange={(data_sheet_id) => void change({ data_sheet_id })}
            />
            {way.fields.map((field) => (
              <GivenField
                key={field.field}
                field={{ ...field, assumed: false }}
                problem={problems[field.field]}
                onSave={(text) => change({ texts: { [field.field]: text } })}
              />
            ))}
          </div>
          {plan.ways.length > 1 && (
            <Button quiet className="self-start" onClick={() => void change({ hidden: true })}>
              Take this way away
            </Button>
          )}
        </div>
      )}
    </div>
  )
}

function Layout({ way }: { way: CutWay }) {
  const unit = useUnitOf()('run')
  const { factor } = useShownAs('run')
  const rule = { unit, mm: 1000 / factor }
  const [query] = useSearchParams()
  const [picked, setPicked] = useState<CutPiece | null>(null)
  const all = way.stocks.flatMap((stock) => stock.pieces)
  const here = (picked && all.find((one) => one.key === picked.key)) ?? null
  // All pieces of its ply light with it; a ply book that led here lights those of the ply that was touched there.
  const ply = here ? plyOf(here) : query.get('ply')
  const lit = useCallback((piece: CutPiece) => plyOf(piece) === ply, [ply])
  return (
    <div className="flex min-w-0 flex-col gap-4">
      <div className="flex flex-wrap gap-x-6 gap-y-1">
        {way.figures.map((figure) => (
          <FigureValue key={figure.key} figure={figure} />
        ))}
      </div>
      <p aria-live="polite" className="text-soft">
        {here ? (
          <>
            <span className="font-semibold text-ink">
              {here.code} of {here.part}
            </span>
            , {here.size}
            {here.cut ? ', cut' : ''}.{' '}
            <a
              className="text-ink underline"
              href={`/api/v1/cut-ways/${way.id}/layout.pdf?piece=${encodeURIComponent(here.key)}`}
              target="_blank"
              rel="noreferrer"
            >
              At full size on paper
            </a>{' '}
            {here.job !== null && (
              <Link className="text-ink underline" to={`/part/${here.part_id}/plies?job=${here.job}`}>
                Its ply book
              </Link>
            )}
          </>
        ) : (
          'The red arrow is the warp, the black triangle points to the tip of the part; outside faces up. Touch a piece.'
        )}
      </p>
      <div className="flex flex-wrap gap-6">
        {way.stocks.map((stock, n) => (
          <figure key={n} className={stock.kind === 'roll' ? 'w-full min-w-0' : 'min-w-0'}>
            <figcaption className="mb-1">
              <span className="font-semibold">{stock.name}</span>{' '}
              <span className="text-soft">{stock.size}</span>
            </figcaption>
            <CutLayout stock={stock} lit={lit} onTouch={setPicked} rule={rule} />
          </figure>
        ))}
      </div>
    </div>
  )
}
