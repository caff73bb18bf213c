import { useState, useSyncExternalStore } from 'react'
import type { components } from './schema'

export type SignIn = components['schemas']['SignInViewOut']
export type Me = NonNullable<SignIn['me']>

// Who is signed in at this tablet; null where nobody is, or nobody has to be.
let me: Me | null = null
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
  me = view.me
  turn += 1
  asked = view.needed && !view.me ? (asked ?? { first: '' }) : null
  told()
  if (asked) return
  const go = waiting
  waiting = []
  for (const one of go) one()
}

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
    if (writes && as && as.id !== now?.id) {
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
