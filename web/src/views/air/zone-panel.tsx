import { scaleLinear } from '@visx/scale'
import { LinePath } from '@visx/shape'
import { useRef, useState } from 'react'
import { answer, client, type Learnt, newId, Problem, type ZoneView } from '@/api/client'
import { useEdit } from '@/api/edit'
import { useShow, useShownAs, useUnitOf } from '@/app/formats'
import { Button } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { Notice } from '@/ui/notice'
import { OneOf } from '@/ui/one-of'
import { SavedField } from '@/ui/saved-field'
import { TextField } from '@/ui/text-field'
import { Axis, type Degrees, Nights, NowLine, type Scale } from '@/weave/time-parts'
import { ms, timeScale } from '@/weave/time-scale'
import { useWidth } from '@/weave/use-width'
import type { Staged } from './import-preview'

type Props = { zone: ZoneView; now: string; onFile: (staged: Staged) => void }

/** One zone: now, two days behind and five ahead, its heater, and what a builder knows of the night. */
export function ZonePanel({ zone, now, onFile }: Props) {
  const show = useShow()
  const edit = useEdit(zone.version)
  const file = useRef<HTMLInputElement>(null)
  const save = (field: string, unit: string) => (text: string) =>
    edit.save((version) =>
      answer(
        client.PATCH('/api/v1/climate/zones/{zone_id}', {
          params: { path: { zone_id: zone.id } },
          body: { version, fields: { [field]: { text, unit } } },
        }),
      ),
    )
  return (
    <section className="flex flex-col gap-4 bg-panel px-5 py-4 max-sm:px-3">
      <div className="flex flex-wrap items-baseline gap-x-6 gap-y-1">
        <h2 className="font-semibold text-xl">{zone.name}</h2>
        {zone.temp_c !== null && (
          <p>
            <span className="font-semibold">{show(zone.temp_c, 'temperature')}</span>
            {zone.rh_pct !== null && ` · ${show(zone.rh_pct, 'humidity')}`}
            {zone.wood && ` · ${zone.wood}`}
            {zone.margin_k !== null && ` · ${show(zone.margin_k, 'difference')} above its dew point`}
          </p>
        )}
        <p className="basis-full text-soft text-sm">{zone.words}</p>
      </div>
      {zone.ribbon.length > 1 && <AirChart zone={zone} now={now} />}
      <div className="grid grid-cols-2 gap-3 sm:grid-cols-3 xl:grid-cols-6">
        {zone.fields.map((field) => (
          <SavedField
            key={field.field}
            label={field.label}
            saved={field.text}
            problem={edit.problem?.fields[field.field]}
            onSave={save(field.field, field.unit)}
            className="justify-end"
          />
        ))}
      </div>
      <EditProblem edit={edit} shownInFields={zone.fields.map((field) => field.field)} />
      <LearnFromRecord
        zone={zone.id}
        onUse={(fields) =>
          edit.save((version) =>
            answer(
              client.PATCH('/api/v1/climate/zones/{zone_id}', {
                params: { path: { zone_id: zone.id } },
                body: { version, fields },
              }),
            ),
          )
        }
      />
      <div className="flex flex-wrap items-end gap-x-8 gap-y-3">
        <Outlook zone={zone.id} />
        <GivenHere given={zone.given} />
        <Button quiet onClick={() => file.current?.click()}>
          Load a logger’s file (CSV)…
        </Button>
        <input
          ref={file}
          type="file"
          accept=".csv,.txt"
          aria-label={`Logger file for ${zone.name}`}
          className="sr-only"
          tabIndex={-1}
          onChange={async (event) => {
            const chosen = event.target.files?.[0]
            event.target.value = ''
            if (chosen) onFile({ id: newId(), name: chosen.name, zone: zone.id, text: await chosen.text() })
          }}
        />
      </div>
    </section>
  )
}

type LearnProps = {
  zone: string
  onUse: (fields: Record<string, { text: string; unit: string }>) => Promise<boolean>
}

/** How the building follows the weather is learned from what a probe or a logger read in it. */
function LearnFromRecord({ zone, onUse }: LearnProps) {
  const [asking, setAsking] = useState(false)
  const [found, setFound] = useState<Learnt | null>(null)
  const [problem, setProblem] = useState('')
  const learn = async () => {
    setAsking(true)
    setProblem('')
    try {
      setFound(
        await answer(
          client.GET('/api/v1/climate/zones/{zone_id}/learnt', { params: { path: { zone_id: zone } } }),
        ),
      )
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      setProblem(error.message)
    }
    setAsking(false)
  }
  if (!found)
    return (
      <div className="flex flex-wrap items-center gap-4">
        <Button quiet disabled={asking} onClick={() => void learn()}>
          {asking ? 'Its days are gone through…' : 'Learn both from its record'}
        </Button>
        <span className="text-soft text-sm">
          How long the building holds out against the weather, and how much warmer it stays by itself.
        </span>
        {problem && <Notice tone="care">{problem}</Notice>}
      </div>
    )
  return (
    <Notice tone="wait" className="flex flex-wrap items-center gap-4">
      <span className="min-w-64 flex-1">{found.words}</span>
      {found.fields.length > 0 && (
        <Button
          onClick={() =>
            void onUse(
              Object.fromEntries(found.fields.map(({ field, text, unit }) => [field, { text, unit }])),
            ).then((kept) => kept && setFound(null))
          }
        >
          Use these
        </Button>
      )}
      <Button quiet onClick={() => setFound(null)}>
        {found.fields.length > 0 ? 'Leave it' : 'All right'}
      </Button>
    </Notice>
  )
}

