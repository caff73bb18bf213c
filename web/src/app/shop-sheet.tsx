import { useState } from 'react'
import { answer, client, type Shop } from '@/api/client'
import { useEdit } from '@/api/edit'
import { useShop } from '@/api/questions'
import { Button, ButtonLink } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { OneOf } from '@/ui/one-of'
import { SideSheet } from '@/ui/side-sheet'
import { TextField } from '@/ui/text-field'
import { type Theme, theme, wear } from './theme'

const DAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday']

/** Units, theme and working hours. */
export function ShopSheet({ open, onClose }: { open: boolean; onClose: () => void }) {
  const shop = useShop().data
  return (
    <SideSheet open={open} onClose={onClose} title={shop?.name || 'The shop'}>
      {shop && <Settings key={shop.version} shop={shop} onClose={onClose} />}
    </SideSheet>
  )
}

type Hours = { opens: string; closes: string }

function Settings({ shop, onClose }: { shop: Shop; onClose: () => void }) {
  const edit = useEdit(shop.version)
  const [sound, setSound] = useState(localStorage.getItem('sound') ?? 'on')
  const [worn, setWorn] = useState<Theme>(theme())
  const [hours, setHours] = useState<Hours[]>(
    DAYS.map((_, day) => shop.hours.find((h) => h.weekday === day) ?? { opens: '', closes: '' }),
  )
  const saveHours = () =>
    edit.save((version) =>
      answer(
        client.PATCH('/api/v1/shop', {
          body: {
            version,
            hours: hours
              .map((h, weekday) => ({ weekday, opens: h.opens, closes: h.closes }))
              .filter((h) => h.opens.trim() || h.closes.trim()),
          },
        }),
      ),
    )
  const change = (day: number, part: Partial<Hours>) =>
    setHours(hours.map((h, i) => (i === day ? { ...h, ...part } : h)))
  return (
    <div className="flex flex-col gap-6">
      <EditProblem edit={edit} />
      <OneOf
        label="Units"
        value={shop.units}
        choices={[
          { value: 'metric', name: 'Metric' },
          { value: 'us', name: 'US' },
        ]}
        onChange={(units) =>
          edit.save((version) => answer(client.PATCH('/api/v1/shop', { body: { version, units } })))
        }
      />
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
        <legend className="mb-1 text-soft">Working hours ({shop.zone}); empty is closed</legend>
        {DAYS.map((name, day) => (
          <div key={name} className="grid grid-cols-[1fr_6rem_6rem] items-center gap-2">
            <span>{name}</span>
            <TextField
              aria-label={`${name} opens`}
              value={hours[day]?.opens ?? ''}
              onChange={(opens) => change(day, { opens })}
            />
            <TextField
              aria-label={`${name} closes`}
              value={hours[day]?.closes ?? ''}
              onChange={(closes) => change(day, { closes })}
            />
          </div>
        ))}
        <Button onClick={saveHours}>Save the hours</Button>
      </fieldset>
      <ButtonLink quiet to="/crew" onClick={onClose}>
        Crew and stations
      </ButtonLink>
      <p className="text-soft text-sm">
        Kite Loom computes and records; it approves nothing. The kit maker’s and material maker’s
        instructions, local rules and the licensed inspector decide.
      </p>
    </div>
  )
}
