import { ChevronLeft, ChevronRight, ZoomIn, ZoomOut } from 'lucide-react'
import { useEffect, useState } from 'react'
import type { Block, LoomView } from '@/api/loom'
import { type By, useAccepted, useLoom, usePlannedStep, useWhatIf } from '@/api/loom-questions'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { OneOf } from '@/ui/one-of'
import { Pick } from '@/ui/pick'
import { ms } from '@/weave/time-scale'
import { BlockSheet } from './block-sheet'
import { Lanes } from './lanes'
import { usePins } from './pins'
import { PlanTools } from './plan-tools'
import { useQuestion, WeighUp } from './weigh-up'

const ZOOMS = [2, 4, 7, 14, 28, 56]
const DAY = 86_400_000
/** So much of a person's lane is looked at first. */
const PERSON_DAYS = 4
/** Not one airframe alone. */
const EVERY = 'every'

/** The schedule: every part's steps over nights and temperature; pick one to hear why it is not sooner. */
export default function LoomPage() {
  const [start, setStart] = useState('')
  const [days, setDays] = useState(window.innerWidth < 640 ? 4 : 14)
  const [picked, setPicked] = useState('')
  const [by, setBy] = useState<By>('part')
  const [shown, setShown] = useState(false)
  const [airframe, setAirframe] = useState(EVERY)
  const [question, setQuestion] = useQuestion()
  const what = useWhatIf(question === 'if').data
  // What is supposed is drawn over the plan there is, for as long as it is looked at.
  const supposed = question === 'if' && what !== undefined && what.measures.length > 0
  const of = airframe === EVERY ? '' : airframe
  const loom = useLoom({ start, days, by, compare: shown, airframe: of }, supposed)
  const pins = usePins()
  const view = loom.data
  const move = (by: number) => {
    if (view?.span) setStart(new Date(ms(view.span.start) + by * DAY).toISOString())
  }
  const zoom = (by: number) =>
    setDays((now) => ZOOMS[Math.min(Math.max(ZOOMS.indexOf(now) + by, 0), ZOOMS.length - 1)] ?? now)
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const typing = event.target instanceof HTMLElement && event.target.closest('input, textarea, select')
      if (typing || event.ctrlKey || event.metaKey || event.altKey) return
      if (event.key === '+' || event.key === '=') zoom(-1)
      if (event.key === '-') zoom(1)
      if (event.key === 'Escape') setPicked('')
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  })
  const blocks = view?.lanes.flatMap((lane) => lane.blocks) ?? []
  const chosen: Block | undefined = blocks.find((block) => block.id === picked)
  const step = usePlannedStep(chosen?.part_id ?? '', chosen?.key ?? '').data
  return (
    <div className="flex flex-col gap-4 p-6 max-sm:p-4">
      <div className="flex flex-wrap items-center gap-x-6 gap-y-3">
        {/* While it is worked out the page says so in the same place. */}
        <h1 className="min-w-0 flex-1 basis-80 font-semibold text-xl leading-snug">
          <span className={view ? '' : 'sr-only'}>{view?.sentence || 'The Loom'}</span>
        </h1>
        <div className="flex flex-wrap gap-2">
          <Tool label="Earlier" onClick={() => move(-Math.ceil(days / 2))}>
            <ChevronLeft aria-hidden size={22} />
          </Tool>
          <Button quiet onClick={() => setStart('')}>
            Today
          </Button>
          <Tool label="Later" onClick={() => move(Math.ceil(days / 2))}>
            <ChevronRight aria-hidden size={22} />
          </Tool>
          <Tool label="Closer" onClick={() => zoom(-1)} disabled={days === ZOOMS[0]}>
            <ZoomIn aria-hidden size={22} />
          </Tool>
          <Tool label="Wider" onClick={() => zoom(1)} disabled={days === ZOOMS[ZOOMS.length - 1]}>
            <ZoomOut aria-hidden size={22} />
          </Tool>
          <span className="self-center text-soft">{days} days</span>
        </div>
      </div>
      <div className="flex flex-wrap items-end gap-x-6 gap-y-2">
        <OneOf
          label="Lanes by"
          value={by}
          choices={[
            { value: 'part', name: 'Part' },
            { value: 'person', name: 'Person' },
            { value: 'station', name: 'Station' },
          ]}
          onChange={(chosen) => {
            setBy(chosen as By)
            // Somebody's day is full of short steps: from afar they would stand under each other.
            if (chosen === 'person') setDays((now) => Math.min(now, PERSON_DAYS))
          }}
        />
        {view && view.airframes.length > 0 && (
          <Pick
            label="Of"
            value={airframe}
            choices={[
              { value: EVERY, name: 'Every airframe' },
              ...view.airframes.map((one) => ({ value: one.id, name: one.name })),
            ]}
            onChange={setAirframe}
          />
        )}
        {view?.span && !question && (
          <PlanTools view={view} compare={shown} onCompare={setShown} onWeigh={() => setQuestion('better')} />
        )}
      </div>
      {view?.span && question && (
        <WeighUp question={question} onQuestion={setQuestion} onClose={() => setQuestion('none')} />
      )}
      {pins.said && <Notice tone={pins.failed ? 'stop' : 'ready'}>{pins.said}</Notice>}
      {loom.error && <Notice tone="stop">{loom.error.message}</Notice>}
      {view?.ask && <Notice tone="care">{view.ask}</Notice>}
      {shown && !supposed && <PlacedAgain />}
      {shown && !supposed && view && <ShiftedList shifted={view.shifted} onPick={setPicked} />}
      {view?.span && (
        <Lanes
          view={view}
          span={view.span}
          picked={picked}
          heldBy={step?.held_by ?? ''}
          onPick={setPicked}
          onPin={pins.pin}
        />
      )}
      {view?.lanes
        .filter((lane) => lane.left)
        .map((lane) => (
          <Notice key={lane.id} tone="stop">
            <span className="font-semibold">{lane.name}:</span> {lane.left}
          </Notice>
        ))}
      <p className="text-soft text-sm">
        Brown is hands-on work, blue a cure that thins to its stage, green done; a striped block closes its
        part. Drag a block to pin it to a time: the plan goes round it. Arrow keys go from step to step, + and
        − come closer and go back, Enter opens one.
      </p>
      <BlockSheet
        block={chosen}
        step={step}
        blocks={blocks}
        pins={pins}
        onPick={setPicked}
        onClose={() => setPicked('')}
      />
    </div>
  )
}

