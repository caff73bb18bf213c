import { useState, useSyncExternalStore } from 'react'
import type { components } from './schema'

export type SignIn = components['schemas']['SignInViewOut']
export type Me = NonNullable<SignIn['me']>

// Who is signed in at this tablet; null where nobody is, or nobody has to be.
let me: Me | null = null
// Whether anybody has to be; null while the shop was not heard.
let needed: boolean | null = null
// Whether the shop asked for somebody, and who should be asked for first.
let asked: { first: string } | null = null
// How often it was heard who is here: what was asked before is asked again as who is here since.
let turn = 0
const hearers = new Set<() => void>()
let waiting: (() => void)[] = []

function told() {
  for (const hear of hearers) hear()
}
const subscribe = (hear: () => void) => {
  hearers.add(hear)
  return () => void hearers.delete(hear)
}

/** Who is signed in here; null where nobody is, or nobody has to be. */
export const useMe = () => useSyncExternalStore(subscribe, () => me)
export const meNow = () => me

/** Whether somebody must sign in, and whose name stands first. */
export const useAsked = () => useSyncExternalStore(subscribe, () => asked)

/** Somebody is to sign in now: over the page, which keeps what was typed. */
export function askFor(first = '') {
  asked = { first }
  told()
}

/** What the shop says of who is here. Orders that waited for it go on. */
export function heardOf(view: Pick<SignIn, 'needed' | 'me'>) {
  const before = me
  me = view.me
  needed = view.needed
  turn += 1
  const out = view.needed && !view.me
  if (out) asked ??= { first: '' }
  else if (!view.needed || !isSame(before, me)) asked = null
  told()
  if (out) return
  const go = waiting
  waiting = []
  for (const one of go) one()
}

// Two inspectors have no id of the crew; their names tell them apart.
const isSame = (one: Me | null, other: Me | null) => one?.id === other?.id && one?.name === other?.name

/** Whether what somebody ticked without the shop can go now: by their own hand, or where nobody signs in any more. */
export const goesNow = (by: string | undefined) => !by || needed === false || by === me?.id

/** It is left as it was: who is signed in stays so. */
export function leaveIt() {
  asked = null
  told()
}

/** Sends something, once more when somebody had to sign in first. What one gave is not sent as another's. */
export async function asWho(send: () => Promise<Response>, writes: boolean): Promise<Response> {
  const as = me
  for (;;) {
    const at = turn
    const got = await send()
    if (got.status !== 401) return got
    if (turn === at) {
      me = null
      if (!asked) askFor(as?.id)
      await new Promise<void>((go) => waiting.push(go))
    }
    const now = meNow()
    if (writes && as && !isSame(as, now)) {
      const detail = `${now?.name ?? 'Somebody else'} is signed in now, and ${as.name} gave this: nothing was saved. Do it again.`
      return new Response(JSON.stringify({ detail }), { status: 403 })
    }
  }
}

/** Who does it: who is signed in, until another is chosen; anew when somebody else signs in. */
export function useWho(nobody = ''): [string, (who: string) => void] {
  const id = useMe()?.id
  const [chosen, choose] = useState<{ by: string | undefined; who: string } | null>(null)
  const who = chosen && chosen.by === id ? chosen.who : id || nobody
  return [who, (next) => choose({ by: id, who: next })]
}

/** Whether who is here may change anything. */
export const useBuilds = () => useMe()?.builds ?? true
/** Whether who is here says who works here, and what each may do. */
export const useLeads = () => useMe()?.leads ?? true
