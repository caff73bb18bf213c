import { clsx } from 'clsx'
import { Link, useNavigate } from 'react-router'
import type { PartCard } from '@/api/client'
import { useAirframe } from '@/api/questions'
import { FigureValue } from '@/ui/figure'
import { Notice } from '@/ui/notice'
import { useWidth } from '@/weave/use-width'

const EDGE = {
  planned: 'border-l-6 border-line',
  curing: 'edge-wait',
  'in work': 'edge-care',
  done: 'edge-ready',
} as const
const FILL = {
  planned: 'var(--panel)',
  curing: 'var(--woad-wash)',
  'in work': 'var(--weld-wash)',
  done: 'var(--lichen-wash)',
} as const

export default function AirframePage() {
  const airframe = useAirframe()
  if (airframe.error && !airframe.data) return <Notice tone="stop">{airframe.error.message}</Notice>
  if (!airframe.data) return null
  const parts = airframe.data.assemblies.flatMap((assembly) => assembly.parts)
  return (
    <div className="mx-auto flex max-w-6xl flex-col gap-6 p-6">
      <h1 className="font-semibold text-3xl">{airframe.data.project || 'No airframe yet'}</h1>
      {parts.length === 0 ? (
        <p className="text-soft">This data folder is empty. Start the demo to see one: make demo.</p>
      ) : (
        groups(parts).map(({ title, note, drawn, members }) => (
          <section key={title} className="flex flex-col gap-2">
            <h2 className="font-semibold text-xl">
              {title}
              {note && <span className="ml-3 font-normal text-base text-soft">{note}</span>}
            </h2>
            {drawn && <Plan parts={members} />}
            <ul className="grid gap-4 sm:grid-cols-2">
              {members.map((part) => (
                <li key={part.id} className={clsx('bg-panel', EDGE[part.state])}>
                  <div className="flex items-start justify-between gap-3 px-4 py-3">
                    <Link
                      to={`/part/${part.id}/${part.skin_area ? 'shape' : 'steps'}`}
                      className="group min-w-0 flex-1"
                    >
                      <span className="block font-semibold text-lg group-hover:underline">{part.name}</span>
                      <span className="block">
                        <span className="font-semibold">{part.state}</span>. {part.sentence}
                      </span>
                      <span className="block font-mono text-sm text-soft">{part.code}</span>
                    </Link>
                    {part.skin_area && <FigureValue figure={part.skin_area} bare className="shrink-0" />}
                  </div>
                </li>
              ))}
            </ul>
          </section>
        ))
      )}
    </div>
  )
}

type Group = { title: string; note: string; drawn: boolean; members: PartCard[] }

/** Skins of one shape that make a pair are drawn in plan, upper and lower; the other parts are listed. */
function groups(parts: PartCard[]): Group[] {
  const pairs = (['upper', 'lower'] as const).map((side) => ({
    title: side === 'upper' ? 'Upper skins' : 'Lower skins',
    note: 'seen from above, nose up',
    drawn: true,
    members: parts.filter(
      (s) => s.side === side && parts.some((o) => o.id !== s.id && o.side === side && o.shape === s.shape),
    ),
  }))
  const taken = new Set(pairs.flatMap((pair) => pair.members.map((s) => s.id)))
  const rest = parts.filter((s) => !taken.has(s.id))
  return [...pairs, { title: 'Other parts', note: '', drawn: false, members: rest }].filter(
    (group) => group.members.length > 0,
  )
}

const GAP = 14

/** Left and right panels where they sit, from their own outlines. */
function Plan({ parts }: { parts: PartCard[] }) {
  const go = useNavigate()
  const { box, width: W } = useWidth<HTMLDivElement>(1000)
  const corners = parts.flatMap((part) => part.outline)
  const widest = Math.max(...corners.map((p) => Math.abs(p[0] ?? 0)))
  const deepest = Math.max(...corners.map((p) => p[1] ?? 0))
  const SCALE = (W - GAP - 8) / (2 * widest || 1)
  const H = deepest * SCALE + 8
  return (
    <div ref={box} className="[contain:inline-size]">
      <svg width={W} height={H} className="block" role="img" aria-label="Parts in plan">
        {parts.map((part) => {
          const shift = W / 2 + (part.hand === 'left' ? -GAP / 2 : GAP / 2)
          const points = part.outline
            .map((p) => `${shift + (p[0] ?? 0) * SCALE},${4 + (p[1] ?? 0) * SCALE}`)
            .join(' ')
          const across = part.outline.map((p) => p[0] ?? 0)
          return (
            // biome-ignore lint/a11y/noStaticElementInteractions: the list below is the keyboard's way in
            <g
              key={part.id}
              onClick={() => go(`/part/${part.id}/shape`)}
              className="cursor-pointer [&:hover>polygon]:stroke-[4]"
            >
              <polygon
                points={points}
                fill={FILL[part.state]}
                stroke="var(--ink)"
                strokeWidth={2}
                strokeLinejoin="round"
              />
              <text
                x={shift + (Math.min(...across) + Math.max(...across)) * 0.46 * SCALE}
                y={deepest * SCALE * 0.46}
                textAnchor="middle"
                dominantBaseline="middle"
                className="fill-ink text-[15px]"
              >
                {part.hand} · {part.state}
              </text>
            </g>
          )
        })}
      </svg>
    </div>
  )
}
