import { Link } from 'react-router'
import { useWeather } from '@/api/questions'
import { Ribbon24 } from '@/weave/ribbon-24'
import { useShopNow } from './changes'
import { useClock, useShow } from './formats'

/** Always on top: shop time, temperature now and the night's low, and what waits, soonest first. */
export function WeatherStrip() {
  const now = useShopNow()
  const weather = useWeather().data
  const clock = useClock()
  const show = useShow()
  return (
    <header className="flex h-16 shrink-0 items-center gap-6 border-line border-b bg-panel px-4 max-sm:h-14 max-sm:gap-4">
      <p className="w-24 shrink-0 leading-tight">
        <span className="block font-semibold text-2xl" data-testid="clock">
          {now.at ? clock.time(now.at) : '––:––'}
        </span>
        <span className="block text-soft text-xs">{now.at ? clock.day(now.at) : ''}</span>
      </p>
      {weather && weather.temp_c !== null && (
        <>
          <p className="shrink-0 leading-tight">
            <span className="block font-semibold text-2xl">{show(weather.temp_c, 'temperature')}</span>
            <span className="block text-soft text-xs">
              {weather.expected ? 'expected now' : 'in the shop'}
            </span>
          </p>
          <div className="flex items-center gap-3 max-sm:hidden">
            <Ribbon24 points={weather.ribbon} />
            <p className="leading-tight">
              <span className="block font-semibold">{show(weather.low_c, 'temperature')}</span>
              <span className="block text-soft text-xs">low, {weather.low_words}</span>
            </p>
          </div>
        </>
      )}
      {weather && weather.temp_c === null && <p className="text-soft">No temperature given yet.</p>}
      <ul className="ml-auto flex min-w-0 gap-3 overflow-hidden">
        {!now.answered && (
          <li className="edge-stop bg-madder-wash px-4 py-2 text-madder">
            The shop computer does not answer
          </li>
        )}
        {weather?.waits.slice(0, 2).map((wait) => (
          <li key={wait.surface_id} className="max-sm:hidden">
            <Link
              to={`/surface/${wait.surface_id}/steps`}
              className="edge-wait flex min-h-11 items-center whitespace-nowrap bg-woad-wash px-3 text-sm hover:underline"
            >
              {wait.words}
            </Link>
          </li>
        ))}
      </ul>
    </header>
  )
}
