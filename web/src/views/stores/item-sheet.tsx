import { useState } from 'react'
import { answer, client, type ItemRow, type ItemsView, newId } from '@/api/client'
import { useKeep } from '@/api/keep'
import { useWho } from '@/api/present'
import { useTimes } from '@/api/questions'
import { useUnitOf } from '@/app/formats'
import { typedNumber } from '@/app/typed-number'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { Pick } from '@/ui/pick'
import { SideSheet } from '@/ui/side-sheet'
import { TextField } from '@/ui/text-field'

type Props = { item: ItemRow | null; view: ItemsView; onClose: () => void }
const NOBODY = 'nobody'

/** One item: what it looks like, how many there are, which steps take it. */
export function ItemSheet({ item, view, onClose }: Props) {
  const typed = view.asked.filter((one) => one.choices.length === 0).map((one) => one.field)
  const { keep, fields, says } = useKeep(['name', 'place', ...typed])
  const [id] = useState(item?.id ?? newId)
  const [name, setName] = useState(item?.name ?? '')
  const [number, setNumber] = useState(item?.number ?? '')
  const [place, setPlace] = useState(item?.place ?? '')
  const [texts, setTexts] = useState<Record<string, string>>(item?.texts ?? {})
  const say = async (away: boolean) => {
    const body = {
      id,
      version: item?.version ?? 0,
      name,
      number,
      texts,
      kit: item?.kit ?? '',
      listed: item?.listed ?? null,
      away,
      place,
    }
    if (await keep(() => answer(client.POST('/api/v1/items', { body })))) onClose()
  }
  return (
    <SideSheet open onClose={onClose} title={item?.name ?? 'Another item'}>
      <div className="flex flex-col gap-4">
        {item && (
          <p>
            {item.left === 'none yet' ? 'None there yet' : `${item.left} there`}
            {item.place && `, ${item.place}`}. {item.checked && `${item.checked}.`}{' '}
            {item.care && <strong className="text-madder">{item.care}</strong>}
          </p>
        )}
        {item && <Count item={item} view={view} />}
        {item && <Uses item={item} view={view} />}
        <h3 className="border-line border-t pt-4 font-semibold text-lg">What it is</h3>
        <TextField label="Name" value={name} problem={fields.name} onChange={setName} />
        <div className="grid grid-cols-2 gap-3">
          <TextField label="Number" value={number} onChange={setNumber} />
          <TextField label="Where it lies" value={place} problem={fields.place} onChange={setPlace} />
        </div>
        <div className="grid grid-cols-2 gap-3">
          {view.asked.map((one) =>
            one.choices.length > 0 ? (
              <Pick
                key={one.field}
                label={one.label}
                value={texts[one.field] || 'unsaid'}
                choices={[
                  { value: 'unsaid', name: '–' },
                  ...one.choices.map((choice) => ({ value: choice, name: choice })),
                ]}
                onChange={(value) => setTexts({ ...texts, [one.field]: value === 'unsaid' ? '' : value })}
              />
            ) : (
              <TextField
                key={one.field}
                label={one.label}
                unit={one.unit}
                value={texts[one.field] ?? ''}
                problem={fields[one.field]}
                onChange={(text) => setTexts({ ...texts, [one.field]: text })}
              />
            ),
          )}
        </div>
        {says && <Notice tone="stop">{says}</Notice>}
        <div className="flex gap-2">
          <Button onClick={() => void say(false)}>Keep</Button>
          {item && (
            <Button quiet onClick={() => void say(true)}>
              Put away
            </Button>
          )}
        </div>
        {item && item.history.length > 0 && (
          <ul className="border-line border-t pt-3 text-soft">
            {item.history.map((words) => (
              <li key={words}>{words}</li>
            ))}
          </ul>
        )}
      </div>
    </SideSheet>
  )
}

const KINDS = [
  { value: 'counted', name: 'Counted: so many there are' },
  { value: 'found', name: 'Found' },
  { value: 'missing', name: 'Missing from the kit' },
  { value: 'damaged', name: 'Came damaged' },
  { value: 'thrown', name: 'Thrown away' },
  { value: 'used', name: 'Used besides its steps' },
]

