import { useState } from 'react'
import { Link } from 'react-router'
import { answer, client, newId } from '@/api/client'
import { useKeep } from '@/api/keep'
import { useItems } from '@/api/questions'
import { useUnitOf } from '@/app/formats'
import { typedNumber } from '@/app/typed-number'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { Pick } from '@/ui/pick'
import { TextField } from '@/ui/text-field'

type Props = { partId: string; stepKey: string }

/** What a step takes that is not mixed: so many of an item, and whether they are there. */
export function StepItems({ partId, stepKey }: Props) {
  const items = useItems().data?.items ?? []
  const [adding, setAdding] = useState(false)
  const mine = items.flatMap((item) =>
    item.uses
      .filter((use) => use.part_id === partId && use.step_key === stepKey)
      .map((use) => ({ item, use })),
  )
  if (items.length === 0) return null
  return (
    <section aria-label="What it takes that is not mixed" className="flex flex-col gap-2">
      {mine.map(({ item, use }) => (
        <p key={use.id}>
          <Link to={`/stores/items?item=${item.id}`} className="underline">
            Takes {use.count} × {item.name}
          </Link>
          <span className="text-soft">
            {' '}
            · {item.left === 'none yet' ? 'none there yet' : `${item.left} there`}
            {item.place && `, ${item.place}`}
          </span>
        </p>
      ))}
      {adding ? (
        <Add partId={partId} stepKey={stepKey} onDone={() => setAdding(false)} />
      ) : (
        <Button quiet className="self-start" onClick={() => setAdding(true)}>
          Takes an item…
        </Button>
      )}
    </section>
  )
}

function Add({ partId, stepKey, onDone }: Props & { onDone: () => void }) {
  const { keep, fields, says } = useKeep(['count', 'stack'])
  const unit = useUnitOf()('reading')
  const items = useItems().data?.items ?? []
  const [id] = useState(newId)
  const [item, setItem] = useState('')
  const [count, setCount] = useState('')
  const [stack, setStack] = useState('')
  const say = async () => {
    const body = {
      id,
      item_id: item,
      part_id: partId,
      step_key: stepKey,
      count: typedNumber(count),
      stack: stack.trim() ? { text: stack, unit } : null,
      version: 0,
    }
    if (await keep(() => answer(client.POST('/api/v1/items/uses', { body })))) onDone()
  }
  return (
    <div className="flex flex-wrap items-end gap-3">
      <div className="w-64">
        <Pick
          label="Item"
          value={item}
          placeholder="Choose…"
          choices={items.map(({ id: value, name }) => ({ value, name }))}
          onChange={setItem}
        />
      </div>
      <TextField
        label="How many"
        inputMode="decimal"
        value={count}
        problem={fields.count}
        onChange={setCount}
        className="w-28"
      />
      <TextField
        label="Goes through, a fastener"
        unit={unit}
        value={stack}
        problem={fields.stack}
        onChange={setStack}
        className="w-48"
      />
      <Button disabled={!item || !count.trim()} onClick={() => void say()}>
        It takes them
      </Button>
      {says && <Notice tone="stop">{says}</Notice>}
    </div>
  )
}
