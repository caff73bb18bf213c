import { clsx } from 'clsx'
import { useRef, useState } from 'react'
import { Link, useParams } from 'react-router'
import { useRefresh } from '@/api/changes'
import { answer, client, type GateView, newId, Problem } from '@/api/client'
import { useKeep } from '@/api/keep'
import { askFor, useBuilds, useMe, useWho } from '@/api/present'
import { useGate } from '@/api/questions'
import { Actions, useWork } from '@/app/work'
import { Button } from '@/ui/button'
import { DayField } from '@/ui/day-field'
import { Notice } from '@/ui/notice'
import { Photos } from '@/ui/photos'
import { Pick } from '@/ui/pick'
import { TextField } from '@/ui/text-field'
import { Who } from '@/ui/who'

type Line = GateView['lines'][number]
type Noted = {
  day?: string
  kind: 'add' | 'done' | 'not needed' | 'open' | 'sign' | 'reopen' | 'asked' | 'seen' | 'list'
}
const EDGE: Record<Line['state'], string> = {
  open: 'edge-care',
  done: 'edge-ready',
  'not needed': 'border-l-6 border-line',
}

/** One closing: its list, who answers for each line, who looked, and the inspector. */
export default function GatePage() {
  const { part = '', step = '' } = useParams()
  const asked = useGate(part, step)
  if (asked.error && !asked.data)
    return (
      <Notice tone="stop" className="m-6">
        {asked.error.message}
      </Notice>
    )
  return asked.data ? <Gate view={asked.data} /> : null
}

function Gate({ view }: { view: GateView }) {
  const refresh = useRefresh()
  const work = useWork()
  const me = useMe()
  const builds = useBuilds()
  const [who, setWho] = useWho()
  // Pressed twice it is one note; another line that is pressed meanwhile has its own.
  const ids = useRef(new Map<string, string>())
  const [problem, setProblem] = useState<{ of: string; words: string } | null>(null)
  /** Keeps what happened; what is refused stays with the line it is about. */
  const note = async (told: Noted & { line?: string; note?: string }, of = told.line ?? told.kind) => {
    const what = `${told.kind} ${told.line ?? ''}`
    const id = ids.current.get(what) ?? newId()
    ids.current.set(what, id)
    try {
      const body = {
        id,
        part_id: view.part_id,
        step_key: view.step_key,
        crew_member_id: who || null,
        ...told,
      }
      await answer(client.POST('/api/v1/gate/notes', { body }))
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      setProblem({ of, words: error.message })
      return false
    }
    setProblem(null)
    ids.current.delete(what)
    await refresh()
    return true
  }
  const said = (of: string) => (problem?.of === of ? problem.words : '')
  const signed = view.state === 'signed' || view.state === 'inspector'
  const fixed = signed || view.state === 'closed' || !builds
  return (
    <div className="mx-auto flex max-w-5xl flex-col gap-6 p-6 max-sm:p-4">
      <header className="flex flex-col gap-2">
        <Link to="/gates" className="inline-flex min-h-11 items-center self-start text-soft underline">
          Gates
        </Link>
        <h1 className="font-semibold text-2xl">{view.part}</h1>
        <p className="text-lg">
          {view.step}: {view.when}. {view.sentence}
        </p>
        <p className="text-soft">
          {view.hours && view.state === 'open' && `${view.hours} of work before it. `}
          {view.shuts_in.length > 0 && `It shuts in ${view.shuts_in.join(', ')}.`}
        </p>
        {work.said && <Notice tone={work.failed ? 'stop' : 'ready'}>{work.said}</Notice>}
        {view.state === 'signed' && <Actions actions={view.actions} work={work} />}
      </header>
      {me ? (
        <p className="flex flex-wrap items-center gap-4 text-lg">
          <span>
            You are <span className="font-semibold">{me.name}</span>
            {builds && ': nobody signs for another'}.
          </span>
          {builds && (
            <Button quiet onClick={() => askFor()}>
              Somebody else looks
            </Button>
          )}
        </p>
      ) : (
        <Who label="Who you are" people={view.people} who={who} onWho={setWho} />
      )}
      {!builds && <Inspector view={view} problem={said('seen')} onNote={note} />}
      <ul className="flex flex-col gap-2">
        {view.lines.map((line) => (
          <LineRow key={line.key} line={line} fixed={fixed} problem={said(line.key)} onNote={note} />
        ))}
      </ul>
      {!fixed && <More view={view} problem={said('add') || said('list')} onNote={note} />}
      {builds && <Sign view={view} problem={said('sign') || said('reopen')} onNote={note} />}
      {builds && <Inspector view={view} problem={said('asked') || said('seen')} onNote={note} />}
      {view.lists.length > 0 && <NextTime view={view} />}
      <p className="text-soft text-sm">{view.caution}</p>
    </div>
  )
}

