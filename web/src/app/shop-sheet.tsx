import { useState } from 'react'
import { answer, client, type Shop } from '@/api/client'
import { useEdit, useTyped } from '@/api/edit'
import { useShop } from '@/api/questions'
import type { paths } from '@/api/schema'
import { Button, ButtonLink } from '@/ui/button'
import { DayField, isDay } from '@/ui/day-field'
import { EditProblem } from '@/ui/edit-problem'
import { OneOf } from '@/ui/one-of'
import { SideSheet } from '@/ui/side-sheet'
import { TextField } from '@/ui/text-field'
import { Week } from '@/ui/week'
import { useClock, useUnitOf } from './formats'
import { SignedIn } from './sign-in'
import { type Theme, theme, wear } from './theme'

type ShopEdit = NonNullable<paths['/api/v1/shop']['patch']['requestBody']>['content']['application/json']

/** Name, units, the scale, theme, working hours and closed days. */
export function ShopSheet({ open, onClose }: { open: boolean; onClose: () => void }) {
  const shop = useShop().data
  return (
    <SideSheet open={open} onClose={onClose} title={shop?.name || 'The shop'}>
      {shop && <Settings shop={shop} onClose={onClose} />}
    </SideSheet>
  )
}

function Settings({ shop, onClose }: { shop: Shop; onClose: () => void }) {
  const edit = useEdit(shop.version)
  const unit = useUnitOf()('scale')
  const [sound, setSound] = useState(localStorage.getItem('sound') ?? 'on')
  const [worn, setWorn] = useState<Theme>(theme())
  const [name, setName, nameKept] = useTyped(shop.name)
  const [week, setWeek, weekKept] = useTyped(shop.week)
  const [closed, setClosed, closedKept] = useTyped(shop.closed)
  const [day, setDay] = useState('')
  const [bench, setBench, benchKept] = useTyped({
    step: shop.scale_step,
    cup: shop.largest_cup,
    high: shop.above_sea,
  })
  const up = useUnitOf()('run')
  const change = (body: Partial<ShopEdit>) =>
    edit.save((version) => answer(client.PATCH('/api/v1/shop', { body: { version, ...body } })))
  const saveBench = (scale_unit: 'g' | 'oz') =>
    change({
      bench: {
        scale_unit,
        scale_step: { text: bench.step, unit },
        largest_cup: { text: bench.cup, unit },
        above_sea: { text: bench.high, unit: up },
      },
    }).then(benchKept(bench))
  const saveClosed = (days: string[]) => {
    setClosed(days)
    void change({ closed: days }).then(closedKept(days))
  }
  const problems = edit.problem?.fields ?? {}
  return (
    <div className="flex flex-col gap-6">
      <SignedIn />
      <EditProblem
        edit={edit}
        shownInFields={['scale_step', 'largest_cup', 'above_sea', ...week.map((_, n) => `week.${n}`)]}
      />
      <div className="flex items-end gap-3">
        <TextField label="The shop’s name" value={name} onChange={setName} className="flex-1" />
        <Button
          quiet
          disabled={name === shop.name}
          onClick={() => void change({ name }).then(nameKept(name))}
        >
          Keep
        </Button>
      </div>
      <OneOf
        label="Units"
        value={shop.units}
        choices={[
          { value: 'metric', name: 'Metric' },
          { value: 'us', name: 'US' },
        ]}
        onChange={(units) => {
          benchKept(bench)(true) // a figure typed in grams says nothing in ounces
          void change({ units })
        }}
      />
      <OneOf
        label="The clock"
        value={shop.clock}
        choices={[
          { value: '24', name: '14:30' },
          { value: '12', name: '2:30 pm' },
        ]}
        onChange={(clock) => void change({ clock: clock as Shop['clock'] })}
      />
      <OneOf
        label="Dates"
        value={shop.dates}
        choices={[
          { value: 'day', name: '3 Dec' },
          { value: 'month', name: 'Dec 3' },
        ]}
        onChange={(dates) => void change({ dates: dates as Shop['dates'] })}
      />
      <fieldset className="flex flex-col gap-3">
        <legend className="mb-1 text-soft">The scale, and the cups</legend>
        <OneOf
          label="The scale counts in"
          value={shop.scale_unit}
          choices={[
            { value: 'g', name: 'Grams' },
            { value: 'oz', name: 'Ounces' },
          ]}
          onChange={(counts) => void saveBench(counts as 'g' | 'oz')}
        />
        <div className="grid grid-cols-2 gap-3">
          <TextField
            label="In steps of"
            unit={/[a-z]/i.test(bench.step) ? undefined : unit}
            value={bench.step}
            problem={problems.scale_step}
            onChange={(step) => setBench({ ...bench, step })}
          />
          <TextField
            label="No cup above"
            unit={/[a-z]/i.test(bench.cup) ? undefined : unit}
            value={bench.cup}
            problem={problems.largest_cup}
            onChange={(cup) => setBench({ ...bench, cup })}
          />
          <TextField
            label="Above the sea"
            unit={/[a-z]/i.test(bench.high) ? undefined : up}
            value={bench.high}
            problem={problems.above_sea}
            onChange={(high) => setBench({ ...bench, high })}
          />
        </div>
        <p className="text-soft">{shop.assumed}</p>
        <Button quiet onClick={() => void saveBench(shop.scale_unit)}>
          Keep the scale, the cups and the height
        </Button>
      </fieldset>
      <OneOf
        label="Theme of this screen"
        value={worn}
        choices={[
          { value: 'linen', name: 'Linen (light)' },
          { value: 'pitch', name: 'Pitch (dark)' },
        ]}
        onChange={(chosen) => {
          wear(chosen as Theme)
          setWorn(chosen as Theme)
        }}
      />
      <OneOf
        label="Alarms on this screen"
        value={sound}
        choices={[
          { value: 'on', name: 'Sound' },
          { value: 'off', name: 'Silent' },
        ]}
        onChange={(chosen) => {
          localStorage.setItem('sound', chosen)
          setSound(chosen)
        }}
      />
      <fieldset className="flex flex-col gap-2">
        <legend className="mb-1 text-soft">
          Working hours ({shop.zone}); empty is closed. Breaks and evenings: 9–12:30, 13–17
        </legend>
        <Week week={week} problems={problems} onChange={setWeek} />
        <Button onClick={() => void change({ week }).then(weekKept(week))}>Save the hours</Button>
      </fieldset>
      <fieldset className="flex flex-col gap-2">
        <legend className="mb-1 text-soft">Closed days: nobody works then</legend>
        <ul>
          {closed.map((one) => (
            <li key={one} className="flex items-center justify-between border-line border-t py-1">
              <ClosedDay day={one} />
              <Button quiet onClick={() => saveClosed(closed.filter((other) => other !== one))}>
                Open after all
              </Button>
            </li>
          ))}
        </ul>
        <div className="flex items-end gap-3">
          <DayField label="Another closed day" value={day} onChange={setDay} className="flex-1" />
          <Button
            quiet
            disabled={!day}
            onClick={() => {
              // What is no day stays in its field, which says so.
              if (!isDay(day)) return
              saveClosed([...new Set([...closed, day])].sort())
              setDay('')
            }}
          >
            Nobody works then
          </Button>
        </div>
      </fieldset>
      <section aria-label="Copies" className="flex flex-col gap-1">
        <h3 className="text-soft">Copies of the shop</h3>
        <p className="break-words">{shop.copies}</p>
        <a className="inline-flex min-h-11 items-center self-start underline" href="/api/v1/archive.zip">
          All of it as open files, to be read without Kite Loom
        </a>
      </section>
      <ButtonLink quiet to="/crew" onClick={onClose}>
        Crew and stations
      </ButtonLink>
      <ButtonLink quiet to="/irons" onClick={onClose}>
        Irons and their dials
      </ButtonLink>
      <p className="text-soft text-sm">
        Kite Loom computes and records; it approves nothing. The kit maker’s and material maker’s
        instructions, local rules and the licensed inspector decide.
      </p>
    </div>
  )
}

function ClosedDay({ day }: { day: string }) {
  const clock = useClock()
  return <span>{clock.dayYear(`${day}T12:00:00Z`)}</span>
}
