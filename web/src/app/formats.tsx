import { createContext, type ReactNode, useContext } from 'react'
import type { Format } from '@/api/client'
import { useFormats, useShop } from '@/api/questions'

type Units = 'metric' | 'us'
type Table = Record<string, Record<Units, Format>>

const Formats = createContext<{
  table: Table
  units: Units
  zone: string
  /** Of how many hours the shop's clock is, and what stands first in a date. */
  clock: '24' | '12'
  dates: 'day' | 'month'
  /** How a scale shows that counts in ounces; null where it counts in grams. */
  ounces: Format | null
} | null>(null)

/** Serves the shop's one table of how figures are shown. */
export function FormatsProvider({ children }: { children: ReactNode }) {
  const shop = useShop()
  const formats = useFormats()
  if (!shop.data || !formats.data) {
    const failed = shop.error ?? formats.error
    return <p className="p-8 text-soft">{failed ? failed.message : 'Opening the shop…'}</p>
  }
  const value = {
    table: formats.data.kinds as Table,
    units: shop.data.units,
    zone: shop.data.zone,
    clock: shop.data.clock,
    dates: shop.data.dates,
    ounces: shop.data.scale_unit === 'oz' ? formats.data.ounces : null,
  }
  return <Formats.Provider value={value}>{children}</Formats.Provider>
}

function useTable() {
  const known = useContext(Formats)
  if (!known) throw new Error('FormatsProvider is missing')
  return known
}

/** Shows a number of a kind in the shop's units, by the table. */
export function useShow() {
  const { table, units, ounces } = useTable()
  return (value: number | string | null | undefined, kind: string): string => {
    if (value === null || value === undefined) return '–'
    const format = kind === 'scale' && ounces ? ounces : table[kind]?.[units]
    if (typeof value === 'string' || !format) return String(value)
    return written(value, format)
  }
}

/** The unit a bare number of a kind is meant in. */
export function useUnitOf() {
  const { table, units, ounces } = useTable()
  return (kind: string) => (kind === 'scale' && ounces ? ounces.unit : (table[kind]?.[units].unit ?? ''))
}

/** How a number of a kind becomes what is shown: times a factor, and from another zero. */
export function useShownAs(kind: string) {
  const { table, units } = useTable()
  const { factor = 1, offset = 0 } = table[kind]?.[units] ?? {}
  return { factor, offset: offset ?? 0 }
}

function written(value: number, format: Format): string {
  const number = value * format.factor + (format.offset ?? 0)
  if (format.large && format.large_from != null && Math.abs(number) >= format.large_from) {
    return written(value, { ...format.large, large: null })
  }
  const digits = format.sixteenths ? sixteenths(number) : decimal(number, format.decimals ?? 0)
  return `${digits}${format.unit === '°' || !format.unit ? '' : ' '}${format.unit}`
}

function decimal(number: number, decimals: number): string {
  const text = number.toFixed(decimals)
  return Number(text) === 0 ? text.replace('-', '') : text
}

function sixteenths(number: number): string {
  const count = Math.round(Math.abs(number) * 16)
  const whole = Math.floor(count / 16)
  let [top, bottom] = [count % 16, 16]
  while (top && top % 2 === 0) [top, bottom] = [top / 2, bottom / 2]
  const sign = number < 0 && count ? '-' : ''
  if (!top) return `${sign}${whole}`
  return whole ? `${sign}${whole} ${top}/${bottom}` : `${sign}${top}/${bottom}`
}

/** What is left of a cup's time, the same on every screen: minutes and seconds below an hour and a half. */
export const remaining = (seconds: number) =>
  seconds >= 5400
    ? `${Math.floor(seconds / 3600)} h ${String(Math.floor((seconds % 3600) / 60)).padStart(2, '0')} min`
    : `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}`

/** The shop's zone. */
export const useZone = () => useTable().zone

/** Whether a date in figures is written the month first here. */
export const useMonthFirst = () => useTable().dates === 'month'

/** A time of day as HH:MM, as the shop's clock shows it. */
export function useWallClock() {
  const { clock } = useTable()
  return (time: string) => {
    const [hour = 0, minute = 0] = time.split(':').map(Number)
    if (clock === '24') return time
    return `${hour % 12 || 12}:${String(minute).padStart(2, '0')} ${hour % 24 < 12 ? 'am' : 'pm'}`
  }
}

/** Clock times in the shop's zone, whatever zone the browser is in. */
export function useClock() {
  const { zone, dates } = useTable()
  const wall = useWallClock()
  const form = (options: Intl.DateTimeFormatOptions) =>
    new Intl.DateTimeFormat(dates === 'month' ? 'en-US' : 'en-GB', {
      timeZone: zone,
      hourCycle: 'h23',
      ...options,
    })
  const clock = form({ hour: '2-digit', minute: '2-digit' })
  const weekday = form({ weekday: 'short' })
  const day = form({ weekday: 'short', day: 'numeric', month: 'short' })
  const dayYear = form({ weekday: 'short', day: 'numeric', month: 'short', year: 'numeric' })
  type At = Date | string | number
  const time = (at: At) => wall(clock.format(new Date(at)))
  return {
    dayYear: (at: At) => dayYear.format(new Date(at)).replaceAll(',', ''),
    time,
    /** The day of the month, as a figure. */
    dayNumber: (at: At) => day.format(new Date(at)).match(/\d+/)?.[0] ?? '',
    /** The hour of the day there, of twenty-four. */
    hour: (at: At) => Number(clock.format(new Date(at)).slice(0, 2)),
    dayTime: (at: At) => `${weekday.format(new Date(at))} ${time(at)}`,
    day: (at: At) => day.format(new Date(at)).replaceAll(',', ''),
  }
}
