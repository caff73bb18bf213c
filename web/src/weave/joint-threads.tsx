import { clsx } from 'clsx'
import { useState } from 'react'
import { Link } from 'react-router'
import type { JointsView } from '@/api/client'

type Knot = JointsView['knots'][number]
const ROW = 62
const COLUMN = 38
const HEAD = 128
const EDGE: Record<Knot['state'], string> = { done: 'edge-ready', now: 'edge-care', ahead: '' }

/**
 * Joints from the first to the last, one below the other, with the parts they fix as threads beside them: thin while a
 * part is loose, doubled while it is half fixed, thick once it is fixed. A bar across is a safe stop.
 */
export function JointThreads({ view }: { view: JointsView }) {
  const [picked, setPicked] = useState<string | null>(null)
  const column = new Map(view.threads.map((thread, n) => [thread.id, n]))
  const wide = Math.max(view.threads.length * COLUMN + 90, 200)
  const high = HEAD + view.knots.length * ROW
  const middle = (n: number) => HEAD + n * ROW + ROW / 2
  const x = (n: number) => n * COLUMN + COLUMN / 2
  const lit = view.knots.find((knot) => knot.part_id === picked)
  return (
    <div className="flex overflow-x-auto">
      <ol className="w-[22rem] shrink-0 max-md:w-64" style={{ paddingTop: HEAD }}>
        {view.knots.map((knot, n) => (
          <li
            key={knot.part_id}
            style={{ height: ROW }}
            className={clsx('flex items-stretch', knot.stop && 'border-ink border-b-4')}
          >
            <button
              type="button"
              aria-pressed={picked === knot.part_id}
              onClick={() => setPicked(picked === knot.part_id ? null : knot.part_id)}
              className={clsx(
                'flex min-w-0 flex-1 items-center gap-3 px-2 text-left',
                EDGE[knot.state],
                picked === knot.part_id ? 'bg-woad-wash' : 'hover:bg-panel',
              )}
            >
              <span className="w-7 shrink-0 text-right font-semibold text-lg tabular-nums">{n + 1}</span>
              <span className="min-w-0">
                <span className="block truncate font-semibold">{knot.name}</span>
                <span className="block truncate text-soft text-sm">
                  {knot.when}
                  {knot.stop && ' · safe stop'}
                </span>
              </span>
            </button>
          </li>
        ))}
      </ol>
      <svg
        width={wide}
        height={high}
        role="img"
        aria-label="Parts as threads, joints as knots"
        className="block shrink-0"
      >
        {view.knots.map(
          (knot, n) =>
            knot.stop && (
              <line
                key={knot.part_id}
                x1={0}
                x2={wide}
                y1={HEAD + (n + 1) * ROW - 2}
                y2={HEAD + (n + 1) * ROW - 2}
                stroke="var(--ink)"
                strokeWidth={4}
              />
            ),
        )}
        {lit && (
          <rect
            x={0}
            y={HEAD + view.knots.indexOf(lit) * ROW}
            width={wide}
            height={ROW - (lit.stop ? 4 : 0)}
            fill="var(--woad-wash)"
          />
        )}
        {view.threads.map((thread, n) => (
          <g key={thread.id}>
            <text
              transform={`translate(${x(n) + 4} ${HEAD - 8}) rotate(-52)`}
              className={clsx('fill-ink text-[14px]', lit?.fixes.includes(thread.id) && 'font-semibold')}
            >
              {short(thread.name)}
            </text>
            <line
              x1={x(n)}
              x2={x(n)}
              y1={HEAD}
              y2={middle(thread.first)}
              stroke="var(--soft)"
              strokeWidth={1.2}
              strokeDasharray="2 5"
            />
            {[-3, 3].map((off) => (
              <line
                key={off}
                x1={x(n) + off}
                x2={x(n) + off}
                y1={middle(thread.first)}
                y2={middle(thread.last)}
                stroke="var(--madder)"
                strokeWidth={2}
              />
            ))}
            <line
              x1={x(n)}
              x2={x(n)}
              y1={middle(thread.last)}
              y2={high}
              stroke={view.knots[thread.last]?.state === 'done' ? 'var(--lichen)' : 'var(--soft)'}
              strokeWidth={6}
            />
          </g>
        ))}
        {view.knots.map((knot, n) => (
          <g key={knot.part_id} transform={`translate(0 ${middle(n)})`}>
            {knot.loose.map((id) => (
              <Loose key={id} at={column.get(id)} x={x} />
            ))}
            {[...knot.located, ...knot.touches].map((id) => (
              <Held key={id} at={column.get(id)} x={x} />
            ))}
            {knot.fixes.map((id) => {
              const at = column.get(id)
              return (
                at !== undefined && (
                  <circle
                    key={id}
                    cx={x(at)}
                    r={10}
                    fill={knot.state === 'done' ? 'var(--lichen)' : 'var(--panel)'}
                    stroke="var(--ink)"
                    strokeWidth={3}
                  />
                )
              )
            })}
          </g>
        ))}
      </svg>
      {lit && <Why knot={lit} view={view} />}
    </div>
  )
}

/** It must still be loose: a ring that is not closed. */
function Loose({ at, x }: { at: number | undefined; x: (n: number) => number }) {
  if (at === undefined) return null
  return (
    <path
      d={`M${x(at) + 8},-8 A11,11 0 1 0 ${x(at) + 8},8`}
      fill="none"
      stroke="var(--woad)"
      strokeWidth={3}
    />
  )
}

/** What holds it, or must be located: a small square. */
function Held({ at, x }: { at: number | undefined; x: (n: number) => number }) {
  if (at === undefined) return null
  return <rect x={x(at) - 4.5} y={-4.5} width={9} height={9} fill="var(--ink)" />
}

function Why({ knot, view }: { knot: Knot; view: JointsView }) {
  const name = (id: string) => view.threads.find((thread) => thread.id === id)?.name
  const words = (ids: string[]) => ids.map(name).filter(Boolean).join(', ')
  return (
    <aside
      aria-label="Why it comes when it does"
      className="sticky right-0 ml-4 flex w-56 shrink-0 flex-col gap-2 self-start border-line border-l-2 bg-ground py-2 pl-4"
      style={{ marginTop: HEAD }}
    >
      <p className="font-semibold text-lg">{knot.name}</p>
      <p>{knot.ties}</p>
      <p>{knot.why}.</p>
      {words(knot.loose) && <p className="text-soft">Must still be loose: {words(knot.loose)}.</p>}
      {words(knot.located) && <p className="text-soft">Must be located: {words(knot.located)}.</p>}
      <Link className="inline-flex min-h-11 items-center underline" to={`/part/${knot.part_id}/joint`}>
        Its faces, fit and fasteners
      </Link>
    </aside>
  )
}

const short = (name: string) => (name.length > 18 ? `${name.slice(0, 17)}…` : name)
