import { useState } from 'react'
import { answer, client } from '@/api/client'
import { useKeep } from '@/api/keep'
import { useOrders } from '@/api/questions'
import { typedNumber } from '@/app/typed-number'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { SideSheet } from '@/ui/side-sheet'
import { TextField } from '@/ui/text-field'

/** The shop's currency, and how many days sooner than by its lead alone it orders, and for how many days at once. */
export function Buying() {
  const view = useOrders().data
  const [open, setOpen] = useState(false)
  if (!view) return null
  return (
    <>
      <Button quiet onClick={() => setOpen(true)}>
        {view.currency}, {view.margin_days} days early, for {view.ahead_days} days…
      </Button>
      {open && (
        <Say
          version={view.shop_version}
          currency={view.currency}
          days={view.margin_days}
          ahead={view.ahead_days}
          onClose={() => setOpen(false)}
        />
      )}
    </>
  )
}

type Props = { version: number; currency: string; days: number; ahead: number; onClose: () => void }

function Say({ version, currency, days, ahead, onClose }: Props) {
  const { keep, fields, says } = useKeep(['currency', 'margin_days', 'ahead_days'])
  const [money, setMoney] = useState(currency)
  const [early, setEarly] = useState(String(days))
  const [through, setThrough] = useState(String(ahead))
  const say = async () => {
    const body = {
      version,
      currency: money,
      margin_days: typedNumber(early),
      ahead_days: typedNumber(through),
    }
    if (await keep(() => answer(client.PATCH('/api/v1/buying', { body })))) onClose()
  }
  return (
    <SideSheet open onClose={onClose} title="How the shop buys">
      <div className="flex flex-col gap-4">
        <TextField
          label="Ways to buy are compared in"
          value={money}
          problem={fields.currency}
          onChange={setMoney}
        />
        <TextField
          label="Ordered sooner than its lead alone by"
          unit="days"
          inputMode="numeric"
          value={early}
          problem={fields.margin_days}
          onChange={setEarly}
        />
        <TextField
          label="What is wanted within so long is bought at once"
          unit="days"
          inputMode="numeric"
          value={through}
          problem={fields.ahead_days}
          onChange={setThrough}
        />
        {says && <Notice tone="stop">{says}</Notice>}
        <p className="text-soft">
          Prices in another currency are shown, and not compared: nobody here knows the rate.
        </p>
        <Button onClick={() => void say()}>Keep</Button>
      </div>
    </SideSheet>
  )
}
