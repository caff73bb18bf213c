import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { answer, client, type PeopleView, type Person } from '@/api/client'
import { useEdit } from '@/api/edit'
import { useKeep } from '@/api/keep'
import { heardOf, useMe } from '@/api/present'
import { Button } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { Notice } from '@/ui/notice'
import { OneOf } from '@/ui/one-of'
import { TextField } from '@/ui/text-field'

type Props = { person: Person; view: PeopleView; onDone: () => void }

/** What somebody signs in with, and what they may do here. The first PIN of a shop makes a lead of whose it is. */
export function PinForm({ person, view, onDone }: Props) {
  const me = useMe()
  const queries = useQueryClient()
  const [secret, setSecret] = useState('')
  const [again, setAgain] = useState('')
  const [had, setHad] = useState('')
  const { keep, busy, fields, says } = useKeep(['secret'])
  const first = !view.people.some((one) => one.has_pin)
  const own = me?.id === person.id && person.has_pin
  const differs = again !== '' && again !== secret
  const give = () =>
    keep(async () => {
      const body = { person_id: person.id, secret, had }
      const found = await answer(
        client.POST('/api/v1/people/{person_id}/pin', { params: { path: { person_id: person.id } }, body }),
      )
      queries.setQueryData(['sign-in'], found)
      heardOf(found)
    }).then((kept) => kept && onDone())
  const take = () =>
    keep(async () => {
      await answer(
        client.POST('/api/v1/people/{person_id}/pin/away', { params: { path: { person_id: person.id } } }),
      )
      await queries.invalidateQueries({ queryKey: ['sign-in'] })
    }).then((kept) => kept && onDone())
  return (
    <div className="flex flex-col gap-4 border-line border-t pt-3">
      {first && (
        <Notice tone="care">
          With the first PIN everybody signs in from then on, and {person.name} is the lead who gives the
          others theirs. Whoever has none can’t come in.
        </Notice>
      )}
      {me?.leads && <RoleOf person={person} view={view} />}
      <div className="grid gap-3 sm:grid-cols-2">
        {own && (
          <TextField
            label="The one you have now"
            type="password"
            value={had}
            onChange={setHad}
            className="sm:col-span-2"
          />
        )}
        <TextField
          label={person.has_pin ? 'A new PIN or passphrase' : 'PIN (4 to 12 figures) or passphrase'}
          type="password"
          value={secret}
          problem={fields.secret}
          onChange={setSecret}
        />
        <TextField
          label="Once more"
          type="password"
          value={again}
          problem={differs ? 'They differ' : undefined}
          onChange={setAgain}
        />
      </div>
      {says && <Notice tone="stop">{says}</Notice>}
      <div className="flex flex-wrap gap-3">
        <Button disabled={busy || !secret || again !== secret || (own && !had)} onClick={() => void give()}>
          {person.has_pin ? 'Change it' : `${person.name} signs in with it`}
        </Button>
        <Button quiet onClick={onDone}>
          Leave it
        </Button>
        {person.has_pin && me?.leads && (
          <Button quiet className="ml-auto" onClick={() => void take()}>
            Take the PIN away
          </Button>
        )}
      </div>
    </div>
  )
}

function RoleOf({ person, view }: { person: Person; view: PeopleView }) {
  const edit = useEdit(person.version)
  return (
    <>
      <OneOf
        label={`${person.name} is a`}
        value={person.role}
        choices={view.roles.map((role) => ({ value: role.id, name: role.id }))}
        onChange={(role) =>
          void edit.save((version) =>
            answer(
              client.POST('/api/v1/people/{person_id}/role', {
                params: { path: { person_id: person.id } },
                body: { version, role: role as 'lead' | 'builder' | 'looker-on' },
              }),
            ),
          )
        }
      />
      <p className="text-soft">{person.may}.</p>
      <EditProblem edit={edit} />
    </>
  )
}
