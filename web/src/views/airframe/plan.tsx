import { clsx } from 'clsx'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import type { AirframeView } from '@/api/client'
import { OneOf } from '@/ui/one-of'
import { useWidth } from '@/weave/use-width'

const FILL = {
  planned: 'var(--panel)',
  curing: 'var(--woad-wash)',
  'in work': 'var(--weld-wash)',
  done: 'var(--lichen-wash)',
} as const
const STATES = ['planned', 'in work', 'curing', 'done'] as const
const ALL = 'all'
/** No airframe is drawn deeper [px]. */
const DEEPEST = 460
const PAD = 10

type Props = { assemblies: AirframeView['assemblies'] }

/** The airframe from above, nose up, from its parts' own outlines where they lie; what has no place is in the list. */
export function Plan({ assemblies }: Props) {
  const go = useNavigate()
  const { box, width: W } = useWidth<HTMLDivElement>(1000)
  const [only, setOnly] = useState(ALL)
  const [over, setOver] = useState('')
  const parts = assemblies.flatMap((assembly) =>
    assembly.parts.filter((part) => part.in_plan.length > 0).map((part) => ({ part, assembly: assembly.id })),
  )
  const points = parts.flatMap(({ part }) => part.in_plan.flat())
  const sides = points.map((p) => p[0] ?? 0)
  const afts = points.map((p) => p[1] ?? 0)
  const [left, right] = [Math.min(...sides), Math.max(...sides)]
  const [nose, tail] = [Math.min(...afts), Math.max(...afts)]
  const scale = Math.min((W - 2 * PAD) / (right - left || 1), (DEEPEST - 2 * PAD) / (tail - nose || 1))
  const inset = (W - (right - left) * scale) / 2
  const H = (tail - nose) * scale + 2 * PAD
  const path = (rings: number[][][]) =>
    rings
      .map(
        (ring) =>
          `${ring.map((p, i) => `${i ? 'L' : 'M'}${inset + ((p[0] ?? 0) - left) * scale} ${PAD + ((p[1] ?? 0) - nose) * scale}`).join('')}Z`,
      )
      .join('')
  const count = assemblies.reduce((sum, assembly) => sum + assembly.parts.length, 0)
  const named = parts.find(({ part }) => part.id === over)?.part
  // The larger lies below: a rudder is not lost under a fin.
  const size = (rings: number[][][]) => {
    const ys = rings.flat().map((p) => p[0] ?? 0)
    const xs = rings.flat().map((p) => p[1] ?? 0)
    return (Math.max(...ys) - Math.min(...ys)) * (Math.max(...xs) - Math.min(...xs))
  }
  const drawn = [...parts].sort((a, b) => size(b.part.in_plan) - size(a.part.in_plan))
  return (
    <div className="flex flex-col gap-3">
      {assemblies.length > 1 && (
        <OneOf
          label="Shown"
          value={only}
          choices={[
            { value: ALL, name: 'All of it' },
            ...assemblies
              .filter(({ parts: mine }) => mine.some((part) => part.in_plan.length > 0))
              .map(({ id, name }) => ({ value: id, name })),
          ]}
          onChange={setOnly}
        />
      )}
      <div ref={box} className="[contain:inline-size]">
        <svg width={W} height={H} className="block" role="img" aria-label="The airframe from above, nose up">
          {drawn.map(({ part, assembly }) => (
            // biome-ignore lint/a11y/noStaticElementInteractions: the list below is the keyboard's way in
            <path
              key={part.id}
              d={path(part.in_plan)}
              fillRule="evenodd"
              fill={FILL[part.state]}
              stroke="var(--ink)"
              strokeWidth={part.id === over ? 4 : 1.6}
              strokeLinejoin="round"
              opacity={only === ALL || only === assembly ? 1 : 0.15}
              className="cursor-pointer"
              onClick={() => go(`/part/${part.id}/steps`)}
              onMouseEnter={() => setOver(part.id)}
              onMouseLeave={() => setOver('')}
            >
              <title>{part.name}</title>
            </path>
          ))}
        </svg>
      </div>
      <div className="flex min-h-7 flex-wrap items-center justify-between gap-x-6 gap-y-1">
        <p className={clsx(!named && 'text-soft')}>
          {named
            ? `${named.name}: ${named.state}. ${named.sentence}`
            : `${parts.length} of ${count} parts have a place; the others are in the list below.`}
        </p>
        <ul className="flex flex-wrap gap-4 text-sm">
          {STATES.map((state) => (
            <li key={state} className="flex items-center gap-2">
              <span className="inline-block size-4 border-2 border-ink" style={{ background: FILL[state] }} />
              {state}
            </li>
          ))}
        </ul>
      </div>
    </div>
  )
}
