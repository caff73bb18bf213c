import { clsx } from 'clsx'
import { Link } from 'react-router'
import { useTicking } from '@/api/changes'
import type { RunSheet } from '@/api/client'
import { useShow } from '@/app/formats'
import { ms } from '@/weave/time-scale'

/** How far it is; and what its iron is set to, or the grams so far and how long the open cup can still be used. */
export function Meters({ sheet, done, of }: { sheet: RunSheet; done: number; of: number }) {
  return (
    <dl
      className={clsx(
        'grid gap-4 text-center max-sm:gap-2',
        sheet.heats.length > 2 ? 'grid-cols-2 lg:grid-cols-4' : 'grid-cols-3',
      )}
    >
      <Meter name="Done" value={`${done} of ${of}`} />
      {sheet.heats.length > 0 ? (
        <Heats heats={sheet.heats} />
      ) : (
        (sheet.budget_g > 0 || sheet.mixed_g > 0 || sheet.sets_at) && (
          <Mixed sheet={sheet} done={done} of={of} />
        )
      )}
    </dl>
  )
}

/** Where the dial of the iron stands for what it must reach. */
function Heats({ heats }: { heats: RunSheet['heats'] }) {
  return heats.map((heat, n) => (
    <div
      key={heat.words}
      className={clsx(
        'border-2 border-line bg-panel px-4 py-2 text-left',
        n === 0 && heats.length < 3 && 'col-span-2',
      )}
    >
      <dt className="text-lg text-soft max-sm:text-sm">
        Iron {heat.words} <span className="font-semibold text-ink tabular-nums">{heat.temperature}</span>
      </dt>
      {heat.dials.map((dial) => (
        <dd key={dial} className="font-semibold text-2xl max-sm:text-base">
          {dial}
        </dd>
      ))}
      {heat.dials.length === 0 && (
        <dd>
          <Link to="/irons" className="underline">
            No iron of the shop was calibrated yet
          </Link>
        </dd>
      )}
    </div>
  ))
}

/** The grams so far, and how long the open cup can still be used, or until it sets. */
function Mixed({ sheet, done, of }: { sheet: RunSheet; done: number; of: number }) {
  const show = useShow()
  const now = useTicking()
  const sets = done === of && sheet.sets_at ? Math.round((ms(sheet.sets_at) - now) / 1000) : null
  const left = sheet.use_by ? Math.round((ms(sheet.use_by) - now) / 1000) : null
  const over = sheet.budget_g > 0 && sheet.mixed_g > sheet.budget_g * 1.05
  return (
    <>
      <Meter
        name={sheet.budget_g ? `Mixed, of ${show(sheet.budget_g, 'mass')}` : 'Mixed'}
        value={show(sheet.mixed_g, 'mass')}
        tone={over ? 'care' : undefined}
      />
      {sets !== null ? (
        <Meter
          name="Sets in"
          value={sets >= 3600 ? hours(sets) : countdown(Math.max(sets, 0))}
          tone={sets < 900 ? 'care' : undefined}
        />
      ) : (
        <Meter
          name={
            left === null
              ? 'No cup is open'
              : left < 0
                ? 'Cup gone off since'
                : sheet.clamped
                  ? 'All closed within'
                  : 'Cup can be used for'
          }
          value={left === null ? '—' : countdown(Math.abs(left))}
          tone={left === null ? undefined : left < 0 ? 'stop' : left < 600 ? 'care' : undefined}
        />
      )}
    </>
  )
}

const hours = (seconds: number) => `${Math.floor(seconds / 3600)} h ${Math.floor((seconds % 3600) / 60)} min`
const countdown = (seconds: number) => `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}`

function Meter({ name, value, tone }: { name: string; value: string; tone?: 'care' | 'stop' }) {
  return (
    <div
      className={clsx(
        'border-2 bg-panel px-3 py-2',
        tone === 'stop'
          ? 'edge-stop border-madder text-madder'
          : tone === 'care'
            ? 'edge-care border-line'
            : 'border-line',
      )}
    >
      <dt className="text-soft">{name}</dt>
      <dd className="font-semibold text-4xl tabular-nums max-sm:text-2xl">{value}</dd>
    </div>
  )
}