/** What is regretted once it is shut goes on the shop's list, for the next one. */
function NextTime({ view }: { view: GateView }) {
  const { keep, busy, says } = useKeep()
  const [text, setText] = useState('')
  const [list, setList] = useState(view.lists[0]?.id ?? '')
  const [kept, setKept] = useState('')
  const put = async () => {
    const mine = view.lists.find(({ id }) => id === list)
    if (!mine) return
    const { id, version, name, lines } = mine
    const body = { id, version, name, lines: [...lines, text] }
    setKept('')
    if (!(await keep(() => answer(client.POST('/api/v1/gate-lists', { body }))))) return
    setKept(`On the list “${name}” from now on.`)
    setText('')
  }
  return (
    <section aria-label="Next time" className="flex flex-col gap-3 border-line border-t-2 pt-4">
      <h2 className="font-semibold text-xl">Next time, before closing…</h2>
      <div className="flex flex-wrap items-end gap-3">
        <TextField
          label="What was missed, or nearly"
          value={text}
          onChange={setText}
          className="flex-1 basis-72"
        />
        {view.lists.length > 1 && (
          <div className="w-64">
            <Pick
              label="On the list"
              value={list}
              choices={view.lists.map(({ id, name }) => ({ value: id, name }))}
              onChange={setList}
            />
          </div>
        )}
        <Button quiet disabled={busy || !text.trim()} onClick={() => void put()}>
          Put it on the list
        </Button>
      </div>
      {says && <Notice tone="stop">{says}</Notice>}
      {kept && !says && <Notice tone="ready">{kept}</Notice>}
    </section>
  )
}

type OnNote = (told: Noted & { line?: string; note?: string }, of?: string) => Promise<boolean>
type RowProps = { line: Line; fixed: boolean; problem: string; onNote: OnNote }

function LineRow({ line, fixed, problem, onNote }: RowProps) {
  const [why, setWhy] = useState<string | null>(null)
  const put = (kind: 'done' | 'not needed' | 'open', note = '') => onNote({ kind, line: line.key, note })
  return (
    <li className={clsx('flex flex-col gap-2 bg-panel px-4 py-3', EDGE[line.state])}>
      <div className="flex flex-wrap items-center justify-between gap-x-6 gap-y-2">
        <p className="min-w-0 flex-1 basis-72">
          <span className={clsx('text-lg', line.state !== 'open' && 'text-soft')}>{line.words}</span>
          {line.sentence && <span className="block text-soft">{line.sentence}</span>}
        </p>
        {!fixed &&
          (line.state === 'open' ? (
            <span className="flex flex-wrap gap-2">
              {!line.of_itself && <Button onClick={() => void put('done')}>Done</Button>}
              <Button quiet onClick={() => setWhy(why === null ? '' : null)}>
                Not needed…
              </Button>
            </span>
          ) : (
            line.note_id && (
              <Button quiet onClick={() => void put('open')}>
                Open again
              </Button>
            )
          ))}
      </div>
      {why !== null && (
        <div className="flex flex-wrap items-end gap-3">
          <TextField label="Why it is not needed" value={why} onChange={setWhy} className="flex-1 basis-72" />
          <Button
            onClick={async () => {
              if (await put('not needed', why)) setWhy(null)
            }}
          >
            Not needed
          </Button>
        </div>
      )}
      {problem && <Notice tone="stop">{problem}</Notice>}
      {line.note_id && (
        <div className="flex flex-wrap items-center gap-3">
          <Photos of={`gate-notes/${line.note_id}`} photos={line.photos} name={line.words} />
        </div>
      )}
    </li>
  )
}

