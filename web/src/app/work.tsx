import { clsx } from 'clsx'
import { useEffect, useRef, useState } from 'react'
import { useNavigate } from 'react-router'
import { useRefresh } from '@/api/changes'
import { type Action, answer, client, newId, Problem } from '@/api/client'
import { useBuilds } from '@/api/present'
import { Button } from '@/ui/button'
import { TextField } from '@/ui/text-field'

/** So long nothing is taken from a place that has just come to mean something else [ms]. */
const SETTLES_MS = 900

/** Notes work on steps. A tap that is sent twice counts once: its id is made when it is tapped. */
export function useWork() {
  const refresh = useRefresh()
  const go = useNavigate()
  const [said, setSaid] = useState('')
  const [failed, setFailed] = useState(false)
  const [busy, setBusy] = useState(false)
  const sending = useRef(false)
  const [last, setLast] = useState('')

  const act = async (action: Action, at = '', note = '') => {
    if (action.kind === 'mix') {
      void go(`/mix?part=${action.part_id}&step=${action.step_key}`)
      return true
    }
    if (action.kind === 'run') {
      void go(`/run/${action.part_id}/${encodeURIComponent(action.step_key)}`)
      return true
    }
    if (action.kind === 'check') {
      void go(`/cure/${action.part_id}`)
      return true
    }
    if (action.kind === 'read') {
      void go(`/part/${action.part_id}/checks?read=${encodeURIComponent(action.step_key)}`)
      return true
    }
    if (action.kind === 'gate') {
      void go(`/gates/${action.part_id}/${encodeURIComponent(action.step_key)}`)
      return true
    }
    // What was pressed is on its way before the page is drawn with its buttons at rest; until then a finger that
    // bounces meets this.
    if (sending.current) return false
    sending.current = true
    window.setTimeout(() => setBusy(true))
    try {
      const body = { id: newId(), part_id: action.part_id, step_key: action.step_key }
      const noted =
        action.kind === 'undo'
          ? await answer(
              client.POST('/api/v1/work/{work_id}/undo', {
                params: { path: { work_id: action.note_id ?? '' } },
                body: { id: body.id },
              }),
            )
          : await answer(
              client.POST('/api/v1/work', {
                body: {
                  ...body,
                  kind: action.kind,
                  crew: action.crew,
                  at,
                  again: action.again ?? false,
                  note,
                },
              }),
            )
      setSaid(noted.words)
      setLast(action.kind === 'undo' ? '' : body.id)
      setFailed(false)
      return true
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      setSaid(error.message)
      setLast('')
      setFailed(true)
      return false
    } finally {
      // What was pressed may have moved to another list: a second press of the same finger meets nothing.
      await refresh()
      window.setTimeout(() => {
        sending.current = false
        setBusy(false)
      }, SETTLES_MS)
    }
  }
  const takeBack = () =>
    act({ kind: 'undo', label: '', of: '', part_id: '', step_key: '', note_id: last, crew: [], asks: '' })
  return { act, said, failed, busy, takeBack: last ? takeBack : null }
}

export type Work = ReturnType<typeof useWork>

/** Going on, laying aside and finishing keep their places side by side. */
const KEEPS = ['start', 'pause', 'finish']

/** Whether the buttons of a place have just changed: a finger on its way meant the one before. */
function useSettling(meaning: string) {
  const [stands, setStands] = useState(meaning)
  const first = useRef(true)
  useEffect(() => {
    const timer = window.setTimeout(() => setStands(meaning), first.current ? 0 : SETTLES_MS)
    first.current = false
    return () => window.clearTimeout(timer)
  }, [meaning])
  return stands !== meaning
}

type ActionsProps = { actions: Action[]; work: Work; big?: boolean; late?: boolean }

/** What may be done with a step; the likeliest first, the others quiet beside it. */
export function Actions({ actions, work, big, late }: ActionsProps) {
  const [at, setAt] = useState('')
  const [reason, setReason] = useState('')
  const [asking, setAsking] = useState('')
  const builds = useBuilds()
  // What needs a reason asks for it first: going before its time, and that it does not apply.
  const needsReason = (action: Action) => action.asks !== ''
  const before = actions.find((action) => action.kind === asking && needsReason(action))
  // What is under way has a place for each: none of them ever stands where another stood.
  // A reading is read where it will be finished.
  const place = (action: Action) => (action.kind === 'read' ? 'finish' : action.kind)
  const under_way = actions.some((action) => place(action) === 'finish')
  const others = actions.filter((action) => !under_way || !KEEPS.includes(place(action)))
  const placed = [
    ...(under_way ? KEEPS.map((kind) => ({ kind, action: actions.find((a) => place(a) === kind) })) : []),
    ...others.map((action) => ({ kind: action.kind as string, action })),
  ]
  const settling = useSettling(actions.map((a) => `${a.kind} ${a.part_id} ${a.step_key}`).join())
  if (actions.length === 0 || !builds) return null
  return (
    <div className="flex flex-wrap items-end gap-3">
      {late && (
        <TextField
          label="Finished at (empty: now)"
          placeholder="17:40"
          value={at}
          onChange={setAt}
          className="w-52"
        />
      )}
      {placed.map(({ kind, action }, i) => (
        <Button
          key={kind}
          aria-label={
            action && !(big && i === 0) ? `${action.label}${action.of && `: ${action.of}`}` : undefined
          }
          big={big && i === 0 && kind !== 'finish'}
          quiet={i > 0 || kind === 'undo' || kind === 'finish' || !big}
          disabled={!action || work.busy || settling}
          className={clsx(!action && 'invisible max-sm:hidden', KEEPS.includes(kind) && 'min-w-24')}
          onClick={() =>
            action && needsReason(action)
              ? setAsking(asking === action.kind ? '' : action.kind)
              : action && void work.act(action, kind === 'finish' ? at : '')
          }
        >
          {action?.label}{' '}
          {big && i === 0 && action?.of && <span className="block font-normal text-base">{action.of}</span>}
        </Button>
      ))}
      {before && (
        <form
          className="flex basis-full flex-wrap items-end gap-3"
          onSubmit={(event) => {
            event.preventDefault()
            void work.act(before, '', reason).then((kept) => kept && setAsking(''))
          }}
        >
          <TextField label={before.asks} value={reason} onChange={setReason} className="min-w-60 flex-1" />
          <Button type="submit" disabled={work.busy || !reason.trim()}>
            {before.kind === 'skip' ? 'It does not apply' : 'Start it'}
          </Button>
        </form>
      )}
    </div>
  )
}
