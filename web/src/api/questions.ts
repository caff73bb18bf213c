// One hook a question.
import { queryOptions, useInfiniteQuery, useQuery } from '@tanstack/react-query'
import { useDeferredValue } from 'react'
import { answer, client, type ShapeLook, type ShapeView } from './client'
import type { paths } from './schema'

export const airframeQuestion = queryOptions({
  queryKey: ['airframe'],
  queryFn: () => answer(client.GET('/api/v1/airframe')),
})
export const shopQuestion = queryOptions({
  queryKey: ['shop'],
  queryFn: () => answer(client.GET('/api/v1/shop')),
})
export const formatsQuestion = queryOptions({
  queryKey: ['formats'],
  queryFn: () => answer(client.GET('/api/v1/formats')),
  staleTime: Number.POSITIVE_INFINITY,
})
export const weatherQuestion = queryOptions({
  queryKey: ['weather'],
  queryFn: () => answer(client.GET('/api/v1/weather')),
  refetchInterval: 60_000,
})

export const todayQuestion = queryOptions({
  queryKey: ['today'],
  queryFn: () => answer(client.GET('/api/v1/today')),
  refetchInterval: 30_000,
})
export const useSignIn = () =>
  useQuery({ queryKey: ['sign-in'], queryFn: () => answer(client.GET('/api/v1/sign-in')), staleTime: 60_000 })

export const useToday = () => useQuery(todayQuestion)

/** What is held after those that stand on Today; asked when somebody wants to see it. */
export const useHeld = (wanted: boolean) =>
  useQuery({
    queryKey: ['held'],
    queryFn: () => answer(client.GET('/api/v1/today/held')),
    enabled: wanted,
  })

export const useCures = () =>
  useQuery({
    queryKey: ['cures'],
    queryFn: () => answer(client.GET('/api/v1/cures')),
    refetchInterval: 30_000,
  })

export const usePeople = () =>
  useQuery({ queryKey: ['people'], queryFn: () => answer(client.GET('/api/v1/people')) })

export const useBuiltFrom = (id: string) =>
  useQuery({
    queryKey: ['built-from', id],
    queryFn: () =>
      answer(client.GET('/api/v1/parts/{part_id}/built-from', { params: { path: { part_id: id } } })),
  })

export const useIrons = () =>
  useQuery({ queryKey: ['irons'], queryFn: () => answer(client.GET('/api/v1/irons')) })

export const useDeliveries = () =>
  useQuery({ queryKey: ['deliveries'], queryFn: () => answer(client.GET('/api/v1/deliveries')) })

export const useZones = () =>
  useQuery({ queryKey: ['zones'], queryFn: () => answer(client.GET('/api/v1/climate/zones')) })

/** An airframe and its parts; the first where none is named. */
export const useAirframe = (id = '') =>
  useQuery(
    id
      ? {
          queryKey: ['airframe', id],
          queryFn: () => answer(client.GET('/api/v1/airframe', { params: { query: { id } } })),
        }
      : airframeQuestion,
  )
export const useShop = () => useQuery(shopQuestion)
export const useFormats = () => useQuery(formatsQuestion)
export const useWeather = () => useQuery(weatherQuestion)

export const useBench = () =>
  useQuery({ queryKey: ['bench'], queryFn: () => answer(client.GET('/api/v1/bench')) })

export const useShelf = () =>
  useQuery({ queryKey: ['shelf'], queryFn: () => answer(client.GET('/api/v1/shelf')) })

export type Sought = Record<'part' | 'person' | 'product' | 'lot' | 'kind' | 'words', string>
/** The book as far as it was turned back. */
export const useLogbook = (sought: Sought) =>
  useInfiniteQuery({
    queryKey: ['logbook', sought],
    queryFn: ({ pageParam: before }) =>
      answer(client.GET('/api/v1/logbook', { params: { query: { ...sought, before } } })),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (page) => page.before ?? undefined,
    placeholderData: (before) => before,
  })
export const useNoteForm = () =>
  useQuery({ queryKey: ['note-form'], queryFn: () => answer(client.GET('/api/v1/note-form')) })

export const useNeeds = (airframe: string, assembly: string, part: string, days: number) =>
  useQuery({
    queryKey: ['needs', airframe, assembly, part, days],
    queryFn: () =>
      answer(client.GET('/api/v1/needs', { params: { query: { airframe, assembly, part, days } } })),
    placeholderData: (before) => before,
  })
export const useOrderList = () =>
  useQuery({ queryKey: ['order-list'], queryFn: () => answer(client.GET('/api/v1/order-list')) })
export const useOrders = () =>
  useQuery({ queryKey: ['orders'], queryFn: () => answer(client.GET('/api/v1/orders')) })