type PartProps = { view: GateView; problem: string; onNote: OnNote }

function More({ view, problem, onNote }: PartProps) {
  const [text, setText] = useState('')
  return (
    <section aria-label="More lines" className="flex flex-col gap-3">
      <div className="flex flex-wrap items-end gap-3">
        <TextField
          label="Another line; how long it takes may stand at its end: …, 30 min"
          value={text}
          onChange={setText}
          className="flex-1 basis-72"
        />
        <Button
          quiet
          disabled={!text.trim()}
          onClick={async () => {
            if (await onNote({ kind: 'add', note: text })) setText('')
          }}
        >
          Add it
        </Button>
        {view.lists.length > 0 && (
          <div className="w-72">
            <Pick
              label="Or a list of the shop’s"
              value=""
              placeholder="Which?"
              choices={view.lists.map(({ id, name }) => ({ value: id, name }))}
              onChange={(list) => void onNote({ kind: 'list', note: list })}
            />
          </div>
        )}
      </div>
      {problem && <Notice tone="stop">{problem}</Notice>}
    </section>
  )
}

function Sign({ view, problem, onNote }: PartProps) {
  const [why, setWhy] = useState('')
  if (view.state === 'closed') return null
  return (
    <section aria-label="Signature" className="flex flex-col gap-3 border-line border-t-2 pt-4">
      <h2 className="font-semibold text-xl">Who looked</h2>
      {view.state === 'signed' || view.state === 'inspector' ? (
        <div className="flex flex-wrap items-end gap-3">
          <TextField
            label="Why it is opened again"
            value={why}
            onChange={setWhy}
            className="flex-1 basis-72"
          />
          <Button
            quiet
            onClick={async () => {
              if (await onNote({ kind: 'reopen', note: why })) setWhy('')
            }}
          >
            Open it again
          </Button>
        </div>
      ) : (
        <>
          <p className="text-soft">
            Another person than who did the work looks at every line, with a light, and signs by name. Who did
            some of it signs for the rest; somebody else then looks at those lines.
          </p>
          <Button className="self-start" onClick={() => void onNote({ kind: 'sign' })}>
            I looked: sign it
          </Button>
        </>
      )}
      {problem && <Notice tone="stop">{problem}</Notice>}
      {view.trail.map((words) => (
        <p key={words} className="text-soft">
          {words}
        </p>
      ))}
    </section>
  )
}

function Inspector({ view, problem, onNote }: PartProps) {
  const [text, setText] = useState('')
  const [day, setDay] = useState('')
  const me = useMe()
  const guest = me?.role === 'inspector'
  const builds = useBuilds()
  const kind = guest || (view.asked && !view.seen) ? 'seen' : 'asked'
  return (
    <section aria-label="Inspector" className="flex flex-col gap-3 border-line border-t-2 pt-4">
      <h2 className="font-semibold text-xl">Inspector</h2>
      {view.asked && <p>Asked for: {view.asked}.</p>}
      {view.seen ? <p>Seen: {view.seen}.</p> : view.asked && <p>Not seen yet: it is not closed before.</p>}
      {(builds || guest) && (
        <div className="flex flex-wrap items-end gap-3">
          {kind === 'asked' && (
            <DayField label="For which day" value={day} onChange={setDay} className="w-52" />
          )}
          <TextField
            label={
              kind === 'asked'
                ? 'To see what'
                : guest
                  ? 'What you looked at, in a few words'
                  : 'Who saw it, and where it is signed; or why it need not be seen'
            }
            value={text}
            onChange={setText}
            className="flex-1 basis-72"
          />
          <Button
            quiet={!guest}
            disabled={kind === 'asked' ? !day : !text.trim()}
            onClick={async () => {
              if (!(await onNote({ kind, note: text, ...(kind === 'asked' && { day }) }))) return
              setText('')
              setDay('')
            }}
          >
            {kind === 'asked' ? 'The inspector is asked' : guest ? 'I have seen it' : 'It was seen'}
          </Button>
        </div>
      )}
      {problem && <Notice tone="stop">{problem}</Notice>}
    </section>
  )
}
