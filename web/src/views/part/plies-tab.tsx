import { useState } from 'react'
import { Link } from 'react-router'
import type { PliesView } from '@/api/client'
import { usePlies, useShape } from '@/api/questions'
import { useShow } from '@/app/formats'
import { EditProblem } from '@/ui/edit-problem'
import { FigureValue } from '@/ui/figure'
import { Notice } from '@/ui/notice'
import { PlyStack } from '@/weave/ply-stack'
import { OfPly } from './pieces-tab'
import { useBook } from './ply-book'
import { PlyRows } from './ply-rows'
import { Zones } from './ply-zones'
import { ZonedPlanform } from './zoned-planform'

type Lighting = { lit: number | null; onLight: (ply: number | null) => void }

export function PliesTab({ partId, job, ...lighting }: { partId: string; job: string } & Lighting) {
  const plies = usePlies(partId, job)
  if (plies.error && !plies.data) return <Notice tone="stop">{plies.error.message}</Notice>
  return plies.data ? <PlyBook partId={partId} kept={plies.data} {...lighting} /> : null
}

function PlyBook({ partId, kept, lit, onLight }: { partId: string; kept: PliesView } & Lighting) {
  const drawing = useShape(partId).data?.drawing
  const show = useShow()
  const edited = useBook(partId, kept)
  const { view, edit } = edited
  const [at, setAt] = useState<string | null>(null)
  const [held, setHeld] = useState(0)
  const here = view.regions.find((region) => region.name === at)
  const litPly = lit === null ? undefined : view.plies[lit]
  const inFields = [
    ...view.plies.flatMap((_, i) => ['angle', 'zone', 'stage'].map((field) => `plies.${i}.${field}`)),
    ...view.zones.flatMap((zone, i) => [
      `zones.${i}`,
      ...['name', 'corners', 'insert', 'threads', 'joints', ...zone.fields.map((field) => field.field)].map(
        (field) => `zones.${i}.${field}`,
      ),
    ]),
  ]
  return (
    <div className="flex flex-col gap-6">
      <EditProblem edit={edit} shownInFields={inFields} />
      {drawing && view.new_zones.length > 0 && (
        <ZonedPlanform
          drawing={drawing}
          edited={edited}
          ply={litPly}
          here={here}
          held={Math.max(Math.min(held, view.zones.length - 1), 0)}
          onHere={(region) => setAt(region ? region.name : null)}
        />
      )}
      {view.new_zones.length > 0 && <Zones view={view} edited={edited} onHold={setHeld} />}
      <div className="grid gap-8 2xl:grid-cols-[minmax(0,1fr)_minmax(0,1.25fr)]">
        <section className="flex flex-col gap-5">
          <h2 className="flex flex-wrap items-baseline justify-between gap-x-4 font-semibold text-xl">
            {here ? `Stack ${here.where}` : 'Stack'}{' '}
            <span className="font-mono text-base">{here?.code ?? view.code}</span>
          </h2>
          <p className="-mt-4 flex flex-wrap items-center justify-between gap-x-4 text-soft text-sm">
            Outside on top, laid in this order. The red mark is the warp.
            {view.plies.length > 0 && (
              <a
                href={`/api/v1/parts/${partId}/plies.pdf?job=${encodeURIComponent(view.job)}`}
                target="_blank"
                rel="noreferrer"
                className="inline-flex min-h-11 items-center text-base text-ink underline"
              >
                Bench sheet
              </a>
            )}
          </p>
          <PlyStack view={view} lit={lit} here={here} onLight={onLight} angle={(deg) => show(deg, 'angle')} />
          <p className="text-soft text-sm">
            {litPly
              ? `Ply ${(lit ?? 0) + 1}: ${litPly.cloth}, as its fibres lie on the part.`
              : 'Touch a ply to see its fibres on the part.'}{' '}
            {litPly?.pieces && (
              <Link
                className="text-ink underline"
                to={`/cut/${litPly.cut_plan}?ply=${encodeURIComponent(`${partId}:${view.job}:${lit}`)}`}
              >
                {litPly.pieces}
              </Link>
            )}{' '}
            Drawn from above, nose up: laid into a mould one looks at the other face, and it turns about.
          </p>
          <Weights view={view} />
          {view.scoring.rows.length > 0 && <Scoring scoring={view.scoring} />}
        </section>
        <PlyRows view={view} edited={edited} lit={lit} onLight={onLight} />
      </div>
      {/* Below all that lights a ply: what comes and goes here moves nothing that is being touched. */}
      {lit !== null && litPly && <OfPly partId={partId} job={view.job} ply={lit} />}
    </div>
  )
}

/** Where the core is cut so that it follows the curve. */
function Scoring({ scoring }: { scoring: PliesView['scoring'] }) {
  return (
    <section aria-label="Scoring of the core" className="mt-2 flex min-w-0 flex-col gap-3">
      <h2 className="font-semibold text-xl">Scoring of the core</h2>
      <p className="text-soft text-sm">
        Here its side curves tighter than the sheet bends: cut it from its outer face, along the span, and
        fill the cuts as it is bedded.
      </p>
      <ul className="flex flex-col">
        {scoring.rows.map((row) => (
          <li key={row.where} className="flex flex-col gap-1 border-line border-t py-2">
            <span className="first-letter:uppercase">{row.where}</span>
            <span className="flex flex-wrap gap-x-6">
              {row.figures.map((figure) => (
                <span key={figure.key}>
                  <span className="text-soft text-sm">{figure.label} </span>
                  <FigureValue figure={figure} bare />
                </span>
              ))}
            </span>
            {row.care && <Notice tone="care">{row.care}</Notice>}
          </li>
        ))}
      </ul>
      {scoring.resin && (
        <p>
          <span className="text-soft text-sm">{scoring.resin.label} </span>
          <FigureValue figure={scoring.resin} bare />
        </p>
      )}
    </section>
  )
}

function Weights({ view }: { view: PliesView }) {
  const by = Object.fromEntries(view.figures.map((f) => [f.key, f]))
  const rows = ['fibre', 'resin', 'core', 'insert', 'total'].filter((key) => by[`${key}_mass`])
  return (
    <section className="mt-2 flex min-w-0 flex-col gap-3">
      <h2 className="font-semibold text-xl">Comes to</h2>
      <Notice tone={view.symmetric && view.balanced ? 'ready' : 'care'}>{view.sentence}</Notice>
      {view.doubts.map((doubt) => (
        <Notice key={doubt} tone="care">
          {doubt}
        </Notice>
      ))}
      <div>
        {by.thickness && <FigureValue figure={by.thickness} />}
        {by.total_mass && (
          <table className="w-full max-sm:text-sm">
            <thead className="text-left text-soft text-sm">
              <tr>
                <td />
                {rows.map((key) => (
                  <th key={key} className="px-2.5 max-sm:px-0.5 font-normal capitalize">
                    {key === 'insert' ? 'let in' : key}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {['per_m2', 'mass']
                .filter((which) => by[`total_${which}`])
                .map((which) => (
                  <tr key={which} className="border-line border-t">
                    <th className="px-2 text-left font-normal text-soft max-sm:px-0 sm:whitespace-nowrap">
                      {which === 'mass' ? 'part' : 'per area'}
                    </th>
                    {rows.map((key) => {
                      const figure = by[`${key}_${which}`]
                      return (
                        <td key={key} className="whitespace-nowrap px-2.5 max-sm:px-0.5">
                          {figure && <FigureValue figure={figure} bare />}
                        </td>
                      )
                    })}
                  </tr>
                ))}
            </tbody>
          </table>
        )}
      </div>
    </section>
  )
}