export const useItems = () =>
  useQuery({ queryKey: ['items'], queryFn: () => answer(client.GET('/api/v1/items')) })
export const useCosts = () =>
  useQuery({ queryKey: ['costs'], queryFn: () => answer(client.GET('/api/v1/costs')) })

export const useSheet = (id: string) =>
  useQuery({
    queryKey: ['sheet', id],
    queryFn: () => answer(client.GET('/api/v1/shelf/{sheet_id}', { params: { path: { sheet_id: id } } })),
    enabled: id !== '',
  })

export const useBlankSheet = (wanted: { kind: string; like: string } | null) =>
  useQuery({
    queryKey: ['blank-sheet', wanted],
    queryFn: () =>
      answer(client.GET('/api/v1/shelf/blank', { params: { query: wanted ?? { kind: '', like: '' } } })),
    enabled: wanted !== null,
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  })

const at = (part_id: string) => ({ params: { path: { part_id } } })

export const usePart = (id: string) =>
  useQuery({
    queryKey: ['part', id],
    queryFn: () => answer(client.GET('/api/v1/parts/{part_id}', at(id))),
  })

/** What was found wrong on a part, and how each stands. */
export const useDeviations = (id: string) =>
  useQuery({
    queryKey: ['deviations', id],
    queryFn: () => answer(client.GET('/api/v1/parts/{part_id}/deviations', at(id))),
  })

export const useShape = (id: string, shaped = true) =>
  useQuery({
    queryKey: ['shape', id],
    queryFn: async () => (await answer(client.GET('/api/v1/parts/{part_id}/shape', at(id)))) as ShapeView,
    enabled: shaped,
  })

type ShapeAsked = NonNullable<
  paths['/api/v1/shapes/look']['post']['requestBody']
>['content']['application/json']

/** A shape as it is typed, drawn and measured, or why it can't be; the drawing before stays meanwhile. */
export function useShapeLook(typed: ShapeAsked | null) {
  const asked = useDeferredValue(typed)
  return useQuery({
    queryKey: ['shape-look', asked],
    queryFn: async () =>
      (await answer(client.POST('/api/v1/shapes/look', { body: asked as ShapeAsked }))) as ShapeLook,
    enabled: asked !== null,
    placeholderData: (before) => before,
    retry: false,
    gcTime: 10_000,
  }).data
}

type JobAsked = NonNullable<
  paths['/api/v1/parts/{part_id}/jobs/look']['post']['requestBody']
>['content']['application/json']

/** What a job would come to on a part, before it is kept. */
export const useJobLook = (part_id: string, asked: JobAsked | null) =>
  useQuery({
    queryKey: ['job-look', part_id, asked],
    queryFn: () =>
      answer(client.POST('/api/v1/parts/{part_id}/jobs/look', { ...at(part_id), body: asked as JobAsked })),
    enabled: asked !== null,
    placeholderData: (before) => before,
    retry: false,
  })

const ofJob = (part_id: string, job: string) => ({ params: { path: { part_id }, query: { job } } })

export const useJob = (id: string, job: string) =>
  useQuery({
    queryKey: ['job', id, job],
    queryFn: () => answer(client.GET('/api/v1/parts/{part_id}/job', ofJob(id, job))),
  })

/** What is still to be used up for an airframe, or for one of its assemblies. */
export const useAirframeTakes = (airframe_id: string, assembly: string) =>
  useQuery({
    queryKey: ['airframe-takes', airframe_id, assembly],
    queryFn: () =>
      answer(
        client.GET('/api/v1/airframes/{airframe_id}/takes', {
          params: { path: { airframe_id }, query: { assembly } },
        }),
      ),
    placeholderData: (before) => before,
  })

/** What a part weighs, and how it hangs on its hinge. */
export const useWeight = (id: string) =>
  useQuery({
    queryKey: ['weight', id],
    queryFn: () => answer(client.GET('/api/v1/parts/{part_id}/weight', at(id))),
  })

/** An airframe weighed together. */
export const useAirframeWeights = (airframe_id: string) =>
  useQuery({
    queryKey: ['airframe-weights', airframe_id],
    queryFn: () =>
      answer(client.GET('/api/v1/airframes/{airframe_id}/weights', { params: { path: { airframe_id } } })),
    retry: false,
  })

/** Every cut plan, what is in none yet, and remnants on the shelf. */
export const useCutPlans = () =>
  useQuery({ queryKey: ['cut-plans'], queryFn: () => answer(client.GET('/api/v1/cut-plans')) })

