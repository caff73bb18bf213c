import createClient from 'openapi-fetch'
import { v4 } from 'uuid'
import { sayHeard, takeIn } from './heard'
import { askFor, asWho } from './present'
import type { components, paths } from './schema'
import { writes } from './writing'

// A pair of numbers comes over the wire as a list.
type Wide<T> = T extends [number, number]
  ? number[]
  : T extends (infer U)[]
    ? Wide<U>[]
    : T extends object
      ? { [K in keyof T]: Wide<T[K]> }
      : T
type Schemas = Wide<components['schemas']>

export type Figure = Schemas['ShapeViewOut.Figure']
// What an order may leave out is there in an answer.
type Whole<T> = T extends [number, number]
  ? T
  : T extends (infer U)[]
    ? Whole<U>[]
    : T extends object
      ? { [K in keyof T]-?: Whole<Exclude<T[K], undefined>> }
      : T
export type ShapeTyped = Whole<components['schemas']['LookAtShapeIn']['shape']>
export type ShapeView = Omit<Whole<Schemas['ShapeViewOut']>, 'typed'> & { typed: ShapeTyped }
export type ShapeLook = Whole<Schemas['ShapeLookOut']>
export type JobLook = Schemas['JobLookOut']
export type AirframeLooked = Schemas['AirframeLookedOut']
export type PiecesView = Schemas['PiecesViewOut']
export type ChecksView = Schemas['ChecksViewOut']
export type CheckView = ChecksView['checks'][number]
export type IronView = Schemas['IronsViewOut']['irons'][number]
export type TankView = Schemas['TankViewOut']
export type ClothView = Schemas['ClothViewOut']
export type CutListView = Schemas['CutListViewOut']
export type CoatsView = Schemas['CoatsViewOut']
export type TapsView = Schemas['TapsViewOut']
export type GatesView = Schemas['GatesViewOut']
export type GateView = Schemas['GateViewOut']
export type JointView = Schemas['JointViewOut']
export type LogbookView = Schemas['LogbookViewOut']
export type LogEntry = LogbookView['days'][number]['entries'][number]
export type HoleSaid = Schemas['HoleSaidOut']
export type JointsView = Schemas['JointsViewOut']
export type PliesView = Schemas['PliesViewOut']
export type Learnt = Schemas['LearntViewOut']
export type MixView = Schemas['MixViewOut']
export type BatchView = MixView['batches'][number]
export type TimesView = Schemas['TimesViewOut']
export type StepView = TimesView['steps'][number]
export type AirframeView = Schemas['AirframeViewOut']
export type PartCard = AirframeView['assemblies'][number]['parts'][number]
export type PartHead = Schemas['PartHeadOut']
export type JobHead = PartHead['jobs'][number]
export type JobView = Schemas['JobViewOut']
export type Bench = Schemas['BenchOut']
export type Product = Bench['products'][number]
export type Pour = Schemas['PourOut']
export type Shop = Schemas['ShopViewOut']
export type Weather = Schemas['WeatherViewOut']
export type Format = Schemas['Formats.Format']
export type TodayView = Schemas['TodayViewOut']
export type TodayRow = TodayView['bench'][number]
export type Action = TodayView['actions'][number]
export type WhatIf = Schemas['WhatIfOut']
export type Supposed = Schemas['AskPlanIn.Supposed']
export type WhatHelps = Schemas['WhatHelpsOut']
export type HowSure = Schemas['HowSureViewOut']
export type LoomAnswer = Schemas['LoomViewOut']
export type PlannedStep = NonNullable<Schemas['PlannedStepOut']>
export type CuresView = Schemas['CuresViewOut']
export type CureCard = CuresView['cards'][number]
export type Tried = Schemas['TriedOut']
export type ZonesView = Schemas['ZonesViewOut']
export type ZoneView = ZonesView['zones'][number]
export type Preview = Schemas['PreviewOut']
export type Alert = Weather['alerts'][number]
export type BuiltFromView = Schemas['BuiltFromOut']
export type PeopleView = Schemas['PeopleViewOut']
export type Person = PeopleView['people'][number]
export type Station = PeopleView['stations'][number]
export type RunSheet = Schemas['RunSheetOut']
export type ShelfView = Schemas['ShelfViewOut']
export type SheetView = Schemas['SheetViewOut']
export type LookedSheets = Schemas['LookedOut']
export type NeedsView = Schemas['NeedsViewOut']
export type OrderList = Schemas['OrderListOut']
export type ToOrder = OrderList['later'][number]
export type OrdersView = Schemas['OrdersViewOut']
export type OrderRow = OrdersView['orders'][number]
export type ItemsView = Schemas['ItemsViewOut']
export type ItemRow = ItemsView['items'][number]
export type KitLooked = Schemas['KitLookedOut']
export type AnswerLooked = Schemas['AnswerLookedOut']
export type CostsView = Schemas['CostsViewOut']
export type Compared = Schemas['ComparedOut']
export type ScaleView = Schemas['ScaleViewOut']
export type BatchTrail = Schemas['TrailOut']
export type OpenCup = Weather['cups'][number]
export type PostCureTried = Schemas['PostCureTriedOut']
export type DeviationsView = Schemas['DeviationsViewOut']
export type Deviation = DeviationsView['deviations'][number]
export type WeightView = Schemas['WeightViewOut']
export type AirframeWeights = Schemas['AirframeWeightsOut']
export type CutPlansView = Schemas['CutPlansViewOut']
export type CutPlanView = Schemas['CutPlanViewOut']
export type CutWay = CutPlanView['ways'][number]
export type BetterOrder = Schemas['BetterOrderOut']
export type Typed = { text: string; unit: string }

