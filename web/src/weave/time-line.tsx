import { clsx } from 'clsx'
import type { TimesView } from '@/api/client'
import { Axis, Blocks, Nights, TemperatureRibbon, Thread } from './time-parts'
import { timeScale } from './time-scale'
import { useWidth } from './use-width'

type Props = { view: TimesView; picked: string; onPick: (key: string) => void }

const NAMES = 250
const RIBBON = 84
const ROW = 44
const AXIS = 30
/** On a phone a step's name stands above its row instead of beside it. */
const NARROW = 640
const NAME_ABOVE = 20

/** Steps over the nights they take: work as blocks, each wait as a thread, the shop's temperature above. */
export function TimeLine({ view, picked, onPick }: Props) {
  const { box, width } = useWidth<HTMLDivElement>()
  const span = view.span
  if (!span) return null
  const names = width < NARROW ? 0 : NAMES
  const above = names ? 0 : NAME_ABOVE
  const pitch = ROW + above
  const plot = width - names - 8
  const x = timeScale(span, plot)
  const height = RIBBON + AXIS + view.steps.length * pitch
  return (
    <div ref={box} className="relative select-none border-2 border-line bg-panel">
      <svg width={width} height={height} role="img" aria-label="Steps over time">
        <g transform={`translate(${names})`}>
          <Nights nights={view.nights} x={x} height={height} />
          <Axis span={span} x={x} top={RIBBON} height={height} />
          <TemperatureRibbon
            points={view.ribbon}
            recordedUntil={view.recorded_until}
            minC={view.min_c}
            x={x}
            height={RIBBON}
            inside={!names}
          />
        </g>
        {view.steps.map((step, i) => (
          <g key={step.key} transform={`translate(0 ${RIBBON + AXIS + i * pitch})`}>
            <rect
              width={width}
              height={pitch}
              fill={picked === step.key ? 'var(--woad-wash)' : 'transparent'}
              opacity={0.7}
            />
            <g transform={`translate(${names} ${above})`}>
              {step.thread && (
                <Thread thread={step.thread} knots={step.knots} ready={step.ready} x={x} y={ROW / 2} />
              )}
              <Blocks pieces={step.pieces} state={step.state} x={x} y={9} height={ROW - 18} />
            </g>
          </g>
        ))}
      </svg>
      <ul className="absolute left-0" style={{ top: RIBBON + AXIS, width: names || '100%' }}>
        {view.steps.map((step) => (
          <li key={step.key} style={{ height: pitch }}>
            <button
              type="button"
              aria-pressed={picked === step.key}
              onClick={() => onPick(step.key)}
              className={clsx(
                'h-full w-full truncate px-3 text-left text-[0.95rem] hover:underline',
                above > 0 && 'flex items-start gap-1.5 pt-0.5',
                picked === step.key && 'font-semibold',
              )}
            >
              {step.state === 'done' && <span className="text-lichen">● </span>}
              {step.name}
            </button>
          </li>
        ))}
      </ul>
    </div>
  )
}
