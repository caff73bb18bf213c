import { useQuery } from '@tanstack/react-query'
import { clsx } from 'clsx'
import { useRef, useState } from 'react'
import { useRefresh, useTicking } from '@/api/changes'
import { answer, type BatchTrail, client, newId, type OpenCup, type PartCard, Problem } from '@/api/client'
import { useAirframe, useWeather } from '@/api/questions'
import { remaining, useClock, useUnitOf } from '@/app/formats'
import { Button, ButtonLink } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { Photos } from '@/ui/photos'
import { Pick } from '@/ui/pick'
import { SideSheet } from '@/ui/side-sheet'
import { TextField } from '@/ui/text-field'
import { CupToken } from '@/weave/cup-token'
import { CorrectBatch } from './correct-batch'

type Props = { batchId: string; onNext?: () => void }

/** A kept mix: its clock, where else it could go, what was left of it, that it is bad, its photograph. */
export function InUse({ batchId, onNext }: Props) {
  const refresh = useRefresh()
  const path = { params: { path: { batch_id: batchId } } }
  const trail = useQuery({
    queryKey: ['batch', batchId],
    queryFn: () => answer(client.GET('/api/v1/batches/{batch_id}', path)),
  })
  const cup = useWeather().data?.cups.find((open) => open.batch_id === batchId)
  const [problem, setProblem] = useState('')
  const [wrong, setWrong] = useState(false)
  /** Ids of what was sent and not answered yet: pressed again, it is the same note. */
  const sent = useRef(new Map<string, string>())
  if (trail.error) return <Notice tone="stop">{trail.error.message}</Notice>
  if (!trail.data) return null
  const { batch, touched, bad, emptied, photos, others } = trail.data
  const note = async (body: {
    kind: 'on' | 'emptied' | 'bad' | 'cleared' | 'thrown'
    note?: string
    part?: string
    step?: string
    grams?: string
    unit?: string
  }): Promise<boolean> => {
    const said = JSON.stringify(body)
    const id = sent.current.get(said) ?? newId()
    sent.current.set(said, id)
    try {
      await answer(
        client.POST('/api/v1/batches/{batch_id}/notes', {
          ...path,
          body: {
            id,
            kind: body.kind,
            part_id: body.part ?? null,
            step_key: body.step ?? '',
            grams: body.grams?.trim() ? { text: body.grams, unit: body.unit ?? 'g' } : null,
            note: body.note ?? '',
          },
        }),
      )
      sent.current.delete(said)
      setProblem('')
      await refresh()
      return true
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      setProblem(error.message)
      return false
    }
  }
  return (
    <div className="flex flex-col gap-5">
      <Notice tone={bad || batch.verdict === 'out' ? 'stop' : 'ready'} className="text-xl">
        <h1>
          {batch.letter}, kept: {batch.words}
        </h1>
      </Notice>
      {batch.care.map((words) => (
        <Notice key={words} tone="care">
          {words}
        </Notice>
      ))}
      {cup && !emptied && <CupClock cup={cup} />}
      {problem && <Notice tone="stop">{problem}</Notice>}
      <div className="grid gap-6 lg:grid-cols-2">
        <section aria-label="Where it went" className="flex flex-col gap-2">
          <h2 className="font-semibold text-lg">It went on</h2>
          {touched.length === 0 && <p className="text-soft">Nothing planned: {batch.step_name}.</p>}
          <ul>
            {touched.map((place) => (
              <li key={place.part_id + place.step} className="border-line border-t py-1.5">
                {place.part}
              </li>
            ))}
          </ul>
          <AlsoOn taken={touched.map((t) => t.part_id)} onAlso={(part) => void note({ kind: 'on', part })} />
        </section>
        {others.length > 0 && !emptied && <OtherUses others={others} onUse={note} />}
      </div>
      {emptied ? (
        <p>The cup is used up.</p>
      ) : (
        <UsedUp onUsedUp={(grams, unit) => void note({ kind: 'emptied', grams, unit })} />
      )}
      <section aria-label="Photographs" className="flex flex-wrap items-center gap-4">
        <Photos of={`batches/${batchId}`} photos={photos} name="this batch" />
      </section>
      <p className="text-soft">
        Its witness is a thin coupon of it, as thick as what was laid and as cold as the part, marked with the
        batch. Spread the rest of the cup out at once and carry it outside: left in the cup it gets hot.
      </p>
      <SideSheet open={wrong} onClose={() => setWrong(false)} title={`Batch, ${batch.step_name}`}>
        <CorrectBatch batch={batch} onDone={() => setWrong(false)} />
      </SideSheet>
      <Wrong bad={bad} onSay={(kind, words) => note({ kind, note: words })} />
      <div className="flex flex-wrap gap-4">
        {onNext && (
          <Button big onClick={onNext}>
            Next cup
          </Button>
        )}
        {batch.part_id && (
          <ButtonLink big quiet to={`/cure/${batch.part_id}`}>
            When does it cure?
          </ButtonLink>
        )}
        <Button big quiet onClick={() => setWrong(true)}>
          Written down wrong…
        </Button>
      </div>
    </div>
  )
}

