import { useCallback, useEffect, useState } from 'react'
import { Link, useParams } from 'react-router'
import type { CutWay } from '@/api/client'
import { useCutPlan } from '@/api/questions'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import type { CutPiece, Stock } from '@/weave/cut-layout'
import { OnePiece } from '@/weave/one-piece'
import { useCutTicks } from './cut-ticks'

type Placed = { stock: Stock; piece: CutPiece }

/** At the table: one piece at a time, large, ticked as it is cut. Works on without the shop. */
export default function TablePage() {
  const { plan = '', way = '' } = useParams()
  const cache = `cut plan ${plan}`
  const asked = useCutPlan(plan)
  useEffect(() => {
    if (asked.data) localStorage.setItem(cache, JSON.stringify(asked.data))
  }, [asked.data, cache])
  const view = asked.data ?? remembered(cache)
  const here = view?.ways.find((one) => one.id === way)
  if (!here)
    return asked.error ? (
      <Notice tone="stop" className="m-6">
        {asked.error.message}
      </Notice>
    ) : null
  return <Table plan={plan} name={view?.name ?? ''} way={here} />
}

const remembered = (key: string) =>
  JSON.parse(localStorage.getItem(key) ?? 'null') as { name: string; ways: CutWay[] } | null

function Table({ plan, name, way }: { plan: string; name: string; way: CutWay }) {
  const { tick, ticked, problem } = useCutTicks(way.id)
  const all: Placed[] = way.stocks.flatMap((stock) =>
    [...stock.pieces]
      .sort((a, b) => start(a) - start(b))
      .map((piece) => ({ stock, piece: { ...piece, cut: ticked(piece.key) ?? piece.cut } })),
  )
  const [picked, setPicked] = useState<string | null>(null)
  const next = all.find(({ piece }) => !piece.cut)
  const here = all.find(({ piece }) => piece.key === picked) ?? next
  const done = all.filter(({ piece }) => piece.cut).length
  const at = here ? all.indexOf(here) : -1
  const step = useCallback(() => {
    if (!here) return
    tick(here.piece.key, true)
    setPicked(null)
  }, [here, tick])
  useEffect(() => {
    const pressed = (event: KeyboardEvent) => {
      if (event.key !== ' ' || (event.target instanceof HTMLElement && event.target.closest('button, a')))
        return
      event.preventDefault()
      step()
    }
    window.addEventListener('keydown', pressed)
    return () => window.removeEventListener('keydown', pressed)
  }, [step])
  return (
    <div className="mx-auto flex max-w-5xl flex-col gap-4 p-5 max-sm:p-3">
      <header className="flex flex-wrap items-center justify-between gap-3">
        <p>
          <Link to={`/cut/${plan}`} className="inline-flex min-h-11 items-center underline">
            {name}
          </Link>
        </p>
        <p className="font-semibold text-xl">
          {done} of {all.length} cut
        </p>
      </header>
      {problem && <Notice tone="care">{problem}</Notice>}
      {!here && (
        <div className="flex flex-col gap-4">
          <p className="font-semibold text-3xl">Everything is cut.</p>
          <p className="text-lg">
            Mark what is left over, roll it up, and note the layout as cut: then it lies on the shelf.
          </p>
          <Link to={`/cut/${plan}`} className="text-lg underline">
            Back to the cut plan
          </Link>
        </div>
      )}
      {here && (
        <>
          <div className="flex flex-wrap items-end justify-between gap-x-8 gap-y-2">
            <div>
              <h1 className="font-semibold text-6xl leading-tight max-sm:text-4xl">{here.piece.code}</h1>
              <p className="text-2xl max-sm:text-lg">{here.piece.part}</p>
            </div>
            <p className="text-xl">
              {here.piece.size}
              <br />
              <span className="text-soft">{here.stock.name}</span>
            </p>
          </div>
          <OnePiece stock={here.stock} piece={here.piece} />
          <Corners piece={here.piece} />
          <div className="flex flex-wrap items-center gap-4">
            {here.piece.cut ? (
              <Button big className="min-h-20 flex-1" onClick={() => tick(here.piece.key, false)}>
                It was not cut after all
              </Button>
            ) : (
              <Button big className="min-h-20 flex-1" onClick={step}>
                Cut, and marked {here.piece.code}
              </Button>
            )}
            <Button
              quiet
              className="min-h-20"
              disabled={at <= 0}
              onClick={() => setPicked(all[at - 1]?.piece.key ?? null)}
            >
              One back
            </Button>
            <Button
              quiet
              className="min-h-20"
              disabled={at >= all.length - 1}
              onClick={() => setPicked(all[at + 1]?.piece.key ?? null)}
            >
              One on
            </Button>
          </div>
        </>
      )}
    </div>
  )
}

const start = (piece: CutPiece) => Math.min(...piece.outline_mm.map(([x = 0]) => x))

/** Where its corners lie: along the roll from its end, and across from the lower selvedge. */
function Corners({ piece }: { piece: CutPiece }) {
  if (piece.corners.length === 0) return null
  return (
    <table className="text-lg max-sm:text-base">
      <thead className="text-left text-soft">
        <tr>
          <th className="pr-6 font-normal">Corner</th>
          <th className="pr-6 font-normal">from the end</th>
          <th className="font-normal">from the lower edge</th>
        </tr>
      </thead>
      <tbody>
        {piece.corners.map((corner, n) => (
          <tr key={n}>
            <td className="pr-6 font-semibold">{corner.name}</td>
            <td className="pr-6">{corner.along}</td>
            <td>{corner.across}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
