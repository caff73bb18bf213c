import { useState } from 'react'
import { useNavigate } from 'react-router'
import { useRefresh } from '@/api/changes'
import { type Action, answer, client, newId, Problem } from '@/api/client'
import { Button } from '@/ui/button'
import { TextField } from '@/ui/text-field'

/** Notes work on steps. A tap that is sent twice counts once: its id is made when it is tapped. */
export function useWork() {
  const refresh = useRefresh()
  const go = useNavigate()
  const [said, setSaid] = useState('')
  const [failed, setFailed] = useState(false)
  const [busy, setBusy] = useState(false)

  const act = async (action: Action, at = '', reading = '') => {
    if (action.kind === 'mix') {
      void go(`/mix?part=${action.part_id}&step=${action.step_key}`)
      return
    }
    if (action.kind === 'run') {
      void go(`/run/${action.part_id}/${encodeURIComponent(action.step_key)}`)
      return
    }
    if (action.kind === 'check') {
      void go(`/cure/${action.part_id}`)
      return
    }
    setBusy(true)
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
                  reading,
                },
              }),
            )
      setSaid(noted.words)
      setFailed(false)
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      setSaid(error.message)
      setFailed(true)
    } finally {
      setBusy(false)
      await refresh()
    }
  }
  return { act, said, failed, busy }
}

export type Work = ReturnType<typeof useWork>

type ActionsProps = { actions: Action[]; work: Work; big?: boolean; late?: boolean }

/** What may be done with a step; the likeliest first, the others quiet beside it. */
export function Actions({ actions, work, big, late }: ActionsProps) {
  const [at, setAt] = useState('')
  const [reading, setReading] = useState('')
  const asks = actions.find((action) => action.asks)?.asks
  if (actions.length === 0) return null
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
      {asks && (
        <TextField
          label={asks}
          placeholder="0.2"
          inputMode="decimal"
          value={reading}
          onChange={setReading}
          className="w-52"
        />
      )}
      {actions.map((action, i) => (
        <Button
          key={action.kind}
          big={big && i === 0}
          quiet={i > 0 || action.kind === 'undo' || !big}
          disabled={work.busy}
          onClick={() =>
            void work.act(action, action.kind === 'finish' ? at : '', action.asks ? reading : '')
          }
        >
          {action.label}
        </Button>
      ))}
    </div>
  )
}