const EDGE = { stands: 'edge-wait', open: 'edge-ready', soon: 'edge-stop', gone: 'edge-stop' } as const

function CupClock({ cup }: { cup: OpenCup }) {
  const clock = useClock()
  const left = Math.max(Math.floor((Date.parse(cup.until) - useTicking()) / 1000), 0)
  const late = cup.state === 'soon' || cup.state === 'gone'
  return (
    <section
      aria-label="Cup’s clock"
      className={clsx(
        'flex flex-wrap items-center gap-x-6 bg-panel px-6 py-4',
        EDGE[cup.state],
        late && 'text-madder',
      )}
    >
      <CupToken letter={cup.letter} tint={cup.tint} big />
      <p className="font-semibold text-[96px] leading-none" data-testid="countdown">
        {remaining(left)}
      </p>
      <p className="text-2xl">
        {cup.state === 'stands' ? 'let it stand until' : cup.state === 'gone' ? 'gone off at' : 'use it by'}{' '}
        <span className="font-semibold">{clock.time(cup.until)}</span>
        <span className="block text-base text-soft">
          Write {cup.letter} on the cup: its clock has that letter.
        </span>
      </p>
    </section>
  )
}

type Note = (body: {
  kind: 'on'
  part: string
  step: string
  grams: string
  unit: string
}) => Promise<boolean>

function OtherUses({ others, onUse }: { others: BatchTrail['others']; onUse: Note }) {
  const unit = useUnitOf()('scale')
  const [grams, setGrams] = useState('')
  return (
    <section aria-label="What else could use this mix" className="flex flex-col gap-2">
      <h2 className="font-semibold text-lg">What else could use this mix</h2>
      <TextField
        label="So much of it went there"
        unit={unit}
        value={grams}
        onChange={setGrams}
        className="w-56"
      />
      <ul>
        {others.slice(0, 6).map((use) => (
          <li
            key={use.part_id + use.step_key}
            className="flex items-center justify-between gap-4 border-line border-t py-1.5"
          >
            <span>
              <span className={clsx('font-semibold', use.now && 'text-lichen')}>
                {use.now && '● '}
                {use.part}
              </span>
              <span className="block text-soft text-sm">
                {use.step}: {use.words}
              </span>
            </span>
            <Button
              quiet
              className="shrink-0"
              onClick={async () => {
                const part = { part: use.part_id, step: use.step_key }
                if (await onUse({ kind: 'on', ...part, grams, unit })) setGrams('')
              }}
            >
              Used there
            </Button>
          </li>
        ))}
      </ul>
    </section>
  )
}

function AlsoOn({ taken, onAlso }: { taken: string[]; onAlso: (part: string) => void }) {
  const airframe = useAirframe()
  const parts: PartCard[] = airframe.data?.assemblies.flatMap((assembly) => assembly.parts) ?? []
  return (
    <div className="w-72">
      <Pick
        label="It also went on"
        hideLabel
        value=""
        placeholder="It also went on…"
        choices={parts
          .filter((part) => !taken.includes(part.id))
          .map((part) => ({ value: part.id, name: part.name }))}
        onChange={onAlso}
      />
    </div>
  )
}

type Mark = 'bad' | 'cleared' | 'thrown'
type WrongProps = { bad: boolean; onSay: (kind: Mark, note: string) => Promise<boolean> }

/** That something is wrong with a mix: no reading releases it then, only somebody who decides and signs. */
function Wrong({ bad, onSay }: WrongProps) {
  const [open, setOpen] = useState(false)
  const [note, setNote] = useState('')
  // Closed once it is kept: the same place then offers the opposite.
  const say = async (kind: Mark) => {
    if (!(await onSay(kind, note))) return
    setOpen(false)
    setNote('')
  }
  if (!open)
    return (
      <Button quiet className="self-start" onClick={() => setOpen(true)}>
        {bad ? 'It is good after all…' : 'Something is wrong with it…'}
      </Button>
    )
  return (
    <section aria-label="What is wrong" className="flex flex-wrap items-end gap-4">
      <TextField
        label={bad ? 'Why it is good' : 'What is wrong'}
        value={note}
        onChange={setNote}
        className="min-w-64 flex-1"
      />
      {bad ? (
        <Button onClick={() => void say('cleared')}>It is good after all</Button>
      ) : (
        <>
          <Button onClick={() => void say('thrown')}>All of it was thrown away</Button>
          <Button quiet onClick={() => void say('bad')}>
            Some of it is on the part
          </Button>
        </>
      )}
    </section>
  )
}

function UsedUp({ onUsedUp }: { onUsedUp: (grams: string, unit: string) => void }) {
  const unit = useUnitOf()('scale')
  const [left, setLeft] = useState('')
  return (
    <div className="flex flex-wrap items-end gap-4">
      <TextField label="Left over, if any" unit={unit} value={left} onChange={setLeft} className="w-44" />
      <Button onClick={() => onUsedUp(left, unit)}>The cup is used up</Button>
    </div>
  )
}
