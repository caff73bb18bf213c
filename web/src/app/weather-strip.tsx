import { clsx } from 'clsx'
import { Link } from 'react-router'
import { useShopNow, useTicking } from '@/api/changes'
import type { OpenCup } from '@/api/client'
import { useWeather } from '@/api/questions'
import { useWriting } from '@/api/writing'
import { CupToken } from '@/weave/cup-token'
import { Ribbon24 } from '@/weave/ribbon-24'
import { remaining, useClock, useShow } from './formats'

const MARGIN = { ready: 'edge-ready', care: 'edge-care', stop: 'edge-stop text-madder' } as const

/** Always on top: shop time, the air now and the night's low, the dew margin, and what waits, soonest first. */
export function WeatherStrip() {
  const now = useShopNow()
  const weather = useWeather().data
  const writing = useWriting()
  const clock = useClock()
  const show = useShow()
  return (
    <header
      data-now={now.at}
      className="flex h-16 shrink-0 items-center gap-5 border-line border-b bg-panel px-4 max-sm:h-14 max-sm:gap-2"
    >
      <p className="min-w-22 shrink-0 leading-tight max-sm:mr-1 max-sm:min-w-20">
        <span className="block font-semibold text-2xl" data-testid="clock">
          {now.at ? clock.time(now.at).split(' ')[0] : '––:––'}
          {now.at && <span className="ml-0.5 text-sm">{clock.time(now.at).split(' ')[1]}</span>}
        </span>
        <span
          className={clsx('block whitespace-nowrap text-xs', writing ? 'bg-ink text-ground' : 'text-soft')}
        >
          {writing ? ' keeping…' : now.at ? clock.day(now.at) : ''}
        </span>
      </p>
      {weather && weather.temp_c !== null && (
        <>
          <Link
            to="/air"
            className="flex min-h-11 shrink-0 flex-col justify-center leading-tight hover:underline"
          >
            <span className="block font-semibold text-2xl max-sm:text-xl">
              {show(weather.temp_c, 'temperature')}
            </span>
            <span className="block text-soft text-xs">
              {weather.expected ? 'expected now' : 'in the shop'}
              {weather.rh_pct !== null && (
                <span className="max-sm:hidden"> · {show(weather.rh_pct, 'humidity')}</span>
              )}
            </span>
          </Link>
          <div className="flex items-center gap-3 max-sm:hidden">
            <Ribbon24 points={weather.ribbon} />
            <p className="leading-tight">
              <span className="block font-semibold">{show(weather.low_c, 'temperature')}</span>
              <span className="block text-soft text-xs">low, {weather.low_words}</span>
            </p>
          </div>
          {weather.margin_k !== null && (
            <p
              className={clsx(
                'shrink-0 px-2 leading-tight max-sm:pr-0',
                MARGIN[weather.margin_tone],
                // On a phone an open cup's clock needs the place, unless water settles.
                weather.cups.length > 0 && weather.margin_tone !== 'stop' && 'max-sm:hidden',
              )}
              data-testid="dew-margin"
            >
              <span className="block font-semibold">{show(weather.margin_k, 'difference')}</span>
              <span className="block text-xs">
                above dew
                {weather.margin_tone === 'care' && weather.margin_low_k !== null && (
                  <span className="max-sm:hidden">, {show(weather.margin_low_k, 'difference')} to come</span>
                )}
              </span>
            </p>
          )}
        </>
      )}
      {weather && weather.temp_c === null && (
        <Link to="/air" className="flex min-h-11 items-center text-soft underline">
          No temperature given yet: give one
        </Link>
      )}
      <ul className="ml-auto flex min-w-0 gap-3 overflow-hidden">
        {!now.answered && (
          <li className="edge-stop bg-madder-wash px-4 py-2 text-madder">
            The shop computer does not answer
          </li>
        )}
        {weather?.cups.slice(0, 2).map((cup, i) => (
          <CupTag key={cup.batch_id} cup={cup} more={i === 0 ? weather.cups.length - 1 : 0} />
        ))}
        {weather?.waits.slice(0, weather.cups.length > 1 ? 0 : 1).map((wait) => (
          <li
            key={wait.part_id + wait.step_key}
            className={clsx('min-w-0', weather.cups.length > 0 && 'max-lg:hidden')}
          >
            <Link
              to={`/cure/${wait.part_id}`}
              className="edge-wait flex min-h-11 items-center bg-woad-wash px-3 text-sm leading-tight hover:underline max-sm:px-2 max-sm:text-xs"
            >
              <span className="max-sm:hidden">{wait.words}</span>
              <span className="sm:hidden">{wait.short}</span>
            </Link>
          </li>
        ))}
      </ul>
    </header>
  )
}

const CUP = {
  stands: 'edge-wait bg-woad-wash',
  open: 'edge-ready bg-lichen-wash',
  soon: 'edge-stop bg-madder-wash text-madder',
  gone: 'edge-stop bg-madder-wash text-madder',
} as const

/** An open cup counting down; madder when little time is left. A narrow strip has room for the soonest only. */
function CupTag({ cup, more }: { cup: OpenCup; more: number }) {
  const left = Math.max(Math.ceil((Date.parse(cup.until) - useTicking()) / 1000), 0)
  return (
    <li className="shrink-0 max-lg:[[data-cup]~&]:hidden" data-cup="">
      <Link
        to={`/mix?batch=${cup.batch_id}`}
        className={clsx(
          'flex min-h-11 items-center gap-2 px-3 text-sm leading-tight hover:underline',
          CUP[cup.state],
        )}
        data-testid="open-cup"
      >
        <CupToken letter={cup.letter} tint={cup.tint} />
        <span className="max-lg:hidden">{cup.short}</span>
        <span className="font-semibold text-lg">{remaining(left)}</span>
        {more > 0 && <span className="lg:hidden">+{more}</span>}
      </Link>
    </li>
  )
}