type ToolProps = { label: string; onClick: () => void; disabled?: boolean; children: React.ReactNode }

function Tool({ label, onClick, disabled, children }: ToolProps) {
  return (
    <Button quiet aria-label={label} onClick={onClick} disabled={disabled} className="px-3">
      {children}
    </Button>
  )
}

/** Whether the accepted plan is still what it was, and its file. */
function PlacedAgain() {
  const again = useAccepted().data
  if (!again?.words) return null
  return (
    <p className="flex flex-wrap items-center gap-x-4 text-soft">
      {again.words}
      {again.same !== null && (
        <a className="inline-flex min-h-11 items-center underline" href="/api/v1/plan/accepted.json">
          All it was made from
        </a>
      )}
    </p>
  )
}

/** How many are listed before all are asked for. */
const FEW = 4

type ShiftedProps = { shifted: LoomView['shifted']; onPick: (id: string) => void }

/** What has another time than in the accepted plan, by name; the first few until all are asked for. */
function ShiftedList({ shifted, onPick }: ShiftedProps) {
  const [all, setAll] = useState(false)
  if (shifted.length === 0) return null
  return (
    <section aria-label="Other times than accepted" className="bg-panel px-4 py-1">
      <ul>
        {(all ? shifted : shifted.slice(0, FEW)).map((one) => (
          <li
            key={one.step_id}
            className="flex flex-wrap items-center justify-between gap-x-4 border-line border-b"
          >
            <button
              type="button"
              onClick={() => onPick(one.step_id)}
              className="min-h-11 text-left hover:underline"
            >
              <span className="font-semibold">{one.name}</span>
              <span className="text-soft"> · {one.part}</span>
            </button>
            <span>{one.words}</span>
          </li>
        ))}
      </ul>
      {shifted.length > FEW && (
        <button type="button" className="min-h-11 underline" onClick={() => setAll(!all)}>
          {all ? 'Only the first' : `All ${shifted.length} of them`}
        </button>
      )}
    </section>
  )
}
