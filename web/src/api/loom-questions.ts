// What the Loom asks: the plan in lanes, one step of it, and what it is weighed up by.
import { useQuery } from '@tanstack/react-query'
import { answer, client, type LoomAnswer } from './client'
import { unpacked } from './loom'

export type By = 'part' | 'person' | 'station'

type Lanes = { start: string; days: number; by: By; compare: boolean; airframe: string }

/** The plan in lanes. */
const loomQuestion = (asked: Lanes, supposed: boolean) => ({
  queryFn: (): Promise<LoomAnswer> => {
    const { start, ...rest } = asked
    const query = { ...rest, supposed, ...(start ? { start } : {}) }
    return answer(client.GET('/api/v1/loom', { params: { query } }))
  },
  select: unpacked,
  placeholderData: (before: LoomAnswer | undefined) => before,
  refetchInterval: 60_000,
  retry: false,
})

/** The plan in lanes; or as the last what-if supposes it, over the plan there is. */
export function useLoom(asked: Lanes, supposed: boolean) {
  const there = useQuery({ queryKey: ['loom', asked], ...loomQuestion(asked, false), enabled: !supposed })
  const other = useQuery({
    queryKey: ['loom-supposed', asked],
    ...loomQuestion(asked, true),
    enabled: supposed,
  })
  // Until the other is there the one that was looked at stays.
  return supposed && other.data ? other : there
}

/** The last search for a better order; while one runs each find is told. */
export const useBetterOrder = () =>
  useQuery({
    queryKey: ['better-order'],
    queryFn: () => answer(client.GET('/api/v1/better-order')),
    refetchInterval: 60_000,
  })

/** The accepted plan placed again from what was kept with it. */
export const useAccepted = () =>
  useQuery({ queryKey: ['accepted'], queryFn: () => answer(client.GET('/api/v1/plan/accepted')) })

/** The last what-if, beside the plan there is; asked for only where it is looked at, for it takes whole plans. */
export const useWhatIf = (seen = true) =>
  useQuery({
    queryKey: ['what-if'],
    queryFn: () => answer(client.GET('/api/v1/what-if')),
    refetchInterval: 60_000,
    enabled: seen,
  })

/** What each single relief brings; more of them while it is looked into. */
export const useWhatHelps = () =>
  useQuery({ queryKey: ['what-helps'], queryFn: () => answer(client.GET('/api/v1/what-helps')) })

/** What drawn plans say of the end; more of them while they are drawn. */
export const useHowSure = () =>
  useQuery({ queryKey: ['how-sure'], queryFn: () => answer(client.GET('/api/v1/how-sure')) })

/** One step of the plan, once it is picked: when, by whom, why not sooner. */
export const usePlannedStep = (part_id: string, step_key: string) =>
  useQuery({
    queryKey: ['loom-step', part_id, step_key],
    queryFn: () => answer(client.GET('/api/v1/loom/step', { params: { query: { part_id, step_key } } })),
    enabled: part_id !== '',
    refetchInterval: 60_000,
  })
