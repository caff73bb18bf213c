import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { Progress } from 'radix-ui'
import { useEffect, useState } from 'react'
import { useRefresh } from '@/api/changes'
import { answer, client, type Preview, Problem, type ZoneView } from '@/api/client'
import { useShow } from '@/app/formats'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { OneOf } from '@/ui/one-of'
import { Pick } from '@/ui/pick'
import { Axis, TemperatureRibbon } from '@/weave/time-parts'
import { timeScale } from '@/weave/time-scale'
import { useWidth } from '@/weave/use-width'

export type Staged = { id: string; name: string; zone: string; text: string }
type Choices = {
  time?: number
  temp?: number
  humidity?: number
  unit?: Preview['unit']
  order?: Preview['order']
  clock?: Preview['clock']
}

type Props = { staged: Staged; zones: ZoneView[]; onDone: (words: string) => void }

/** A logger's file as it was understood; nothing of it is taken until it is said so. */
export function ImportPreview({ staged, zones, onDone }: Props) {
  const refresh = useRefresh()
  const [zone, setZone] = useState(staged.zone)
  const [choices, setChoices] = useState<Choices>({})
  const [both, setBoth] = useState<'keep' | 'replace'>('keep')
  const [taking, setTaking] = useState(false)
  const [problem, setProblem] = useState('')
  const [sent, setSent] = useState(false)
  const look = useQuery({
    queryKey: ['preview', staged.id, zone, choices, both],
    queryFn: async () => {
      const text = sent ? null : staged.text
      const got = await answer(
        client.POST('/api/v1/climate/previews', {
          body: { id: staged.id, name: staged.name, zone, text, choices, both },
        }),
      )
      setSent(true)
      return got
    },
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  })
  const view = look.data
  const take = async () => {
    setTaking(true)
    setProblem('')
    try {
      const got = await answer(
        client.POST('/api/v1/climate/imports', {
          body: { id: staged.id, name: staged.name, zone, choices, both, without_bad: true },
        }),
      )
      await refresh()
      onDone(got.words)
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      setProblem(error.message)
      setTaking(false)
    }
  }
  return (
    <div className="mx-auto flex max-w-6xl flex-col gap-5 p-6 max-sm:p-4">
      <div className="flex flex-wrap items-start justify-between gap-4">
        <div className="min-w-0 flex-1">
          <h1 className="font-semibold text-2xl">{staged.name}: is this right?</h1>
          <p className="text-lg" data-testid="preview">
            {look.isFetching && !view ? 'Reading the file…' : view?.sentence}
          </p>
        </div>
        <div className="flex gap-3">
          <Button quiet onClick={() => onDone('')} disabled={taking}>
            Leave it
          </Button>
          <Button onClick={take} disabled={!view || view.new === 0 || taking || look.isError}>
            {view && view.unread > 0 ? `Take it without ${view.unread} rows` : 'Take it'}
          </Button>
        </div>
      </div>
      {taking && <HowFar id={staged.id} />}
      {problem && <Notice tone="stop">{problem}</Notice>}
      {look.error && <Notice tone="stop">{look.error.message}</Notice>}
      {view && (
        <>
          {view.bad.length > 0 && (
            <Notice tone="stop">
              {view.unread} of {view.rows} rows can’t be read:
              <ul className="list-disc pl-5">
                {view.bad.map((words) => (
                  <li key={words}>{words}</li>
                ))}
              </ul>
            </Notice>
          )}
          {view.notes.length > 0 && (
            <Notice tone="care">
              <ul>
                {view.notes.map((words) => (
                  <li key={words}>{words}</li>
                ))}
              </ul>
            </Notice>
          )}
          {(view.differs || both === 'replace') && (
            <Notice tone="stop" className="flex flex-wrap items-end gap-4">
              <span className="min-w-64 flex-1">{view.differs}</span>
              <OneOf
                label="In those hours"
                value={both}
                choices={[
                  { value: 'keep', name: 'What is recorded stays' },
                  { value: 'replace', name: 'The file replaces it' },
                ]}
                onChange={(which) => setBoth(which as 'keep' | 'replace')}
              />
              <span className="w-full">
                Is it of another place? Choose its zone below; a zone of its own keeps two instruments apart.
              </span>
            </Notice>
          )}
          <Chart view={view} />
          <div className="grid gap-8 lg:grid-cols-[1fr_1.3fr]">
            <How
              view={view}
              zones={zones}
              zone={zone}
              onZone={setZone}
              choices={choices}
              onChoose={setChoices}
            />
            <Rows view={view} />
          </div>
        </>
      )}
    </div>
  )
}

type HowProps = {
  view: Preview
  zones: ZoneView[]
  zone: string
  onZone: (zone: string) => void
  choices: Choices
  onChoose: (choices: Choices) => void
}

