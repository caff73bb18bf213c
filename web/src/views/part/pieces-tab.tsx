import { clsx } from 'clsx'
import { Link } from 'react-router'
import type { PiecesView } from '@/api/client'
import { usePieces } from '@/api/questions'
import { Button } from '@/ui/button'
import { FigureValue } from '@/ui/figure'
import { Notice } from '@/ui/notice'
import { useBegin } from '@/views/cut/begin'
import { PieceOutline } from '@/weave/piece-outline'

type Product = PiecesView['products'][number]
type Lighting = { lit: number | null; onLight: (ply: number | null) => void }

/** What is cut for a job, product by product, to scale; the lit ply's pieces stand out. */
export function PiecesTab({ partId, job, ...lighting }: { partId: string; job: string } & Lighting) {
  const pieces = usePieces(partId, job)
  if (pieces.error && !pieces.data) return <Notice tone="stop">{pieces.error.message}</Notice>
  if (!pieces.data) return null
  return (
    <div className="flex flex-col gap-8">
      {pieces.data.products.map((product) => (
        <OfProduct key={product.sheet_id} product={product} partId={partId} job={job} {...lighting} />
      ))}
    </div>
  )
}

function OfProduct({
  product,
  partId,
  job,
  lit,
  onLight,
}: { product: Product; partId: string; job: string } & Lighting) {
  const [problem, begin] = useBegin()
  const plans = [...new Set(product.pieces.map((piece) => piece.plan_id).filter(Boolean))]
  return (
    <section aria-label={product.product} className="flex flex-col gap-3">
      <div className="flex flex-wrap items-center justify-between gap-x-6 gap-y-2">
        <h3 className="font-semibold text-xl">{product.product}</h3>
        {product.total && <FigureValue figure={product.total} />}
      </div>
      <div className="flex flex-wrap items-center gap-x-6 gap-y-2">
        <p className="text-soft">{product.sentence}</p>
        {plans.map((plan) => (
          <Link key={plan} to={`/cut/${plan}`} className="inline-flex min-h-11 items-center underline">
            Open the cut plan
          </Link>
        ))}
        {product.unplanned && !product.wrong && (
          <Button quiet onClick={() => void begin(product.sheet_id, [{ part_id: partId, job }])}>
            Lay out on a {product.stock}
          </Button>
        )}
      </div>
      {[problem, product.wrong].filter(Boolean).map((words) => (
        <Notice key={words} tone="stop">
          {words}
        </Notice>
      ))}
      {product.asks.map((words) => (
        <Notice key={words} tone="care">
          {words}
        </Notice>
      ))}
      <PieceCards pieces={product.pieces} lit={lit} onLight={onLight} />
    </section>
  )
}

function PieceCards({ pieces, lit, onLight }: { pieces: Product['pieces'] } & Lighting) {
  const longest = Math.max(1, ...pieces.flatMap((piece) => piece.outline_mm.map(([x = 0]) => x)))
  return (
    <ul className="grid gap-2 lg:grid-cols-2">
      {pieces.map((piece) => (
        <li
          key={piece.code}
          className={clsx(
            'flex flex-col gap-1 border-2 px-3 py-1',
            lit === piece.ply ? 'border-ink bg-weld-wash' : 'border-line bg-panel',
          )}
        >
          <button
            type="button"
            aria-pressed={lit === piece.ply}
            onClick={() => onLight(lit === piece.ply ? null : piece.ply)}
            className="flex min-h-11 flex-col gap-1 text-left"
          >
            <span className="flex w-full flex-wrap items-baseline gap-x-3">
              <span className="font-bold text-lg">{piece.code.trim()}</span>
              <span className="text-soft">{piece.lies}</span>
              <span>{piece.size}</span>
              <span className={clsx('ml-auto', piece.state === 'cut' ? 'edge-ready px-2' : 'text-soft')}>
                {piece.state}
              </span>
            </span>
            <PieceOutline outline={piece.outline_mm} longest={longest} className="w-full" />
          </button>
          <span className="flex flex-wrap gap-x-5">
            {piece.figures.map((figure) => (
              <span key={figure.key}>
                <span className="text-soft text-sm">{figure.label} </span>
                <FigureValue figure={figure} bare />
              </span>
            ))}
          </span>
        </li>
      ))}
    </ul>
  )
}

/** The lit ply where else it is: its pieces to scale, and the step it is laid in. */
export function OfPly({ partId, job, ply }: { partId: string; job: string; ply: number }) {
  const view = usePieces(partId, job).data
  const mine = view?.products.flatMap((product) => product.pieces.filter((piece) => piece.ply === ply)) ?? []
  const [key, name] = view?.laid_in[String(ply)] ?? []
  const longest = Math.max(1, ...mine.flatMap((piece) => piece.outline_mm.map(([x = 0]) => x)))
  if (!view) return null
  return (
    <section aria-label={`Ply ${ply + 1} elsewhere`} className="flex flex-col gap-1">
      <h2 className="font-semibold text-xl">Ply {ply + 1} at the table and in the mould</h2>
      {key && (
        <p>
          Laid in{' '}
          <Link
            to={`/run/${partId}/${encodeURIComponent(key)}`}
            className="inline-flex min-h-11 items-center underline"
          >
            {name}
          </Link>
        </p>
      )}
      <ul className="flex flex-col gap-1">
        {mine.map((piece) => (
          <li key={piece.code} className="flex flex-col">
            <span className="flex flex-wrap items-baseline gap-x-3 text-sm">
              <span className="font-bold text-base">{piece.code}</span>
              <span>{piece.size}</span>
              <span className="text-soft">{piece.state}</span>
            </span>
            <PieceOutline outline={piece.outline_mm} longest={longest} className="max-h-24 w-full" />
          </li>
        ))}
      </ul>
    </section>
  )
}
