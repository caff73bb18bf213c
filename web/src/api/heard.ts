/** The shop's time, how far it has come, and which questions the changes since touch. */
export type Heard = { now: string; seq: number; touched: string[] }

const HEARD = 'Kite-Loom-Heard'
const CHANGED = 'Kite-Loom-Changed'

// How far this tablet has heard what changed; before it heard anything less than nothing.
let seq = -1
// What the answer to the last write said of it.
let told: Heard | null = null

export const heardTo = () => seq

export function hears(got: Heard) {
  seq = got.seq
}

/** A write says how far this tablet has heard, so that its answer can say what changed since. */
export function sayHeard(request: Request) {
  if (seq >= 0) request.headers.set(HEARD, String(seq))
}

export function takeIn(response: Response) {
  const said = response.headers.get(CHANGED)
  told = said ? (JSON.parse(said) as Heard) : null
}

/** What a write's answer told, where it is still news here; once. */
export function news() {
  const got = told
  told = null
  return got && got.seq > seq ? got : null
}