/** What was typed or loaded here and counts; each can be taken back. */
function GivenHere({ given }: { given: ZoneView['given'] }) {
  const edit = useEdit(undefined)
  const [sure, setSure] = useState('')
  if (given.length === 0) return null
  return (
    <ul className="flex basis-full flex-col gap-1" aria-label="Typed or loaded here">
      {given.map(({ id, what, words }) => (
        <li key={id} className="flex flex-wrap items-center gap-4">
          <span>{words}</span>
          <Button quiet aria-expanded={sure === id} onClick={() => setSure(sure === id ? '' : id)}>
            Forget it…
          </Button>
          {sure === id && (
            <Button
              onClick={() =>
                void edit.save(() =>
                  answer(
                    client.POST('/api/v1/taken-back', { body: { id: newId(), what, of_id: id, note: '' } }),
                  ),
                )
              }
            >
              Yes, it does not count
            </Button>
          )}
        </li>
      ))}
      <EditProblem edit={edit} />
    </ul>
  )
}

/** Tonight's low and tomorrow's high, where a builder knows better than the forecast. */
function Outlook({ zone }: { zone: string }) {
  const unit = useUnitOf()('temperature')
  const edit = useEdit(0)
  const [id, setId] = useState(newId)
  const [low, setLow] = useState('')
  const [high, setHigh] = useState('')
  const [place, setPlace] = useState('outside')
  const say = async () => {
    const kept = await edit.save(() =>
      answer(
        client.POST('/api/v1/climate/outlooks', {
          body: {
            id,
            zone,
            place: place as 'room' | 'outside',
            low: { text: low, unit },
            high: { text: high, unit },
          },
        }),
      ),
    )
    if (kept) {
      setId(newId())
      setLow('')
      setHigh('')
    }
  }
  const problems = edit.problem?.fields ?? {}
  return (
    <div className="flex flex-wrap items-end gap-3">
      <OneOf
        label="What you know is"
        value={place}
        choices={[
          { value: 'outside', name: 'Weather outside' },
          { value: 'room', name: 'This room itself' },
        ]}
        onChange={setPlace}
      />
      <TextField
        label="Tonight’s low"
        unit={unit}
        value={low}
        problem={problems.low}
        onChange={setLow}
        className="w-44"
      />
      <TextField
        label="Tomorrow’s high"
        unit={unit}
        value={high}
        problem={problems.high}
        onChange={setHigh}
        className="w-44"
      />
      <Button onClick={say}>Use</Button>
      <EditProblem edit={edit} shownInFields={['low', 'high']} />
    </div>
  )
}

const PLOT = 128
const AXIS = 28

/** Temperature over dew point: where the two come close, surfaces get wet. */
function AirChart({ zone, now }: { zone: ZoneView; now: string }) {
  const { box, width } = useWidth<HTMLDivElement>(900)
  const show = useShow()
  const x = timeScale(zone.span, width - 76)
  const all = [...zone.ribbon, ...zone.dew].map((p) => p.c)
  const [low, high] = [Math.min(...all), Math.max(...all)]
  const y = scaleLinear({ domain: [low - 1, high + 1], range: [PLOT - 4, 6] })
  const height = PLOT + AXIS
  // Round figures of the unit that is shown: a low can be read off to a degree or two.
  const { factor, offset } = useShownAs('temperature')
  const rows = scaleLinear({ domain: [low * factor + offset, high * factor + offset] })
    .ticks(4)
    .map((shown) => (shown - offset) / factor)
  return (
    <div ref={box}>
      <svg width={width} height={height} role="img" aria-label={`Temperature and dew point, ${zone.name}`}>
        <g transform="translate(68)">
          <Nights nights={zone.nights} x={x} height={height} />
          <Axis span={zone.span} x={x} top={PLOT} height={height} />
          {rows.map((c) => (
            <line key={c} x1={0} x2={width - 76} y1={y(c)} y2={y(c)} stroke="var(--line)" strokeWidth={1} />
          ))}
          <Line points={zone.ribbon} x={x} y={y} recorded={zone.recorded_until} color="var(--woad)" />
          {zone.dew.length > 1 && (
            <Line points={zone.dew} x={x} y={y} recorded={zone.recorded_until} color="var(--lichen)" />
          )}
          <NowLine now={now} x={x} height={height} />
        </g>
        {rows.map((c) => (
          <text key={c} x={60} y={y(c) + 5} textAnchor="end" className="fill-soft text-[14px]">
            {show(c, 'temperature')}
          </text>
        ))}
        {/* Which line is which, over their first days. */}
        <g transform="translate(72)">
          <text y={y(zone.ribbon[0]?.c ?? 0) + 18} className="halo fill-woad font-semibold text-[14px]">
            air
          </text>
          {zone.dew[0] && Math.abs(y(zone.dew[0].c) - y(zone.ribbon[0]?.c ?? 0)) > 18 && (
            <text y={y(zone.dew[0].c) - 7} className="halo fill-lichen font-semibold text-[14px]">
              dew point
            </text>
          )}
        </g>
      </svg>
    </div>
  )
}

type LineProps = {
  points: Degrees[]
  x: Scale
  y: (c: number) => number
  recorded: string | null
  color: string
}

/** Recorded solid, expected dashed. */
function Line({ points, x, y, recorded, color }: LineProps) {
  const until = recorded ? ms(recorded) : 0
  const at = { x: (p: Degrees) => x(ms(p.at)), y: (p: Degrees) => y(p.c) }
  return (
    <>
      <LinePath data={points.filter((p) => ms(p.at) <= until)} {...at} stroke={color} strokeWidth={2.5} />
      <LinePath
        data={points.filter((p) => ms(p.at) >= until - 1_800_000)}
        {...at}
        stroke={color}
        strokeWidth={1.8}
        strokeDasharray="3 4"
      />
    </>
  )
}
