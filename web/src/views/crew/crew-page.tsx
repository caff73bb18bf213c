import { useState } from 'react'
import { useSearchParams } from 'react-router'
import { useLeads } from '@/api/present'
import { usePeople } from '@/api/questions'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { Guests } from './guests'
import { PersonForm } from './person-form'
import { StationForm } from './station-form'

/** Who works here, when, and what they can do; and the places and devices that steps need. */
export default function CrewPage() {
  const people = usePeople()
  const [query] = useSearchParams()
  const [adding, setAdding] = useState(query.get('serves') ? `station ${query.get('serves')}` : '')
  // A save may end when another form is open already.
  const close = (which: string) => setAdding((now) => (now === which ? '' : now))
  const view = people.data
  const leads = useLeads()
  if (people.error)
    return (
      <Notice tone="stop" className="m-6">
        {people.error.message}
      </Notice>
    )
  if (!view) return null
  return (
    <div className="mx-auto grid max-w-6xl gap-8 p-6 max-sm:p-4 lg:grid-cols-[1.5fr_1fr]">
      <section className="flex flex-col gap-3">
        <h1 className="font-semibold text-2xl">Crew</h1>
        <p className="text-soft">
          Nothing is planned for somebody outside their hours, or for work whose skill nobody on it has.
        </p>
        {view.people.map((person) => (
          <PersonForm key={person.id} person={person} view={view} />
        ))}
        {!leads ? null : adding === 'person' ? (
          <PersonForm view={view} onDone={() => close('person')} />
        ) : (
          <Button quiet onClick={() => setAdding('person')} className="self-start">
            Welcome somebody…
          </Button>
        )}
      </section>
      <section className="flex flex-col gap-3">
        <h2 className="font-semibold text-2xl">Stations</h2>
        <p className="text-soft">
          A part keeps its station until its wait is over; in a room of its own it cures at that room’s
          temperature.
        </p>
        {view.stations.map((station) => (
          <StationForm key={station.id} station={station} view={view} />
        ))}
        {view.unserved.map((one) => (
          <Notice key={one.kind} tone="care">
            <span className="font-semibold">Nothing serves as {one.kind}.</span> {one.words}; until then its
            steps go ahead as if there were room.
            <Button quiet onClick={() => setAdding(`station ${one.kind}`)} className="mt-2 block">
              Set a {one.kind} up
            </Button>
          </Notice>
        ))}
        {adding.startsWith('station') ? (
          <StationForm
            key={adding}
            view={view}
            serves={adding.slice('station '.length)}
            onDone={() => close(adding)}
          />
        ) : (
          <Button quiet onClick={() => setAdding('station')} className="self-start">
            Set a station up…
          </Button>
        )}
        <Guests view={view} />
      </section>
    </div>
  )
}
