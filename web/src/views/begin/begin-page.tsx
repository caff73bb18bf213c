import { useState } from 'react'
import { useNavigate } from 'react-router'
import { answer, client, type Shop } from '@/api/client'
import { useEdit } from '@/api/edit'
import { useShop } from '@/api/questions'
import { Button } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { OneOf } from '@/ui/one-of'
import { TextField } from '@/ui/text-field'
import { DAYS, Week } from '@/ui/week'

/** How shops work, as seven lines of text, Monday first. */
const HOURS: Record<string, string[]> = {
  evenings: ['18–21', '18–21', '18–21', '18–21', '18–21', '9–17', '9–17'],
  weekdays: ['8–17', '8–17', '8–17', '8–17', '8–17', '', ''],
}
const OWN = 'own'

export default function BeginPage() {
  const shop = useShop().data
  return shop ? <Form shop={shop} /> : null
}

/** The first page of an empty folder: the shop's name, where it is, what it measures in, and when it works. */
function Form({ shop }: { shop: Shop }) {
  const go = useNavigate()
  const edit = useEdit(shop.version)
  const here = Intl.DateTimeFormat().resolvedOptions()
  const [name, setName] = useState(shop.name)
  const [zone, setZone] = useState(here.timeZone || shop.zone)
  const [units, setUnits] = useState<Shop['units']>(
    Intl.NumberFormat().resolvedOptions().locale.endsWith('-US') ? 'us' : 'metric',
  )
  const [works, setWorks] = useState('evenings')
  const [week, setWeek] = useState(HOURS.evenings ?? [])
  const save = async () => {
    const clock: Shop['clock'] = units === 'us' ? '12' : '24'
    const body = { version: shop.version, name, zone, units, week, clock }
    if (await edit.save((version) => answer(client.PATCH('/api/v1/shop', { body: { ...body, version } }))))
      void go('/today')
  }
  const problems = edit.problem?.fields ?? {}
  return (
    <form
      className="mx-auto flex max-w-3xl flex-col gap-6 p-6 max-sm:p-4"
      onSubmit={(event) => {
        event.preventDefault()
        void save()
      }}
    >
      <div>
        <h1 className="font-semibold text-3xl">Good morning</h1>
        <p className="mt-1 text-lg">Three things about the shop, and then the first part.</p>
      </div>
      <TextField
        label="The shop’s name"
        placeholder="The boathouse"
        value={name}
        problem={problems.name}
        onChange={setName}
      />
      <div className="grid items-start gap-4 sm:grid-cols-2">
        <div>
          <TextField
            label="Its time zone"
            value={zone}
            problem={problems.zone}
            list="zones"
            onChange={setZone}
          />
          <datalist id="zones">
            {Intl.supportedValuesOf('timeZone').map((one) => (
              <option key={one} value={one} />
            ))}
          </datalist>
        </div>
        <OneOf
          label="It measures in"
          value={units}
          choices={[
            { value: 'metric', name: 'Metric' },
            { value: 'us', name: 'US' },
          ]}
          onChange={(chosen) => setUnits(chosen as Shop['units'])}
        />
      </div>
      <OneOf
        label="Work goes on"
        value={works}
        choices={[
          { value: 'evenings', name: 'Evenings and week-ends' },
          { value: 'weekdays', name: 'Weekdays' },
          { value: OWN, name: 'Our own hours' },
        ]}
        onChange={(how) => {
          setWorks(how)
          setWeek(HOURS[how] ?? week)
        }}
      />
      {works === OWN ? (
        <fieldset className="flex flex-col gap-1">
          <legend className="mb-1 text-soft">Empty is closed; breaks like 9–12:30, 13–17</legend>
          <Week week={week} problems={problems} onChange={setWeek} />
        </fieldset>
      ) : (
        <p className="text-soft">
          {works === 'evenings'
            ? 'Monday to Friday 18–21, Saturday and Sunday 9–17.'
            : 'Monday to Friday 8–17.'}{' '}
          It can be changed at any time, and each person can have hours of their own.
        </p>
      )}
      <EditProblem
        edit={edit}
        shownInFields={['name', 'zone', ...(works === OWN ? DAYS.map((_, n) => `week.${n}`) : [])]}
      />
      <Button big type="submit" className="self-start" disabled={!name.trim()}>
        Open the shop
      </Button>
      <p className="text-soft text-sm">
        Kite Loom computes and records; it approves nothing. The kit maker’s and material maker’s
        instructions, local rules and the licensed inspector decide.
      </p>
    </form>
  )
}
