import { scaleLinear } from '@visx/scale'

export type Span = { start: string; end: string }

export const ms = (at: string) => new Date(at).getTime()

/** The one time axis: milliseconds to pixels. */
export const timeScale = (span: Span, width: number) =>
  scaleLinear({ domain: [ms(span.start), ms(span.end)], range: [0, width] })

const HOUR = 3_600_000

/** Whole hours of the shop's day at which to tick: midnights, and noons when there is room. */
export function ticks(
  span: Span,
  hourIn: (at: number) => number,
  pixelsPerDay: number,
): { at: number; hour: number }[] {
  const every = pixelsPerDay > 320 ? 6 : pixelsPerDay > 170 ? 12 : 24
  const found = []
  for (let at = Math.ceil(ms(span.start) / HOUR) * HOUR; at <= ms(span.end); at += HOUR) {
    const hour = hourIn(at)
    if (hour % every === 0) found.push({ at, hour })
  }
  return found
}