/** Which column is what, and how it is meant; each can be said otherwise. */
function How({ view, zones, zone, onZone, choices, onChoose }: HowProps) {
  const columns = view.columns.map((c) => ({
    value: String(c.index),
    name: `${c.name} (${c.samples[0] ?? ''})`,
  }))
  const choose = (more: Choices) => onChoose({ ...choices, ...more })
  return (
    <section className="flex flex-col gap-4">
      <h2 className="font-semibold text-xl">How it is read</h2>
      <Pick
        label="For the zone"
        value={zone}
        choices={zones.map((z) => ({ value: z.id, name: z.name }))}
        onChange={onZone}
      />
      <Pick
        label="Time"
        value={String(view.time)}
        choices={columns}
        onChange={(c) => choose({ time: Number(c) })}
      />
      <Pick
        label="Temperature"
        value={String(view.temp)}
        choices={columns}
        onChange={(c) => choose({ temp: Number(c) })}
      />
      <Pick
        label="Humidity"
        value={String(view.humidity ?? -1)}
        choices={[{ value: '-1', name: 'none' }, ...columns]}
        onChange={(c) => choose({ humidity: Number(c) })}
      />
      <OneOf
        label="Temperatures are in"
        value={view.unit}
        choices={[
          { value: '°C', name: '°C' },
          { value: '°F', name: '°F' },
        ]}
        onChange={(unit) => choose({ unit: unit as Preview['unit'] })}
      />
      <OneOf
        label="Dates have"
        value={view.order}
        choices={(['year first', 'day first', 'month first'] as const).map((name) => ({ value: name, name }))}
        onChange={(order) => choose({ order: order as Preview['order'] })}
      />
      <OneOf
        label="Times are"
        value={view.clock}
        choices={[
          { value: 'shop', name: 'shop time' },
          { value: 'winter', name: 'always winter' },
          { value: 'utc', name: 'UTC' },
        ]}
        onChange={(clock) => choose({ clock: clock as Preview['clock'] })}
      />
    </section>
  )
}

/** The first and last rows as they were understood. */
function Rows({ view }: { view: Preview }) {
  const show = useShow()
  const row = (r: Preview['first'][number]) => (
    <tr key={r.at} className="border-line border-b">
      <td className="py-1.5 pr-4">{r.words}</td>
      <td className="py-1.5 pr-4 text-right">{show(r.c, 'temperature')}</td>
      <td className="py-1.5 text-right">{r.rh_pct === null ? '' : show(r.rh_pct, 'humidity')}</td>
    </tr>
  )
  return (
    <section className="flex flex-col gap-2">
      <h2 className="font-semibold text-xl">Its first and last rows, understood</h2>
      <table className="w-full">
        <tbody>
          {view.first.map(row)}
          {view.last.length > 0 && (
            <tr>
              <td className="py-1 text-soft" colSpan={3}>
                … {view.rows - view.first.length - view.last.length} more rows
              </td>
            </tr>
          )}
          {view.last.map(row)}
        </tbody>
      </table>
    </section>
  )
}

const RIBBON = 110

function Chart({ view }: { view: Preview }) {
  const { box, width } = useWidth<HTMLDivElement>(900)
  const [first, last] = [view.ribbon[0], view.ribbon[view.ribbon.length - 1]]
  if (!first || !last || first === last) return null
  const span = { start: first.at, end: last.at }
  const x = timeScale(span, width - 84)
  return (
    <div ref={box} className="border-2 border-line bg-panel">
      <svg width={width} height={RIBBON + 30} role="img" aria-label="The file's temperatures over time">
        <g transform="translate(76)">
          <Axis span={span} x={x} top={RIBBON} height={RIBBON + 30} />
          <TemperatureRibbon points={view.ribbon} recordedUntil={last.at} x={x} height={RIBBON} />
        </g>
      </svg>
    </div>
  )
}

/** How far a long file is; it can be stopped, and then nothing of it is taken. */
function HowFar({ id }: { id: string }) {
  const [stopping, setStopping] = useState(false)
  const path = { params: { path: { import_id: id } } }
  const far = useQuery({
    queryKey: ['far', id],
    queryFn: () => answer(client.GET('/api/v1/climate/imports/{import_id}/far', path)),
    refetchInterval: 250,
  })
  useEffect(() => {
    if (stopping)
      void client.POST('/api/v1/climate/imports/{import_id}/stop', { params: { path: { import_id: id } } })
  }, [stopping, id])
  const share = Math.round(100 * (far.data?.share ?? 0))
  return (
    <div className="flex items-center gap-4">
      <Progress.Root
        value={share}
        className="h-6 flex-1 overflow-hidden border-2 border-line bg-panel"
        aria-label="How far the file is"
      >
        <Progress.Indicator className="h-full bg-walnut" style={{ width: `${share}%` }} />
      </Progress.Root>
      <span className="w-64">{far.data?.words || 'Reading the file'}</span>
      <Button quiet onClick={() => setStopping(true)} disabled={stopping}>
        Stop
      </Button>
    </div>
  )
}
