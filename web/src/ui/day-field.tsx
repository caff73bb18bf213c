import { useEffect, useState } from 'react'
import { shopMoment, useHeard } from '@/api/changes'
import { useClock, useMonthFirst, useWallClock, useZone } from '@/app/formats'
import { TextField } from './text-field'

const MONTHS = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec']
const DAYS = ['sun', 'mon', 'tue', 'wed', 'thu', 'fri', 'sat']
const DAY_MS = 86_400_000

type Props = {
  label: string
  /** A day as YYYY-MM-DD, or with its time as YYYY-MM-DDTHH:MM in the shop's time; empty for none. */
  value: string
  withTime?: boolean
  /** Whether it asks for what has been: without its year a date is then the last such, else the next. */
  past?: boolean
  problem?: string
  onChange: (value: string) => void
  className?: string
}

/** A day, or a day and a time, typed as builders write it and shown as the program writes it everywhere. */
export function DayField({ label, value, withTime, past, problem, onChange, className }: Props) {
  const clock = useClock()
  const zone = useZone()
  const monthFirst = useMonthFirst()
  const wall = useWallClock()
  const [text, setText] = useState('')
  const [typing, setTyping] = useState(false)
  const heard = useHeard()
  // Empty while the shop was not heard yet: by the tablet's own clock "tomorrow" may be any day.
  const today = heard
    ? new Intl.DateTimeFormat('en-CA', { timeZone: zone }).format(new Date(shopMoment()))
    : ''
  const example = withTime
    ? `${monthFirst ? 'Dec 3' : '3 Dec'} ${wall('14:30')}, or Thu ${wall('09:00').replace(/^0/, '')}`
    : monthFirst
      ? 'Dec 3'
      : '3 Dec'
  const known = isDay(value)
  // Noon of the day in the world's time: the same day in every zone a shop stands in.
  const shown = known
    ? clock.dayYear(`${value.slice(0, 10)}T12:00:00Z`) + (withTime ? `, ${wall(value.slice(11))}` : '')
    : value
  const unread = !typing && value.trim() !== '' && !known
  const read = (typed: string) => readDay(typed, { today, withTime, past, monthFirst })
  const change = (typed: string) => {
    setTyping(true)
    setText(typed)
    // What is no day goes on as it was typed: the shop then refuses it by name, and it is not taken for none.
    if (!typed.trim()) onChange('')
    else onChange(read(typed) ?? typed)
  }
  // What was typed before the shop was heard is read once it is.
  const late = heard && value.trim() !== '' && !known ? read(value) : null
  useEffect(() => {
    if (late !== null) onChange(late)
  }, [late, onChange])
  return (
    <TextField
      label={label}
      value={typing ? text : shown}
      placeholder={example}
      problem={
        problem ??
        (unread
          ? `“${value.trim()}” is no ${withTime ? 'day and time' : 'day'}; write ${example}`
          : undefined)
      }
      onChange={change}
      onFocus={() => {
        setText(shown)
        setTyping(true)
      }}
      onBlur={() => setTyping(false)}
      className={className}
    />
  )
}

/** Whether a field holds a day that was understood. */
export const isDay = (value: string) => /^\d{4}-\d\d-\d\d(T\d\d:\d\d)?$/.test(value)

/** What was typed as YYYY-MM-DD, with its time where one is wanted; null when it says no day. */
export function readDay(typed: string, asked: Asked & { withTime?: boolean }): string | null {
  const { withTime } = asked
  const words = typed.trim().toLowerCase().replaceAll(',', ' ')
  const time = /(?:^|[\st])(\d{1,2}):(\d{2})\s*(am|pm|a|p)?$/.exec(words)
  const hour = time ? hourOf(Number(time[1]), time[3]) : 24
  if (withTime && (!time || hour > 23 || Number(time[2]) > 59)) return null
  const day = dayOf((withTime && time ? words.slice(0, time.index) : words).trim(), asked)
  if (day === null) return null
  return withTime && time ? `${day}T${String(hour).padStart(2, '0')}:${time[2]}` : day
}

/** The hour of a day of twenty-four; 24 where there is none such before or after noon. */
const hourOf = (hour: number, half: string | undefined) =>
  !half ? hour : hour < 1 || hour > 12 ? 24 : (hour % 12) + (half.startsWith('p') ? 12 : 0)

type Asked = { today: string; past?: boolean; monthFirst: boolean }

function dayOf(words: string, asked: Asked): string | null {
  const { today, monthFirst } = asked
  if (today === '') return null
  const start = Date.parse(`${today}T12:00:00Z`)
  const later = (days: number) => new Date(start + days * DAY_MS).toISOString().slice(0, 10)
  if (words === '' || words === 'today') return today
  if (words === 'tomorrow') return later(1)
  if (words === 'yesterday') return later(-1)
  const iso = /^(\d{4})-(\d{1,2})-(\d{1,2})$/.exec(words)
  if (iso) return dated(Number(iso[1]), Number(iso[2]), Number(iso[3]))
  // A day of the week before a date says nothing more; alone it is the next such day, or the last.
  const week = /^(sun|mon|tue|wed|thu|fri|sat)[a-z]*\.?\s*/.exec(words)
  if (week && words.length === week[0].length) {
    const ahead = (DAYS.indexOf(week[1] ?? '') - new Date(start).getUTCDay() + 7) % 7
    return later(asked.past && ahead ? ahead - 7 : ahead)
  }
  const rest = week ? words.slice(week[0].length) : words
  const named = /^(\d{1,2})\.?\s*([a-z]{3})[a-z]*\.?\s*(\d{4})?$/.exec(rest)
  const turned = /^([a-z]{3})[a-z]*\.?\s*(\d{1,2})\s*(\d{4})?$/.exec(rest)
  const figures = /^(\d{1,2})([./-])(\d{1,2})(?:\2(\d{2}|\d{4})?)?$/.exec(rest)
  if (named) return near(named[3], MONTHS.indexOf(named[2] ?? '') + 1, Number(named[1]), asked)
  if (turned) return near(turned[3], MONTHS.indexOf(turned[1] ?? '') + 1, Number(turned[2]), asked)
  if (!figures) return null
  const [first, second] = [Number(figures[1]), Number(figures[3])]
  const swap = monthFirst && figures[2] !== '.'
  return near(figures[4], swap ? first : second, swap ? second : first, asked)
}

/** So far on the other side a date without its year is still meant: what was last month, or is to come in this. */
const ASIDE_MS = 30 * DAY_MS

/** Without its year a date is the next such, or the last where what has been is asked for. */
function near(year: string | undefined, month: number, day: number, asked: Asked): string | null {
  if (year) return dated(year.length === 2 ? 2000 + Number(year) : Number(year), month, day)
  const now = Date.parse(asked.today)
  const found = [-1, 0, 1]
    .map((more) => dated(Number(asked.today.slice(0, 4)) + more, month, day))
    .filter((iso) => iso !== null)
  const fits = found.filter((iso) =>
    asked.past ? Date.parse(iso) <= now + ASIDE_MS : Date.parse(iso) >= now - ASIDE_MS,
  )
  return (asked.past ? fits.at(-1) : fits[0]) ?? null
}

function dated(year: number, month: number, day: number): string | null {
  const iso = `${year}-${String(month).padStart(2, '0')}-${String(day).padStart(2, '0')}`
  const at = new Date(`${iso}T12:00:00Z`)
  return Number.isNaN(at.getTime()) || at.toISOString().slice(0, 10) !== iso ? null : iso
}
