import { clsx } from 'clsx'
import { useState } from 'react'
import { useRefresh } from '@/api/changes'
import { answer, client, newId, Problem } from '@/api/client'
import { useWho } from '@/api/present'
import { useTaps } from '@/api/questions'
import { Button } from '@/ui/button'
import { Decide } from '@/ui/decide'
import { Notice } from '@/ui/notice'
import { Pick } from '@/ui/pick'

const RULINGS = [
  { kind: 'accept' as const, name: 'Accept it as it is' },
  { kind: 'inject' as const, name: 'Inject it' },
  { kind: 'redo' as const, name: 'Do it again' },
]
const key = (along: number, across: number) => `${along} ${across}`
/** Taps beside each other on the screen; a long joint goes on in the next row. */
const BESIDE = 15

/** A glue line tapped with a coin: places that sound dull are touched, what holds is counted, and it is decided. */
export function CoinTap({ partId }: { partId: string }) {
  const view = useTaps(partId).data
  const refresh = useRefresh()
  const [id, setId] = useState(newId)
  const [open, setOpen] = useState(false)
  const [voids, setVoids] = useState<Set<string>>(new Set())
  const [who, setWho] = useWho()
  const [problem, setProblem] = useState('')
  if (!view) return null
  const last = view.taps[0]
  const keep = async () => {
    try {
      const body = {
        id,
        along: view.along,
        across: view.across,
        crew_member_id: who || null,
        voids: [...voids].map((cell) => cell.split(' ').map(Number) as [number, number]),
      }
      await answer(
        client.POST('/api/v1/parts/{part_id}/taps', { params: { path: { part_id: partId } }, body }),
      )
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      setProblem(error.message)
      return
    }
    setProblem('')
    setId(newId())
    setVoids(new Set())
    setOpen(false)
    await refresh()
  }
  const touch = (cell: string) => {
    const next = new Set(voids)
    if (!next.delete(cell)) next.add(cell)
    setVoids(next)
  }
  return (
    <section aria-label="Coin tap" className="flex flex-col gap-3">
      <h3 className="font-semibold text-xl">Coin tap</h3>
      {view.taps.length === 0 && !open && (
        <p className="max-w-2xl text-soft">
          When it is hard, tap it every {view.every} with a coin: where it sounds dull there is a void. At
          least {view.least} of it must hold. Tapping does not show cure.
        </p>
      )}
      {last && (
        <div className="flex flex-col gap-2">
          <Notice tone={last.holds ? 'ready' : last.decided === 'accept' ? 'care' : 'stop'}>
            {last.words}
          </Notice>
          <Cells
            along={last.along}
            across={last.across}
            voids={new Set(last.voids.map((cell) => cell.join(' ')))}
          />
          {last.decision && <p className="font-semibold">{last.decision}</p>}
          {!last.holds && !last.decided && (
            <Decide
              kinds={RULINGS}
              people={view.people}
              send={(body) =>
                answer(
                  client.POST('/api/v1/taps/{tap_id}/rulings', {
                    params: { path: { tap_id: last.id } },
                    body,
                  }),
                )
              }
            />
          )}
        </div>
      )}
      {view.taps.slice(1).map((tap) => (
        <p key={tap.id} className="text-soft">
          Before: {tap.words} {tap.decision}
        </p>
      ))}
      {open ? (
        <div className="flex flex-col gap-3">
          <p className="text-lg">
            One place every {view.every}, from one end. Touch each that sounds dull: {voids.size}{' '}
            {voids.size === 1 ? 'void' : 'voids'}.
          </p>
          <Cells along={view.along} across={view.across} voids={voids} onTouch={touch} />
          <div className="w-64">
            <Pick
              label="Who tapped it"
              value={who}
              placeholder="Who?"
              choices={view.people.map((one) => ({ value: one.id, name: one.name }))}
              onChange={setWho}
            />
          </div>
          {problem && <Notice tone="stop">{problem}</Notice>}
          <div className="flex gap-3">
            <Button onClick={() => void keep()}>Keep this tap</Button>
            <Button quiet onClick={() => setOpen(false)}>
              Leave it
            </Button>
          </div>
        </div>
      ) : (
        <Button quiet className="self-start" onClick={() => setOpen(true)}>
          {last ? 'Tapped again…' : 'Tap it…'}
        </Button>
      )}
    </section>
  )
}

type CellsProps = { along: number; across: number; voids: Set<string>; onTouch?: (cell: string) => void }

/** The glue line in lengths, one below the other; each cell is a place that is tapped. */
function Cells({ along, across, voids, onTouch }: CellsProps) {
  const lengths = Array.from({ length: Math.ceil(along / BESIDE) }, (_, n) => n * BESIDE)
  return (
    <div className="flex flex-col gap-3">
      {lengths.map((from) => (
        <div key={from} className="flex flex-col gap-1">
          {Array.from({ length: across }, (_, row) => (
            <div key={row} className="flex gap-1">
              {Array.from({ length: Math.min(BESIDE, along - from) }, (_, n) => {
                const cell = key(from + n, row)
                const dull = voids.has(cell)
                const look = clsx(
                  'flex items-center justify-center border-2',
                  onTouch ? 'size-11' : 'h-6 w-8',
                  dull
                    ? 'border-madder bg-madder font-semibold text-ground'
                    : 'border-line bg-panel text-soft',
                )
                const number = row === 0 && (from + n) % 5 === 4 ? from + n + 1 : ''
                return onTouch ? (
                  <button
                    key={cell}
                    type="button"
                    aria-pressed={dull}
                    aria-label={`Place ${from + n + 1}${across > 1 ? `, row ${row + 1}` : ''}`}
                    onClick={() => onTouch(cell)}
                    className={look}
                  >
                    {dull ? '×' : number}
                  </button>
                ) : (
                  <span key={cell} className={clsx(look, 'text-xs')}>
                    {dull ? '×' : number}
                  </span>
                )
              })}
            </div>
          ))}
        </div>
      ))}
    </div>
  )
}
