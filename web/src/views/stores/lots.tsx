import { useQuery } from '@tanstack/react-query'
import { clsx } from 'clsx'
import { useState } from 'react'
import { Link, useSearchParams } from 'react-router'
import { answer, client, newId, type SheetView } from '@/api/client'
import { useKeep } from '@/api/keep'
import { useWho } from '@/api/present'
import { useClock, useShow, useUnitOf } from '@/app/formats'
import { Button } from '@/ui/button'
import { DayField } from '@/ui/day-field'
import { LabelLink } from '@/ui/label-link'
import { Notice } from '@/ui/notice'
import { OneOf } from '@/ui/one-of'
import { Pick } from '@/ui/pick'
import { SideSheet } from '@/ui/side-sheet'
import { TextField } from '@/ui/text-field'

type Lot = SheetView['lots'][number]

/** What was received of a product, the lot to use first leading. */
export function Lots({ sheet }: { sheet: SheetView }) {
  const [receiving, setReceiving] = useState(false)
  const [params] = useSearchParams()
  const [open, setOpen] = useState(params.get('lot') ?? '')
  return (
    <section aria-label="Lots">
      <h2 className="font-semibold text-lg">Lots</h2>
      {sheet.lots.length === 0 && <p className="text-soft">None received yet.</p>}
      <ul>
        {sheet.lots.map((lot) => (
          <LotRow key={lot.id} lot={lot} onOpen={() => setOpen(lot.id)} />
        ))}
      </ul>
      <Button quiet className="mt-2" onClick={() => setReceiving(true)}>
        Receive a lot
      </Button>
      {receiving && <Receive sheet={sheet} onClose={() => setReceiving(false)} />}
      {open && <LotSheet id={open} onClose={() => setOpen('')} />}
    </section>
  )
}

function LotRow({ lot, onOpen }: { lot: Lot; onOpen: () => void }) {
  const clock = useClock()
  return (
    <li className="border-line border-t">
      <button type="button" onClick={onOpen} className="min-h-11 w-full py-1.5 text-left hover:underline">
        <span className={clsx('first-letter:uppercase', (lot.empty || lot.bad) && 'text-soft')}>
          {lot.words}
        </span>
        {lot.good_until && (
          <span className="block text-soft text-sm">
            good until {clock.dayYear(`${lot.good_until}T12:00Z`)}
          </span>
        )}
      </button>
      {lot.care && <p className="edge-care mb-1.5 bg-weld-wash px-2 py-0.5 text-sm">{lot.care}</p>}
    </li>
  )
}

/** What lots are weighed in is the scale's; all else is typed as it is shown. */
const typedAs = (measure: Lot['measure']) => (measure === 'mass' ? 'scale' : measure)

function Receive({ sheet, onClose }: { sheet: SheetView; onClose: () => void }) {
  const { keep, fields, says } = useKeep(['lot_number', 'amount', 'received_on', 'made_on', 'expires_on'])
  const unit = useUnitOf()(typedAs(sheet.measure))
  const [id] = useState(newId)
  const [lot, setLot] = useState({
    number: '',
    component: 'both',
    received: 'today', // by the shop's clock: the field reads it
    expires: '',
    made: '',
    amount: '',
  })
  const receive = async () => {
    const body = {
      id,
      sheet_id: sheet.id,
      lot_number: lot.number,
      component: lot.component,
      received_on: lot.received,
      expires_on: lot.expires || null,
      made_on: lot.made || null,
      amount: lot.amount.trim() ? { text: lot.amount, unit } : null,
    }
    if (await keep(() => answer(client.POST('/api/v1/lots', { body })))) onClose()
  }
  const put = (part: Partial<typeof lot>) => setLot({ ...lot, ...part })
  return (
    <SideSheet open onClose={onClose} title={`Received: ${sheet.name}`}>
      <div className="flex flex-col gap-4">
        <TextField
          label="Lot number, from the label"
          value={lot.number}
          problem={fields.lot_number}
          onChange={(number) => put({ number })}
        />
        {sheet.measure === 'mass' && (
          <OneOf
            label="It is of"
            value={lot.component}
            choices={[
              { value: 'both', name: 'Both' },
              { value: 'resin', name: 'Resin' },
              { value: 'hardener', name: 'Hardener' },
            ]}
            onChange={(component) => put({ component })}
          />
        )}
        <TextField
          label="How much"
          unit={unit}
          value={lot.amount}
          problem={fields.amount}
          onChange={(amount) => put({ amount })}
        />
        <DayField
          label="Came on"
          past
          value={lot.received}
          problem={fields.received_on}
          onChange={(received) => put({ received })}
        />
        <DayField
          label="Made on, if the label says: it keeps from then"
          past
          value={lot.made}
          problem={fields.made_on}
          onChange={(made) => put({ made })}
        />
        <DayField
          label="Expires, if the label says"
          value={lot.expires}
          problem={fields.expires_on}
          onChange={(expires) => put({ expires })}
        />
        {says && <Notice tone="stop">{says}</Notice>}
        <Button onClick={() => void receive()}>Put the lot on the shelf</Button>
      </div>
    </SideSheet>
  )
}

