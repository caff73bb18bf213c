import { useQueryClient } from '@tanstack/react-query'
import { clsx } from 'clsx'
import { ArrowLeft, Delete } from 'lucide-react'
import { Dialog } from 'radix-ui'
import { type FormEvent, useEffect, useState } from 'react'
import { useLocation } from 'react-router'
import { answer, client, Problem } from '@/api/client'
import { useKeep } from '@/api/keep'
import { askFor, heardOf, leaveIt, type SignIn, useAsked, useMe } from '@/api/present'
import { useSignIn } from '@/api/questions'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { TextField } from '@/ui/text-field'

/** Who is at this tablet, asked over the page: what was begun there stays as it is. */
export function SignInOver() {
  const found = useSignIn().data
  const asked = useAsked()
  const me = useMe()
  const here = useLocation().pathname
  const queries = useQueryClient()
  const isAsked = asked !== null
  useEffect(() => {
    if (found) heardOf(found)
  }, [found])
  // Who can come in may be others by now than when it was heard last.
  useEffect(() => {
    if (isAsked) void queries.invalidateQueries({ queryKey: ['sign-in'] })
  }, [isAsked, queries])
  const open = isAsked && found !== undefined && here !== '/come'
  return (
    <Dialog.Root open={open} onOpenChange={(next) => !next && me && leaveIt()}>
      <Dialog.Portal>
        <Dialog.Content
          aria-describedby={undefined}
          data-over-all
          // Keys that are for the page below, like a pedal at the bench, are not for it now.
          onKeyDown={(event) => event.stopPropagation()}
          className="fixed inset-0 z-50 flex flex-col gap-6 overflow-y-auto bg-ground p-8 max-sm:p-4"
        >
          {found && asked && <Door key={asked.first} view={found} first={asked.first} />}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}

function Door({ view, first }: { view: SignIn; first: string }) {
  const me = useMe()
  const [who, setWho] = useState(view.people.some((one) => one.id === first) ? first : '')
  const person = view.people.find((one) => one.id === who)
  return (
    <>
      <header className="flex flex-wrap items-start justify-between gap-4">
        <div>
          <p className="text-soft">{view.shop || 'Kite Loom'}</p>
          <Dialog.Title className="font-semibold text-3xl max-sm:text-2xl">
            Who is at this tablet?
          </Dialog.Title>
        </div>
        {me && (
          <Button quiet onClick={leaveIt}>
            Still {me.name}
          </Button>
        )}
      </header>
      <div className="flex flex-1 gap-10 max-sm:flex-col">
        <ul
          aria-label="The crew"
          className={clsx(
            'grid flex-1 auto-rows-[5rem] grid-cols-[repeat(auto-fill,minmax(11rem,1fr))] content-start gap-3',
            person && 'max-sm:hidden',
          )}
        >
          {view.people.map((one) => (
            <li key={one.id}>
              <button
                type="button"
                aria-pressed={one.id === who}
                onClick={() => setWho(one.id)}
                className={clsx(
                  'size-full truncate border-2 px-5 text-left font-semibold text-2xl',
                  one.id === who ? 'border-ink bg-ink text-ground' : 'border-line bg-panel hover:border-ink',
                )}
              >
                {one.name}
              </button>
            </li>
          ))}
          {view.people.length === 0 && (
            <li className="col-span-full">
              <Notice tone="care">
                Nobody has a PIN yet. Whoever is at the shop’s computer gives the first:{' '}
                <code>kiteloom pin FOLDER NAME</code>
              </Notice>
            </li>
          )}
        </ul>
        <div className={clsx('w-[23rem] max-w-full shrink-0 max-sm:w-full', !person && 'max-sm:hidden')}>
          {person ? (
            <Pin key={person.id} person={person} onOther={() => setWho('')} />
          ) : (
            <p className="text-lg text-soft">
              Touch your name, then type your PIN or passphrase. Whoever forgot theirs gets a new one from a
              lead.
            </p>
          )}
        </div>
      </div>
    </>
  )
}

const KEYS = ['1', '2', '3', '4', '5', '6', '7', '8', '9']
const KEY =
  'grid min-h-18 place-items-center border-2 border-line bg-panel font-semibold text-3xl hover:border-ink active:bg-ink active:text-ground'

function Pin({ person, onOther }: { person: { id: string; name: string }; onOther: () => void }) {
  const queries = useQueryClient()
  const [secret, setSecret] = useState('')
  const [problem, setProblem] = useState('')
  const [busy, setBusy] = useState(false)
  const comeIn = async (event?: FormEvent) => {
    event?.preventDefault()
    if (!secret || busy) return
    setBusy(true)
    try {
      const body = { person_id: person.id, secret }
      const view = await answer(client.POST('/api/v1/sign-in', { body }))
      queries.setQueryData(['sign-in'], view)
      heardOf(view)
      leaveIt()
      await queries.invalidateQueries()
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      setProblem(error.message)
      setSecret('')
    } finally {
      setBusy(false)
    }
  }
  return (
    <form onSubmit={(event) => void comeIn(event)} className="flex flex-col gap-4">
      <button
        type="button"
        onClick={onOther}
        className="inline-flex min-h-11 items-center gap-2 self-start underline sm:hidden"
      >
        <ArrowLeft aria-hidden size={20} /> Somebody else
      </button>
      <TextField
        label={`${person.name}’s PIN or passphrase`}
        type="password"
        autoFocus
        big
        value={secret}
        problem={problem}
        onChange={(text) => {
          setSecret(text)
          setProblem('')
        }}
      />
      <div className="grid grid-cols-3 gap-2">
        {KEYS.map((key) => (
          <button key={key} type="button" className={KEY} onClick={() => setSecret(secret + key)}>
            {key}
          </button>
        ))}
        <span />
        <button type="button" className={KEY} onClick={() => setSecret(`${secret}0`)}>
          0
        </button>
        <button
          type="button"
          aria-label="Take the last figure back"
          className={KEY}
          onClick={() => setSecret(secret.slice(0, -1))}
        >
          <Delete aria-hidden size={28} />
        </button>
      </div>
      <Button big type="submit" disabled={!secret || busy}>
        Come in
      </Button>
    </form>
  )
}

/** Who is signed in, to hand the tablet on or leave it; nothing where nobody signs in. */
export function SignedIn() {
  const me = useMe()
  const queries = useQueryClient()
  const { keep, says } = useKeep()
  if (!me) return null
  const leave = () =>
    keep(async () => {
      const view = await answer(client.POST('/api/v1/sign-out'))
      queries.setQueryData(['sign-in'], view)
      heardOf(view)
    })
  return (
    <section aria-label="Signed in" className="flex flex-wrap items-center gap-3 border-line border-b pb-4">
      <p className="flex-1 basis-40">
        <span className="font-semibold">{me.name}</span> is at this tablet
        <span className="block text-soft">{me.role}</span>
      </p>
      <Button quiet onClick={() => askFor()}>
        Somebody else
      </Button>
      <Button quiet onClick={() => void leave()}>
        Sign out
      </Button>
      {says && (
        <Notice tone="stop" className="w-full">
          {says}
        </Notice>
      )}
    </section>
  )
}
