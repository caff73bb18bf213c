import { useState } from 'react'
import { useRefresh } from '@/api/changes'
import { answer, client, Problem } from '@/api/client'
import { useOrders } from '@/api/questions'
import { typedNumber } from '@/app/typed-number'
import { Button } from '@/ui/button'
import { SideSheet } from '@/ui/side-sheet'
import { TextField } from '@/ui/text-field'

/** The shop's currency, and how many days sooner than by its lead alone it orders. */
export function Buying() {
  const view = useOrders().data
  const [open, setOpen] = useState(false)
  if (!view) return null
  return (
    <>
      <Button quiet onClick={() => setOpen(true)}>
        {view.currency}, {view.margin_days} days early…
      </Button>
      {open && (
        <Say
          version={view.shop_version}
          currency={view.currency}
          days={view.margin_days}
          onClose={() => setOpen(false)}
        />
      )}
    </>
  )
}

type Props = { version: number; currency: string; days: number; onClose: () => void }

function Say({ version, currency, days, onClose }: Props) {
  const refresh = useRefresh()
  const [money, setMoney] = useState(currency)
  const [early, setEarly] = useState(String(days))
  const [problem, setProblem] = useState<Problem | null>(null)
  const keep = async () => {
    const body = { version, currency: money, margin_days: typedNumber(early) }
    try {
      await answer(client.PATCH('/api/v1/buying', { body }))
      await refresh()
      onClose()
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      setProblem(error)
    }
  }
  return (
    <SideSheet open onClose={onClose} title="How the shop buys">
      <div className="flex flex-col gap-4">
        <TextField
          label="Ways to buy are compared in"
          value={money}
          problem={problem?.fields.currency}
          onChange={setMoney}
        />
        <TextField
          label="Ordered sooner than its lead alone by"
          unit="days"
          inputMode="numeric"
          value={early}
          problem={problem?.fields.margin_days ?? (problem ? problem.message : undefined)}
          onChange={setEarly}
        />
        <p className="text-soft">
          Prices in another currency are shown, and not compared: nobody here knows the rate.
        </p>
        <Button onClick={() => void keep()}>Keep</Button>
      </div>
    </SideSheet>
  )
}