const DOING = {
  counted: 'Count',
  thrown: 'Thrown away',
  opened: 'Opened now',
  bad: 'Found bad',
  cleared: 'Cleared again',
  moved: 'Moved',
} as const
const NOBODY = 'nobody'

function LotSheet({ id, onClose }: { id: string; onClose: () => void }) {
  const { keep, busy, fields, says } = useKeep(['amount', 'note'])
  const clock = useClock()
  const show = useShow()
  const unitOf = useUnitOf()
  const [amount, setAmount] = useState('')
  const [note, setNote] = useState('')
  const [who, setWho] = useWho(NOBODY)
  const path = { params: { path: { lot_id: id } } }
  const trail = useQuery({
    queryKey: ['lot', id],
    queryFn: () => answer(client.GET('/api/v1/lots/{lot_id}', path)),
  }).data
  if (!trail) return null
  const unit = unitOf(typedAs(trail.lot.measure))
  const mark = async (kind: keyof typeof DOING, zone_id = '') => {
    const typed = kind === 'counted' || kind === 'thrown' ? { text: amount, unit } : null
    const crew_member_id = who === NOBODY ? null : who
    const kept = await keep(() =>
      answer(
        client.POST('/api/v1/lots/{lot_id}/notes', {
          ...path,
          body: { id: newId(), kind, note, amount: typed, crew_member_id, zone_id },
        }),
      ),
    )
    if (!kept) return
    // What was typed meanwhile is of the next note.
    setAmount((now) => (now === amount ? '' : now))
    setNote((now) => (now === note ? '' : now))
  }
  return (
    <SideSheet open onClose={onClose} title={`${trail.product}, lot ${trail.lot.lot_number}`}>
      <div className="flex flex-col gap-4">
        <Notice tone={trail.lot.bad ? 'stop' : 'wait'}>{trail.sentence}</Notice>
        {trail.lot.care && !trail.lot.bad && <Notice tone="care">{trail.lot.care}</Notice>}
        <p>
          {trail.lot.left === null
            ? 'How much came was not said.'
            : `By the book ${show(trail.lot.left, trail.lot.measure)} left.`}
          {trail.lot.good_until && ` Good until ${clock.dayYear(`${trail.lot.good_until}T12:00Z`)}.`}
        </p>
        <ul>
          {trail.touched.map((place) => (
            <li key={place.batch_id + place.part_id} className="border-line border-t py-1.5">
              <Link to={`/part/${place.part_id}/mix`} className="font-semibold hover:underline">
                {place.part}
              </Link>
              <span className="block text-soft text-sm">{place.words}</span>
            </li>
          ))}
        </ul>
        {trail.ledger.length > 0 && <p className="text-soft tabular-nums">{trail.ledger.join(', ')}.</p>}
        {trail.zones.length > 1 && (
          <Pick
            label="It stands in"
            value={trail.lot.zone_id}
            choices={trail.zones.map(({ id: value, name }) => ({ value, name }))}
            onChange={(zone) => void mark('moved', zone)}
          />
        )}
        <TextField
          label={trail.lot.measure === 'mass' ? 'Weighed: so much' : 'Counted: so much'}
          unit={unit}
          value={amount}
          problem={fields.amount}
          onChange={setAmount}
        />
        <div className="grid grid-cols-2 gap-3">
          <Pick
            label="By"
            value={who}
            choices={[
              { value: NOBODY, name: 'Nobody named' },
              ...trail.people.map(({ id: value, name }) => ({ value, name })),
            ]}
            onChange={setWho}
          />
          <TextField label="Why" value={note} problem={fields.note} onChange={setNote} />
        </div>
        {says && <Notice tone="stop">{says}</Notice>}
        <div className="flex flex-wrap gap-3">
          <Button quiet disabled={busy || !amount.trim()} onClick={() => void mark('counted')}>
            So much is left
          </Button>
          <Button quiet disabled={busy || !amount.trim()} onClick={() => void mark('thrown')}>
            {DOING.thrown}
          </Button>
        </div>
        <div className="flex flex-wrap gap-3">
          <Button quiet disabled={busy} onClick={() => void mark(trail.lot.bad ? 'cleared' : 'bad')}>
            {trail.lot.bad ? DOING.cleared : DOING.bad}
          </Button>
          {!trail.lot.opened_on && (
            <Button quiet disabled={busy} onClick={() => void mark('opened')}>
              {DOING.opened}
            </Button>
          )}
          <LabelLink kind="lot" ids={[id]} />
        </div>
      </div>
    </SideSheet>
  )
}
