import { type ReactNode, useState } from 'react'
import { answer, client, newId, type OrderRow, type OrdersView } from '@/api/client'
import { useKeep } from '@/api/keep'
import { meNow } from '@/api/present'
import { useUnitOf } from '@/app/formats'
import { typedNumber } from '@/app/typed-number'
import { Button } from '@/ui/button'
import { DayField } from '@/ui/day-field'
import { Notice } from '@/ui/notice'
import { Pick } from '@/ui/pick'
import { SideSheet } from '@/ui/side-sheet'
import { TextField } from '@/ui/text-field'

type Props = { order: OrderRow; view: OrdersView; onClose: () => void; children: ReactNode }
const NOBODY = 'nobody'

/** What came of an order: how many packs, what stands on the bag; questioned by what was ordered and what steps need. */
export function Arrival({ order, view, onClose, children }: Props) {
  const bag = order.is_item ? written(view.asked) : ['lot_number', 'expires_on']
  const { keep, fields, says } = useKeep([...bag, 'packs', 'each', 'note', 'expected_on'])
  const unitOf = useUnitOf()
  const [id, setId] = useState(newId)
  const unit = order.measure === 'count' ? '' : unitOf(order.measure)
  // What had come when this was opened: whoever else notes the same parcel meanwhile is told.
  const [known] = useState(order.noted)
  const [typed, setTyped] = useState({
    packs: String(order.to_come || ''),
    lot: '',
    expires: '',
    note: '',
    who: meNow()?.id || NOBODY,
    each: '',
    day: order.expected_on ?? '',
  })
  const [texts, setTexts] = useState<Record<string, string>>({})
  const [odd, setOdd] = useState<string[] | null>(null)
  const put = (part: Partial<typeof typed>) => {
    setTyped({ ...typed, ...part })
    setOdd(null)
  }
  const order_ = (kind: 'received' | 'wrong' | 'ordered', sure: boolean) => ({
    id,
    kind,
    packs: kind === 'ordered' ? 0 : typedNumber(typed.packs),
    expected_on: kind === 'ordered' ? typed.day || null : null,
    note: typed.note || (kind === 'wrong' ? (odd ?? []).join(' ') : ''),
    crew_member_id: typed.who === NOBODY ? null : typed.who,
    texts,
    lot_number: typed.lot,
    expires_on: typed.expires || null,
    known,
    sure,
    each: typed.each.trim() ? { text: typed.each, unit } : null,
  })
  const path = { params: { path: { line_id: order.id } } }
  const send = async (kind: 'received' | 'wrong' | 'ordered', sure = false) => {
    const body = order_(kind, sure)
    let questions: string[] = []
    const kept = await keep(async () => {
      if (kind === 'received' && !sure)
        questions = (await answer(client.POST('/api/v1/orders/{line_id}/look', { ...path, body }))).odd
      setOdd(questions)
      if (questions.length === 0)
        await answer(client.POST('/api/v1/orders/{line_id}/notes', { ...path, body }))
    })
    if (!kept || questions.length > 0) return
    setId(newId())
    onClose()
  }
  const awaited = order.to_come > 0
  return (
    <SideSheet open onClose={onClose} title={order.name}>
      <div className="flex flex-col gap-4">
        <p>
          {order.packs}, {order.supplier}, {order.price}. {order.words}.
        </p>
        {awaited && (
          <>
            <h3 className="font-semibold text-lg">It came</h3>
            <div className="grid grid-cols-2 gap-3">
              <TextField
                label={`Packs, of ${order.to_come} still to come`}
                inputMode="numeric"
                value={typed.packs}
                problem={fields.packs}
                onChange={(packs) => put({ packs })}
              />
              <TextField
                label={`Each of ${order.each} holds`}
                unit={unit}
                value={typed.each}
                problem={fields.each}
                onChange={(each) => put({ each })}
              />
            </div>
            {order.is_item ? (
              <OnTheBag
                asked={view.asked}
                texts={texts}
                fields={fields}
                onChange={(next) => {
                  setTexts(next)
                  setOdd(null)
                }}
              />
            ) : (
              <div className="grid grid-cols-2 gap-3">
                <TextField
                  label="Lot number"
                  value={typed.lot}
                  problem={fields.lot_number}
                  onChange={(lot) => put({ lot })}
                />
                <DayField
                  label="Expires"
                  value={typed.expires}
                  problem={fields.expires_on}
                  onChange={(expires) => put({ expires })}
                />
              </div>
            )}
            <Pick
              label="Taken in by"
              value={typed.who}
              choices={[
                { value: NOBODY, name: 'Nobody named' },
                ...view.people.map(({ id: value, name }) => ({ value, name })),
              ]}
              onChange={(who) => put({ who })}
            />
            <TextField
              label="A note"
              value={typed.note}
              problem={fields.note}
              onChange={(note) => put({ note })}
            />
            {odd && odd.length > 0 && (
              <Notice tone="stop">
                {odd.map((words) => (
                  <span key={words} className="block">
                    {words}
                  </span>
                ))}
              </Notice>
            )}
            {says && <Notice tone="stop">{says}</Notice>}
            {odd && odd.length > 0 ? (
              <div className="flex flex-wrap gap-2">
                <Button onClick={() => void send('wrong')}>It is wrong</Button>
                <Button quiet onClick={() => void send('received', true)}>
                  It is right after all
                </Button>
              </div>
            ) : (
              <div className="flex flex-wrap gap-2">
                <Button onClick={() => void send('received')}>It came</Button>
                <Button quiet onClick={() => void send('wrong')}>
                  It is wrong
                </Button>
              </div>
            )}
            <div className="flex flex-wrap items-end gap-3 border-line border-t pt-4">
              <DayField
                label="Awaited on"
                value={typed.day}
                problem={fields.expected_on}
                onChange={(day) => put({ day })}
                className="w-44"
              />
              <Button quiet disabled={!typed.day} onClick={() => void send('ordered')}>
                Keep that day
              </Button>
            </div>
          </>
        )}
        {children}
        {order.history.length > 0 && (
          <ul className="border-line border-t pt-3 text-soft">
            {order.history.map((words) => (
              <li key={words}>{words}</li>
            ))}
          </ul>
        )}
      </div>
    </SideSheet>
  )
}

/** Those that are typed, so that a problem stands beside them. */
const written = (asked: OrdersView['asked']) =>
  asked.filter((one) => one.choices.length === 0).map((one) => one.field)

type Bag = {
  asked: OrdersView['asked']
  texts: Record<string, string>
  fields: Record<string, string>
  onChange: (texts: Record<string, string>) => void
}

/** What is read off the bag. What is left empty is not compared. */
function OnTheBag({ asked, texts, fields, onChange }: Bag) {
  return (
    <fieldset className="grid grid-cols-2 gap-3">
      <legend className="mb-1 text-soft">What the bag says; empty is not compared</legend>
      {asked.map((one) =>
        one.choices.length > 0 ? (
          <Pick
            key={one.field}
            label={one.label}
            value={texts[one.field] || 'unsaid'}
            choices={[{ value: 'unsaid', name: '–' }, ...one.choices.map((name) => ({ value: name, name }))]}
            onChange={(value) => onChange({ ...texts, [one.field]: value === 'unsaid' ? '' : value })}
          />
        ) : (
          <TextField
            key={one.field}
            label={one.label}
            unit={one.unit}
            value={texts[one.field] ?? ''}
            problem={fields[one.field]}
            onChange={(text) => onChange({ ...texts, [one.field]: text })}
          />
        ),
      )}
    </fieldset>
  )
}
