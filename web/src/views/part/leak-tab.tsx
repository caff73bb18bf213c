import { useState } from 'react'
import { useRefresh } from '@/api/changes'
import { answer, client, newId, Problem } from '@/api/client'
import { useTank } from '@/api/questions'
import { useUnitOf } from '@/app/formats'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { TakeBack } from '@/ui/take-back'
import { TextField } from '@/ui/text-field'
import { LeakLine } from '@/weave/leak-line'

const NOTHING = { gauge: '', temperature: '', barometer: '' }
const TONE = { tight: 'ready', leaks: 'stop', reading: 'care' } as const
const VERDICT = { tight: 'It is tight.', leaks: 'It leaks.', reading: 'Not told yet.' }

/** A tank's leak test: gauge, its own temperature and the barometer, and what is missing beyond what its air explains. */
export function LeakTab({ partId }: { partId: string }) {
  const asked = useTank(partId)
  const view = asked.data
  const refresh = useRefresh()
  const unit = useUnitOf()
  const [id, setId] = useState(newId)
  const [typed, setTyped] = useState(NOTHING)
  const [problem, setProblem] = useState<Problem | null>(null)
  if (asked.error && !view) return <Notice tone="stop">{asked.error.message}</Notice>
  if (!view) return null
  const keep = async (begins: boolean) => {
    const said = (name: keyof typeof NOTHING, kind: string) => ({ text: typed[name], unit: unit(kind) })
    try {
      await answer(
        client.POST('/api/v1/parts/{part_id}/tank', {
          params: { path: { part_id: partId } },
          body: {
            id,
            begins,
            gauge: said('gauge', 'pressure'),
            temperature: said('temperature', 'temperature'),
            barometer: typed.barometer.trim() ? said('barometer', 'barometer') : null,
            note: '',
          },
        }),
      )
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      setProblem(error)
      return
    }
    setProblem(null)
    setTyped(NOTHING)
    setId(newId())
    await refresh()
  }
  const fields = problem?.fields ?? {}
  const typing = (name: keyof typeof NOTHING, label: string, kind: string) => (
    <TextField
      label={label}
      unit={unit(kind)}
      inputMode="decimal"
      value={typed[name]}
      problem={
        fields[name] ?? fields[name === 'gauge' ? 'gauge_kpa' : name === 'barometer' ? 'air_kpa' : 'temp_c']
      }
      onChange={(text) => setTyped({ ...typed, [name]: text })}
      className="w-40"
    />
  )
  const ready = typed.gauge.trim() && typed.temperature.trim()
  const begun = view.readings.length > 0
  return (
    <div className="flex flex-col gap-6">
      <p className="max-w-3xl text-lg">{view.asked}</p>
      {begun && (
        <Notice tone={TONE[view.verdict]}>
          <span className="font-semibold">{VERDICT[view.verdict]}</span> {view.says.join(' ')}
        </Notice>
      )}
      <div className="flex flex-wrap items-end gap-3">
        {typing('gauge', 'The gauge reads', 'pressure')}
        {typing('temperature', 'The tank itself', 'temperature')}
        {typing('barometer', 'The barometer', 'barometer')}
        <Button disabled={!ready} onClick={() => void keep(!begun)}>
          {begun ? 'Read again' : 'Pumped up now'}
        </Button>
        {begun && (
          <Button quiet disabled={!ready} onClick={() => void keep(true)}>
            Pumped up anew
          </Button>
        )}
      </div>
      {problem && Object.keys(fields).length === 0 && <Notice tone="stop">{problem.message}</Notice>}
      {begun && (
        <div className="flex flex-wrap items-start gap-x-10 gap-y-4">
          {view.readings.length > 1 && (
            <div className="min-w-72 max-w-2xl flex-1">
              <LeakLine view={view} />
              <p className="mt-1 text-soft">
                Dashed: what a tight tank reads with this air, and what may be missing below it. Drawn: what
                was read.
              </p>
            </div>
          )}
          <div className="overflow-x-auto">
            <table className="text-left">
              <thead className="text-soft">
                <tr>
                  {['When', 'Gauge', 'A tight one', 'Missing', 'Air'].map((name) => (
                    <th key={name} className="pr-5 font-normal">
                      {name}
                    </th>
                  ))}
                  <td />
                </tr>
              </thead>
              <tbody>
                {view.readings.map((row, n) => (
                  <tr key={row.id} className="border-line border-t tabular-nums">
                    <td className="pr-5">{row.words}</td>
                    <td className="whitespace-nowrap pr-5 font-semibold">{row.gauge}</td>
                    <td className="whitespace-nowrap pr-5">{n > 0 && row.expected}</td>
                    <td className="whitespace-nowrap pr-5 font-semibold">{n > 0 && row.missing}</td>
                    <td className="pr-5">{row.air}</td>
                    <td>
                      <TakeBack what="tank reading" of_id={row.id} of={row.words} />
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        </div>
      )}
      <p className="max-w-3xl text-soft text-sm">{view.caution}</p>
    </div>
  )
}
