import { useIsFetching } from '@tanstack/react-query'
import { clsx } from 'clsx'
import { PenLine, Settings2, UserRound } from 'lucide-react'
import { useEffect, useState } from 'react'
import { Navigate, NavLink, Outlet, useLocation, useNavigate } from 'react-router'
import { askFor, useBuilds, useMe } from '@/api/present'
import { useShop, useWeather } from '@/api/questions'
import { Notice } from '@/ui/notice'
import { useNoteSheet } from '@/views/logbook/note-sheet'
import { Alarm } from './alarm'
import { VIEWS, viewAt } from './pages'
import { ShopSheet } from './shop-sheet'
import { WeatherStrip } from './weather-strip'

export const Fetching = () => <p className="p-8 text-soft">Fetching…</p>

export function Shell() {
  useNumberKeys()
  const [settings, setSettings] = useState(false)
  const here = useLocation().pathname
  const write = useNoteSheet()
  const me = useMe()
  const builds = useBuilds()
  const doubt = useWeather().data?.clock_doubt
  // A folder nobody named is a shop that was not opened yet.
  const unnamed = useShop().data?.name === '' && here !== '/begin'
  return (
    <div className="flex h-dvh flex-col">
      <WeatherStrip />
      <div className="flex min-h-0 flex-1 max-sm:flex-col-reverse">
        <nav
          aria-label="Views"
          className="flex w-24 shrink-0 flex-col overflow-y-auto border-line border-r bg-panel max-sm:w-full max-sm:flex-row max-sm:border-t"
        >
          {VIEWS.map(({ path, name, icon: Icon }, i) => {
            const inside = viewAt(here) === path
            return (
              <NavLink
                key={path}
                to={path}
                aria-current={inside ? 'page' : undefined}
                className={clsx(
                  'flex min-h-16 flex-1 flex-col items-center justify-center gap-1 border-line border-b py-1 text-[0.95rem] max-sm:flex-auto max-sm:border-b-0 max-sm:text-xs sm:flex-none',
                  inside ? 'bg-ink font-semibold text-ground' : 'text-ink hover:bg-ground',
                )}
              >
                <Icon aria-hidden size={24} strokeWidth={1.8} />
                <span>
                  <span className="font-mono text-xs opacity-80 max-sm:hidden">{i + 1}</span> {name}
                </span>
              </NavLink>
            )
          })}
          <div className="selvedge-edge ml-auto w-3 flex-1 max-sm:hidden" />
          {me && (
            <button
              type="button"
              aria-label={`${me.name} is at this tablet: somebody else?`}
              onClick={() => askFor()}
              className="flex min-h-14 flex-col items-center justify-center gap-1 border-line border-t py-1 text-[0.95rem] hover:bg-ground max-sm:hidden"
            >
              <UserRound aria-hidden size={24} strokeWidth={1.8} />
              <span className="max-w-full truncate px-1">{me.name}</span>
            </button>
          )}
          {builds && (
            <button
              type="button"
              onClick={() => write({ part: here.startsWith('/part/') ? (here.split('/')[2] ?? '') : '' })}
              className="flex min-h-14 flex-col items-center justify-center gap-1 border-line border-t py-1 text-[0.95rem] hover:bg-ground max-sm:flex-auto max-sm:text-xs max-sm:border-t-0"
            >
              <PenLine aria-hidden size={24} strokeWidth={1.8} />
              <span className="max-sm:sr-only">Write</span>
            </button>
          )}
          <button
            type="button"
            onClick={() => setSettings(true)}
            className="flex min-h-14 flex-col items-center justify-center gap-1 border-line border-t py-1 text-[0.95rem] hover:bg-ground max-sm:flex-auto max-sm:text-xs max-sm:border-t-0"
          >
            <Settings2 aria-hidden size={24} strokeWidth={1.8} />
            <span className="max-sm:sr-only">Shop</span>
          </button>
        </nav>
        <div className="flex min-h-0 min-w-0 flex-1 flex-col">
          {!builds && me && <LooksOn name={me.name} role={me.role} />}
          {doubt && <Notice tone="stop">{doubt}</Notice>}
          <main className="relative min-h-0 flex-1 overflow-y-auto">
            <WorkingItOut />
            {unnamed ? <Navigate to="/begin" replace /> : <Outlet />}
          </main>
          <Alarm />
        </div>
      </div>
      <ShopSheet open={settings} onClose={() => setSettings(false)} />
    </div>
  )
}

function LooksOn({ name, role }: { name: string; role: string }) {
  return (
    <p className="border-line border-b bg-panel px-6 py-2 text-soft">
      {role === 'inspector'
        ? `${name} looks on as an inspector: all of it is to be seen, and a closing that was seen is signed at its gate.`
        : `${name} looks on: all of it is to be seen, nothing is changed.`}
    </p>
  )
}

/** Questions of what stands beside a page: the page is there without them. */
const BESIDE = new Set(['weather', 'order-list'])
/** So long nobody asks why nothing is there yet [ms]. */
const NOTICED_MS = 700

/** That an answer which the page has never had is being worked out: a plan of many parts takes its time at first. */
function WorkingItOut() {
  const waiting =
    useIsFetching({
      predicate: ({ state, queryKey }) => state.data === undefined && !BESIDE.has(String(queryKey[0])),
    }) > 0
  const [long, setLong] = useState(false)
  useEffect(() => {
    const timer = setTimeout(() => setLong(waiting), waiting ? NOTICED_MS : 0)
    return () => clearTimeout(timer)
  }, [waiting])
  return (
    <p
      role="status"
      className={clsx(long && waiting && 'pointer-events-none absolute top-0 left-0 p-8 text-lg text-soft')}
    >
      {long && waiting && 'Working it out…'}
    </p>
  )
}

/** 1 … n go to the views, but not while something is being typed. */
function useNumberKeys() {
  const go = useNavigate()
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const typing =
        event.target instanceof HTMLElement && event.target.closest('input, textarea, select, [role=dialog]')
      if (typing || event.ctrlKey || event.metaKey || event.altKey) return
      const view = VIEWS[Number(event.key) - 1]
      if (view) void go(view.path)
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [go])
}
