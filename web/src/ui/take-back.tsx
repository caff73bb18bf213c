import { useRefresh } from '@/api/changes'
import { answer, client, newId, Problem } from '@/api/client'
import type { paths } from '@/api/schema'
import { Button } from './button'

type What = NonNullable<
  paths['/api/v1/taken-back']['post']['requestBody']
>['content']['application/json']['what']
type Props = { what: What; of_id: string; label?: string; of?: string; className?: string }

/** So long after one is taken back no other is: the next stands where that one stood [ms]. */
const SETTLES_MS = 1500
let free_at = 0

/** A button by which what was written down does not count any more. Pressed twice it takes one back, not the next too. */
export function TakeBack({ what, of_id, label = 'Take back', of, className }: Props) {
  const refresh = useRefresh()
  const take = async () => {
    if (performance.now() < free_at) return
    free_at = Number.POSITIVE_INFINITY
    try {
      await answer(client.POST('/api/v1/taken-back', { body: { id: newId(), what, of_id } }))
    } catch (error) {
      // Somebody else took it back meanwhile: the page says so once it is asked again.
      if (!(error instanceof Problem)) throw error
    } finally {
      await refresh()
      free_at = performance.now() + SETTLES_MS
    }
  }
  return (
    <Button quiet className={className} aria-label={of && `${label}: ${of}`} onClick={() => void take()}>
      {label}
    </Button>
  )
}
