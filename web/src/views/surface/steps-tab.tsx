import { useRef, useState } from 'react'
import { answer, client, newId, type StepView } from '@/api/client'
import { useEdit } from '@/api/edit'
import { useTimes } from '@/api/questions'
import { useUnitOf } from '@/app/formats'
import { Button } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { FigureValue } from '@/ui/figure'
import { Notice } from '@/ui/notice'
import { TextField } from '@/ui/text-field'
import { TimeLine } from '@/weave/time-line'

export function StepsTab({ surfaceId }: { surfaceId: string; side: 'upper' | 'lower' }) {
  const [start, setStart] = useState('')
  const [picked, setPicked] = useState('')
  const times = useTimes(surfaceId, start)
  const view = times.data
  const chosen =
    view?.steps.find((step) => step.key === picked) ??
    view?.steps.find((step) => step.knots.length > 0) ??
    view?.steps[0]
  return (
    <div className="flex flex-col gap-5">
      {times.error && <Notice tone="stop">{times.error.message}</Notice>}
      {view?.sentence && <p className="text-xl">{view.sentence}</p>}
      {view?.ask && <Notice tone="care">{view.ask}</Notice>}
      {view?.span && <TimeLine view={view} picked={chosen?.key ?? ''} onPick={setPicked} />}
      {view?.left.map((left) => (
        <Notice key={left.key} tone="stop">
          <span className="font-semibold">{left.name}</span> is left out: {left.why}.
        </Notice>
      ))}
      <div className="grid gap-8 lg:grid-cols-[1.5fr_1fr]">
        {chosen ? <StepDetail step={chosen} /> : <div />}
        <div className="flex flex-col gap-6">
          <section className="flex flex-col gap-2">
            <h2 className="font-semibold text-xl">Start</h2>
            <div className="flex items-end gap-3">
              <label className="flex flex-1 flex-col gap-1">
                <span className="text-soft">Nothing begins before (shop time)</span>
                <input
                  type="datetime-local"
                  value={start}
                  onChange={(event) => setStart(event.target.value)}
                  className="h-11 border-2 border-line bg-panel px-3"
                />
              </label>
              <Button quiet onClick={() => setStart('')} disabled={!start}>
                Now
              </Button>
            </div>
          </section>
          <Temperature words={view?.temperature ?? ''} />
        </div>
      </div>
    </div>
  )
}

function StepDetail({ step }: { step: StepView }) {
  return (
    <section className="flex flex-col gap-2">
      <h2 className="font-semibold text-xl">{step.name}</h2>
      <p>{step.words}</p>
      {!step.done && <p className="text-soft">{step.why}</p>}
      {!step.done && <p className="text-soft text-sm">Hands-on, assumed: {step.estimate}.</p>}
      {step.caution && (
        <p className="text-sm">
          <span className="font-semibold">Take care:</span> {step.caution} The maker’s instructions decide.
        </p>
      )}
      {step.knots.length > 0 && (
        <table className="mt-1 w-full">
          <tbody>
            {step.knots.map((knot) => (
              <tr key={knot.name} className="border-line border-b">
                <th className="py-1 pr-4 text-left font-semibold capitalize">{knot.name}</th>
                <td className="py-1 pr-4">{knot.words}</td>
                <td className="whitespace-nowrap py-1 text-right">
                  <FigureValue figure={knot.figure} bare />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {step.stalled && <Notice tone="care">{step.stalled}</Notice>}
      {step.knots.length > 0 && (
        <p className="text-soft text-sm">
          “Check from”, not “done at”: a thumbnail or hardness reading on the kept cup releases the part.
        </p>
      )}
    </section>
  )
}

/** Tonight's low and tomorrow's high, or a logger's file. */
function Temperature({ words }: { words: string }) {
  const unit = useUnitOf()('temperature')
  const edit = useEdit(0)
  const file = useRef<HTMLInputElement>(null)
  const [low, setLow] = useState('')
  const [high, setHigh] = useState('')
  const [said, setSaid] = useState('')
  const sayOutlook = async () => {
    setSaid('')
    const kept = await edit.save(() =>
      answer(
        client.POST('/api/v1/climate/outlooks', {
          body: { id: newId(), low: { text: low, unit }, high: { text: high, unit } },
        }),
      ),
    )
    if (kept) {
      setLow('')
      setHigh('')
    }
  }
  const load = async (chosen: File) => {
    setSaid('')
    const text = await chosen.text()
    await edit.save(async () => {
      const got = await answer(
        client.POST('/api/v1/climate/imports', { body: { id: newId(), name: chosen.name, text } }),
      )
      setSaid(got.words)
    })
  }
  return (
    <section className="flex flex-col gap-2">
      <h2 className="font-semibold text-xl">Shop temperature</h2>
      {words && <p className="text-soft text-sm">{words}</p>}
      <div className="grid grid-cols-[1fr_1fr_auto] items-end gap-3">
        <TextField label="Tonight’s low" unit={unit} value={low} onChange={setLow} />
        <TextField label="Tomorrow’s high" unit={unit} value={high} onChange={setHigh} />
        <Button onClick={sayOutlook}>Use</Button>
      </div>
      <EditProblem edit={edit} />
      <Button quiet onClick={() => file.current?.click()}>
        Load a logger’s file (CSV)…
      </Button>
      <input
        ref={file}
        type="file"
        accept=".csv,.txt"
        aria-label="Logger file"
        className="sr-only"
        tabIndex={-1}
        onChange={(event) => {
          const chosen = event.target.files?.[0]
          event.target.value = ''
          if (chosen) void load(chosen)
        }}
      />
      {said && <Notice tone="ready">{said}</Notice>}
    </section>
  )
}