export const useCutPlan = (plan_id: string) =>
  useQuery({
    queryKey: ['cut-plan', plan_id],
    queryFn: () => answer(client.GET('/api/v1/cut-plans/{plan_id}', { params: { path: { plan_id } } })),
    retry: false,
  })

export const usePlies = (id: string, job: string) =>
  useQuery({
    queryKey: ['plies', id, job],
    queryFn: () => answer(client.GET('/api/v1/parts/{part_id}/plies', ofJob(id, job))),
  })

/** The pieces a job's ply book is cut into; not asked while no job is named. */
export const usePieces = (id: string, job: string | null) =>
  useQuery({
    queryKey: ['pieces', id, job],
    queryFn: () => answer(client.GET('/api/v1/parts/{part_id}/pieces', ofJob(id, job ?? ''))),
    enabled: job !== null,
  })

/** What a part takes: in one job, or for one step; in all its jobs where neither is named. */
export const useMix = (id: string, of: { job?: string; step?: string } = {}) =>
  useQuery({
    queryKey: ['mix', id, of],
    queryFn: () =>
      answer(client.GET('/api/v1/parts/{part_id}/mix', { params: { path: { part_id: id }, query: of } })),
    enabled: id !== '',
  })

export const useTimes = (id: string, start: string) =>
  useQuery({
    queryKey: ['times', id, start],
    queryFn: () =>
      answer(
        client.GET('/api/v1/parts/{part_id}/times', {
          params: { path: { part_id: id }, query: start ? { start } : {} },
        }),
      ),
    placeholderData: (before) => before,
    retry: false,
  })

/** What of a product's sheet speaks against mixing it now, where it goes. */
export const useLimits = (sheet_id: string, part_id: string, step_key: string) =>
  useQuery({
    queryKey: ['limits', sheet_id, part_id, step_key],
    queryFn: () => answer(client.POST('/api/v1/bench/limits', { body: { sheet_id, part_id, step_key } })),
    refetchInterval: 60_000,
    retry: false,
  })

/** A joint: its faces, what it takes, its dry fit and its turn. */
export const useJoint = (id: string) =>
  useQuery({
    queryKey: ['joint', id],
    queryFn: () => answer(client.GET('/api/v1/parts/{part_id}/joint', at(id))),
    // A face that is ready does not stay so.
    refetchInterval: 30_000,
  })

/** The joints of an airframe in the order they are made. */
export const useJoints = (airframe: string) =>
  useQuery({
    queryKey: ['joints', airframe],
    queryFn: () =>
      answer(
        client.GET('/api/v1/airframes/{airframe_id}/joints', { params: { path: { airframe_id: airframe } } }),
      ),
  })

/** The checks of a part, and what they found. */
export const useChecks = (id: string) =>
  useQuery({
    queryKey: ['checks', id],
    queryFn: () => answer(client.GET('/api/v1/parts/{part_id}/checks', at(id))),
  })

/** A joint tapped with a coin. */
export const useTaps = (id: string) =>
  useQuery({
    queryKey: ['taps', id],
    queryFn: () => answer(client.GET('/api/v1/parts/{part_id}/taps', at(id))),
    retry: false,
  })

/** Cloth that covers a part, laid flat. */
export const useCloth = (id: string, job: string) =>
  useQuery({
    queryKey: ['cloth', id, job],
    queryFn: () => answer(client.GET('/api/v1/parts/{part_id}/cloth', ofJob(id, job))),
    retry: false,
  })

/** A job's coats, with the parts it is coated with in one go. */
export const useCoats = (id: string, job: string) =>
  useQuery({
    queryKey: ['coats', id, job],
    queryFn: () => answer(client.GET('/api/v1/parts/{part_id}/coats', ofJob(id, job))),
    retry: false,
  })

/** What is sawn for a job out of lengths of stock. */
export const useCutList = (id: string, job: string) =>
  useQuery({
    queryKey: ['cut-list', id, job],
    queryFn: () => answer(client.GET('/api/v1/parts/{part_id}/cut-list', ofJob(id, job))),
    retry: false,
  })

/** A tank under pressure: what was read of it, and what that says. */
export const useTank = (id: string) =>
  useQuery({
    queryKey: ['tank', id],
    queryFn: () => answer(client.GET('/api/v1/parts/{part_id}/tank', at(id))),
    retry: false,
  })

/** Every closing, with what is left before it. */
export const useGates = () =>
  useQuery({ queryKey: ['gates'], queryFn: () => answer(client.GET('/api/v1/gates')) })

/** One closing with its list. */
export const useGate = (part_id: string, step_key: string) =>
  useQuery({
    queryKey: ['gate', part_id, step_key],
    queryFn: () => answer(client.GET('/api/v1/gate', { params: { query: { part_id, step_key } } })),
  })
