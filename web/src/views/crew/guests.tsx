import { useState } from 'react'
import { answer, client, newId, type PeopleView } from '@/api/client'
import { useKeep } from '@/api/keep'
import { useMe } from '@/api/present'
import { typedNumber } from '@/app/typed-number'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { TextField } from '@/ui/text-field'

/** Inspectors come in by a link that ends: they see everything, and sign that they have seen a closing. */
export function Guests({ view }: { view: PeopleView }) {
  const me = useMe()
  const { keep, busy, fields, says } = useKeep(['name', 'days'])
  const [id, setId] = useState(newId)
  const [name, setName] = useState('')
  const [days, setDays] = useState('7')
  const [made, setMade] = useState<{ name: string; link: string } | null>(null)
  if (!me?.leads) return null
  const invite = () =>
    keep(async () => {
      const body = { id, name, days: typedNumber(days) }
      const found = await answer(client.POST('/api/v1/guests', { body }))
      setMade({ name: found.guest.name, link: `${location.origin}/come#${found.link}` })
      setName('')
      setId(newId())
    })
  const end = (guest_id: string) =>
    keep(() => answer(client.POST('/api/v1/guests/{guest_id}/end', { params: { path: { guest_id } } })))
  return (
    <section aria-label="Inspectors" className="flex flex-col gap-3">
      <h2 className="font-semibold text-2xl">Inspectors</h2>
      <p className="text-soft">
        By a link of their own they see everything, sign at a gate that they have seen it, and change nothing.
      </p>
      {view.guests.map((guest) => (
        <p key={guest.id} className="flex flex-wrap items-center gap-x-4 bg-panel px-4 py-2">
          <span className="min-w-0 flex-1">
            <span className="font-semibold">{guest.name}</span>
            <span className="block text-soft">{guest.words}</span>
          </span>
          {!guest.ended && (
            <Button quiet onClick={() => void end(guest.id)}>
              End it now
            </Button>
          )}
        </p>
      ))}
      {made && (
        <Notice tone="ready">
          <span className="block font-semibold">{made.name}’s link, shown only now:</span>
          <code className="block select-all break-all py-2">{made.link}</code>
          Send it to nobody else.
        </Notice>
      )}
      <div className="grid grid-cols-[1fr_6rem] gap-3">
        <TextField label="The inspector’s name" value={name} problem={fields.name} onChange={setName} />
        <TextField label="Days" inputMode="numeric" value={days} problem={fields.days} onChange={setDays} />
      </div>
      {says && <Notice tone="stop">{says}</Notice>}
      <Button quiet disabled={busy || !name.trim()} onClick={() => void invite()} className="self-start">
        Make a link
      </Button>
    </section>
  )
}