function Count({ item, view }: { item: ItemRow; view: ItemsView }) {
  const { keep, fields, says } = useKeep(['amount', 'note'])
  const [id, setId] = useState(newId)
  const [kind, setKind] = useState('counted')
  const [amount, setAmount] = useState('')
  const [note, setNote] = useState('')
  const [who, setWho] = useWho(NOBODY)
  const say = async () => {
    const body = {
      id,
      kind,
      amount: typedNumber(amount),
      note,
      crew_member_id: who === NOBODY ? null : who,
    }
    const path = { params: { path: { item_id: item.id } } }
    if (!(await keep(() => answer(client.POST('/api/v1/items/{item_id}/notes', { ...path, body }))))) return
    setId(newId())
    setAmount('')
    setNote('')
  }
  return (
    <div className="grid grid-cols-2 gap-3 border-line border-t pt-4">
      <Pick label="What is noted" value={kind} choices={KINDS} onChange={setKind} />
      <TextField
        label="How many"
        inputMode="decimal"
        value={amount}
        problem={fields.amount}
        onChange={setAmount}
      />
      <Pick
        label="By"
        value={who}
        choices={[
          { value: NOBODY, name: 'Nobody named' },
          ...view.people.map(({ id: value, name }) => ({ value, name })),
        ]}
        onChange={setWho}
      />
      <TextField label="Why, or where" value={note} problem={fields.note} onChange={setNote} />
      {says && (
        <Notice tone="stop" className="col-span-2">
          {says}
        </Notice>
      )}
      <Button quiet disabled={!amount.trim()} className="col-span-2" onClick={() => void say()}>
        Note it
      </Button>
    </div>
  )
}

function Uses({ item, view }: { item: ItemRow; view: ItemsView }) {
  const { keep, fields, says } = useKeep(['count', 'stack'])
  const unit = useUnitOf()('reading')
  const [id, setId] = useState(newId)
  const [part, setPart] = useState('')
  const [step, setStep] = useState('')
  const [count, setCount] = useState('')
  const [stack, setStack] = useState('')
  const say = async (body: {
    id: string
    part_id: string
    step_key: string
    count: number
    stack: { text: string; unit: string } | null
    version: number
  }) => {
    const use = { ...body, item_id: item.id }
    if (!(await keep(() => answer(client.POST('/api/v1/items/uses', { body: use }))))) return
    setId(newId())
    setCount('')
    setStack('')
  }
  return (
    <div className="flex flex-col gap-3 border-line border-t pt-4">
      <h3 className="font-semibold text-lg">Steps that take it</h3>
      <ul>
        {item.uses.map((use) => (
          <li key={use.id} className="flex items-center justify-between gap-3 border-line border-t py-1">
            <span className={use.done ? 'text-soft' : ''}>
              {use.count} for {use.step}, {use.part}
              {use.stack && `, through ${use.stack}`}
              {use.done && ', done'}
            </span>
            {!use.done && (
              <Button quiet onClick={() => void say({ ...use, count: 0, stack: null })}>
                Drop
              </Button>
            )}
          </li>
        ))}
      </ul>
      <Pick
        label="Part"
        value={part}
        placeholder="Choose a part…"
        choices={view.parts.map(({ id: value, name }) => ({ value, name }))}
        onChange={(next) => {
          setPart(next)
          setStep('')
        }}
      />
      {part && <StepPick part={part} step={step} onChange={setStep} />}
      <div className="grid grid-cols-2 gap-3">
        <TextField
          label="How many it takes"
          inputMode="decimal"
          value={count}
          problem={fields.count}
          onChange={setCount}
        />
        <TextField
          label="A fastener goes through"
          unit={unit}
          value={stack}
          problem={fields.stack}
          onChange={setStack}
        />
      </div>
      {says && <Notice tone="stop">{says}</Notice>}
      <Button
        quiet
        disabled={!part || !step || !count.trim()}
        onClick={() =>
          void say({
            id,
            part_id: part,
            step_key: step,
            count: typedNumber(count),
            stack: stack.trim() ? { text: stack, unit } : null,
            version: 0,
          })
        }
      >
        This step takes it
      </Button>
    </div>
  )
}

function StepPick({
  part,
  step,
  onChange,
}: {
  part: string
  step: string
  onChange: (step: string) => void
}) {
  const times = useTimes(part, '')
  const steps = times.data?.steps ?? []
  return (
    <Pick
      label="Step"
      value={step}
      placeholder="Choose a step…"
      choices={steps.map(({ key: value, name }) => ({ value, name }))}
      onChange={onChange}
    />
  )
}
