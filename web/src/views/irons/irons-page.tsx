import { useState } from 'react'
import { useRefresh } from '@/api/changes'
import { answer, client, type IronView, newId, Problem } from '@/api/client'
import { useOnce } from '@/api/once'
import { useIrons } from '@/api/questions'
import { useUnitOf } from '@/app/formats'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { TakeBack } from '@/ui/take-back'
import { TextField } from '@/ui/text-field'
import { DialLine } from '@/weave/dial-line'

/** The shop's irons: each read with a thermometer, and where its dial stands for what cloths and tapes ask. */
export default function IronsPage() {
  const asked = useIrons()
  const view = asked.data
  if (asked.error && !view)
    return (
      <Notice tone="stop" className="m-6">
        {asked.error.message}
      </Notice>
    )
  if (!view) return null
  return (
    <div className="mx-auto flex max-w-5xl flex-col gap-8 p-6 max-sm:p-4">
      <header>
        <h1 className="font-semibold text-2xl">
          {view.irons.length === 0 ? 'No iron is here yet' : 'Irons and their dials'}
        </h1>
        <p className="max-w-3xl text-lg text-soft">
          Set the dial, wait until it is steady, read the sole with a thermometer; at two places at least,
          better four.
        </p>
      </header>
      {view.irons.map((iron) => (
        <Iron key={iron.id} iron={iron} />
      ))}
      <NewIron />
      <p className="text-soft text-sm">{view.caution}</p>
    </div>
  )
}

function Iron({ iron }: { iron: IronView }) {
  const refresh = useRefresh()
  const once = useOnce()
  const unit = useUnitOf()('temperature')
  const [id, setId] = useState(newId)
  const [typed, setTyped] = useState({ dial: '', reads: '' })
  const [problem, setProblem] = useState<Problem | null>(null)
  const keep = async () => {
    try {
      const body = {
        id,
        dial: { text: typed.dial, unit: '' },
        reads: { text: typed.reads, unit },
      }
      await answer(
        client.POST('/api/v1/irons/{iron_id}/readings', { params: { path: { iron_id: iron.id } }, body }),
      )
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      setProblem(error)
      return
    }
    setProblem(null)
    setTyped({ dial: '', reads: '' })
    setId(newId())
    void refresh()
  }
  const putAway = async () => {
    const { version, name } = iron
    try {
      await answer(client.POST('/api/v1/irons', { body: { id: iron.id, version, name, hidden: true } }))
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      setProblem(error)
      return
    }
    await refresh()
  }
  return (
    <section aria-label={iron.name} className="flex flex-col gap-4 border-line border-t-2 pt-4">
      <div className="flex flex-wrap items-start justify-between gap-3">
        <div>
          <h2 className="font-semibold text-xl">{iron.name}</h2>
          <p>{iron.sentence}</p>
        </div>
        <Button quiet onClick={() => void putAway()}>
          Put it away
        </Button>
      </div>
      <div className="flex flex-wrap items-start gap-x-10 gap-y-4">
        {iron.line.length > 0 && <DialLine iron={iron} />}
        <ul className="flex min-w-64 flex-col">
          {iron.readings.map((one) => (
            <li key={one.id} className="flex items-center justify-between gap-4 border-line border-b">
              <span className="tabular-nums">{one.words}</span>
              <TakeBack what="iron reading" of_id={one.id} of={one.words} />
            </li>
          ))}
        </ul>
      </div>
      <div className="flex flex-wrap items-end gap-3">
        <TextField
          label="The dial stands at"
          inputMode="decimal"
          value={typed.dial}
          problem={problem?.fields.dial}
          onChange={(dial) => setTyped({ ...typed, dial })}
          className="w-44"
        />
        <TextField
          label="The thermometer reads"
          unit={unit}
          inputMode="decimal"
          value={typed.reads}
          problem={problem?.fields.reads}
          onChange={(reads) => setTyped({ ...typed, reads })}
          className="w-52"
        />
        <Button
          disabled={!typed.dial.trim() || !typed.reads.trim()}
          onClick={() => void once('reading', keep)}
        >
          Keep this reading
        </Button>
      </div>
      {problem && !problem.fields.dial && !problem.fields.reads && (
        <Notice tone="stop">{problem.message}</Notice>
      )}
      {iron.asked.length > 0 && (
        <table className="max-w-3xl text-left">
          <thead className="text-soft">
            <tr>
              <th className="pr-4 font-normal">For</th>
              <th className="pr-4 font-normal">asked</th>
              <th className="font-normal">this iron</th>
            </tr>
          </thead>
          <tbody>
            {iron.asked.map((one) => (
              <tr key={one.product + one.what} className="border-line border-t align-baseline">
                <td className="py-1.5 pr-4">
                  {one.product}, {one.what}
                </td>
                <td className="whitespace-nowrap pr-4 tabular-nums">{one.temperature}</td>
                <td className={one.limit ? 'font-semibold text-madder' : 'font-semibold'}>{one.dial}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  )
}

function NewIron() {
  const refresh = useRefresh()
  const [id, setId] = useState(newId)
  const [name, setName] = useState('')
  const [problem, setProblem] = useState('')
  const keep = async () => {
    try {
      await answer(client.POST('/api/v1/irons', { body: { id, version: 0, name, hidden: false } }))
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      setProblem(error.message)
      return
    }
    setProblem('')
    setName('')
    setId(newId())
    await refresh()
  }
  return (
    <div className="flex flex-wrap items-end gap-3 border-line border-t-2 pt-4">
      <TextField
        label="Another iron"
        value={name}
        problem={problem || undefined}
        onChange={setName}
        className="w-72"
      />
      <Button quiet disabled={!name.trim()} onClick={() => void keep()}>
        It is here
      </Button>
    </div>
  )
}
