import { BellOff } from 'lucide-react'
import { useEffect, useRef } from 'react'
import { Link } from 'react-router'
import { type Alert, answer, client } from '@/api/client'
import { useKeep } from '@/api/keep'
import { useBuilds } from '@/api/present'
import { useWeather } from '@/api/questions'
import { Notice } from '@/ui/notice'
import { ring } from './sound'

const TONE = {
  stage: 'ready',
  stalled: 'stop',
  dew: 'stop',
  silent: 'care',
  cup: 'stop',
  mix: 'stop',
  lot: 'stop',
} as const
const EVERY_MS = 8_000

const NONE: Alert[] = []

/** What must be heard: seen on every view, sounding and pulsing until somebody silences it.

It stands below the page, so that nothing moves under a finger when it comes. */
export function Alarm() {
  const builds = useBuilds()
  const alerts = useWeather().data?.alerts ?? NONE
  const { keep, says } = useKeep()
  const newest = alerts[0]?.id ?? 0
  useEffect(() => {
    if (!newest) return
    ring()
    const timer = window.setInterval(ring, EVERY_MS)
    return () => window.clearInterval(timer)
  }, [newest])
  const bar = useRef<HTMLDivElement>(null)
  useEffect(() => {
    const tell = (height: number) => document.documentElement.style.setProperty('--alarm', `${height}px`)
    const seen = bar.current
    if (!seen) return tell(0)
    const watch = new ResizeObserver(() => tell(seen.offsetHeight))
    watch.observe(seen)
    return () => {
      watch.disconnect()
      tell(0)
    }
  })
  if (alerts.length === 0) return null
  const silence = () =>
    keep(async () => {
      for (const alert of alerts) {
        await answer(
          client.POST('/api/v1/alerts/{alert_id}/silence', { params: { path: { alert_id: alert.id } } }),
        )
      }
    })
  const first = alerts[0]
  return (
    <div
      ref={bar}
      style={{ outlineColor: first && TONE[first.kind] === 'ready' ? 'var(--lichen)' : 'var(--madder)' }}
      className="alarm flex shrink-0 items-stretch border-ink border-t-2"
      data-testid="alarm"
    >
      <Notice
        tone={first ? TONE[first.kind] : 'care'}
        className="flex min-w-0 flex-1 flex-col justify-center"
      >
        {says && <p>{says}</p>}
        {alerts.slice(0, 3).map((alert) => (
          <Link
            key={alert.id}
            to={alert.link}
            className="inline-flex min-h-11 items-center font-semibold leading-tight hover:underline max-sm:text-sm"
          >
            {alert.words}
          </Link>
        ))}
        {alerts.length > 3 && <span className="text-sm">and {alerts.length - 3} more</span>}
      </Notice>
      {builds && (
        <button
          type="button"
          onClick={() => void silence()}
          className="flex min-h-14 min-w-32 items-center justify-center gap-2 bg-ink px-5 font-semibold text-ground hover:bg-walnut max-sm:min-w-0 max-sm:flex-col max-sm:gap-0 max-sm:px-3 max-sm:text-sm"
        >
          <BellOff aria-hidden size={22} />
          Silence
        </button>
      )}
    </div>
  )
}