export const client = createClient<paths>({
  baseUrl: '',
  fetch: async (request) => {
    const writes = request.method !== 'GET'
    // Read once, so that it can be sent twice.
    const body = writes ? await request.text() : undefined
    const { url, method, headers, signal } = request
    return asWho(() => fetch(url, { method, headers, body, signal }), writes)
  },
})
// A change without a body says what it is, too: what comes from other pages can't.
client.use({
  onRequest({ request }) {
    if (request.method !== 'GET' && !request.headers.has('Content-Type'))
      request.headers.set('Content-Type', 'application/json')
    if (request.method !== 'GET') {
      sayHeard(request)
      writes(1)
    }
    return request
  },
  onResponse({ request, response }) {
    if (request.method === 'GET') return
    takeIn(response)
    writes(-1)
  },
  onError({ request }) {
    if (request.method !== 'GET') writes(-1)
  },
})

/** What the shop answered instead of doing it: one sentence, and one for each field. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    detail: string,
    readonly fields: Record<string, string>,
    readonly version?: number,
    readonly changed: string[] = [],
  ) {
    super(detail)
  }
}

type Details = {
  detail?: string
  errors?: { field: string; sentence: string }[]
  version?: number
  changed?: string[]
  sign_in?: string
}

/** The data of an answer, or its problem thrown. */
export async function answer<T>(
  asked: Promise<{ data?: T; error?: unknown; response: Response }>,
): Promise<T> {
  let got: { data?: T; error?: unknown; response: Response }
  try {
    got = await asked
  } catch {
    throw new Problem(0, 'The shop computer does not answer. Nothing was saved; try again.', {})
  }
  if (got.data !== undefined) return got.data
  const details = (got.error ?? {}) as Details
  // Somebody else must sign for this: they may do so at once.
  if (details.sign_in) askFor(details.sign_in)
  const fields = Object.fromEntries((details.errors ?? []).map((e) => [e.field, e.sentence]))
  // For a builder the sentences alone: which field it is, is the form's business.
  const sentences = (details.errors ?? []).map((e) => e.sentence).join('; ')
  throw new Problem(
    got.response.status,
    sentences ? sentences.charAt(0).toUpperCase() + sentences.slice(1) : (details.detail ?? 'Not done.'),
    fields,
    details.version,
    details.changed,
  )
}

/** An id of its own, also where the shop is reached by plain http: the browser's `randomUUID` is not there then. */
export const newId = () => v4()
