import type { FetchQueryOptions } from '@tanstack/react-query'
import {
  CalendarClock,
  DoorClosed,
  FlaskConical,
  Hourglass,
  type LucideIcon,
  NotebookText,
  Package,
  Plane,
  Sunrise,
} from 'lucide-react'
import type { ComponentType } from 'react'
import { airframeQuestion, todayQuestion } from '@/api/questions'

type Page = {
  /** Where it is found. */
  paths: string[]
  open: () => Promise<{ default: ComponentType }>
  /** Its place in the row of views, where it has one. */
  view?: { name: string; icon: LucideIcon }
  /** The view it belongs to, where it has none of its own. */
  within?: string
  /** What it asks for first: asked at once, while its code is still on the way. */
  first?: FetchQueryOptions<unknown, Error, unknown, string[]>
}

/** Every page there is. The views stand in the order of the work; number keys follow it. */
export const PAGES: Page[] = [
  {
    paths: ['/today'],
    open: () => import('@/views/today/today-page'),
    view: { name: 'Today', icon: Sunrise },
    first: todayQuestion as Page['first'],
  },
  {
    paths: ['/airframe'],
    open: () => import('@/views/airframe/airframe-page'),
    view: { name: 'Airframe', icon: Plane },
    first: airframeQuestion as Page['first'],
  },
  { paths: ['/found'], open: () => import('@/views/airframe/found-page'), within: '/airframe' },
  { paths: ['/part/:id/:tab'], open: () => import('@/views/part/part-page'), within: '/airframe' },
  {
    paths: ['/mix'],
    open: () => import('@/views/bench/bench-page'),
    view: { name: 'Mix', icon: FlaskConical },
  },
  {
    paths: ['/cure', '/cure/:part'],
    open: () => import('@/views/cure/cure-page'),
    view: { name: 'Cure', icon: Hourglass },
  },
  {
    paths: ['/loom'],
    open: () => import('@/views/loom/loom-page'),
    view: { name: 'Loom', icon: CalendarClock },
  },
  {
    paths: ['/gates'],
    open: () => import('@/views/gates/gates-page'),
    view: { name: 'Gates', icon: DoorClosed },
  },
  { paths: ['/irons'], open: () => import('@/views/irons/irons-page'), within: '/stores' },
  { paths: ['/gates/:part/:step'], open: () => import('@/views/gates/gate-page'), within: '/gates' },
  {
    paths: ['/stores'],
    open: () => import('@/views/stores/stores-page'),
    view: { name: 'Stores', icon: Package },
  },
  {
    paths: ['/logbook'],
    open: () => import('@/views/logbook/logbook-page'),
    view: { name: 'Logbook', icon: NotebookText },
  },
  { paths: ['/stores/needs'], open: () => import('@/views/stores/needs-page'), within: '/stores' },
  { paths: ['/stores/order'], open: () => import('@/views/stores/order-page'), within: '/stores' },
  { paths: ['/stores/orders'], open: () => import('@/views/stores/orders-page'), within: '/stores' },
  { paths: ['/stores/items'], open: () => import('@/views/stores/items-page'), within: '/stores' },
  { paths: ['/stores/costs'], open: () => import('@/views/stores/costs-page'), within: '/stores' },
  {
    paths: ['/stores/new', '/stores/:id'],
    open: () => import('@/views/stores/sheet-page'),
    within: '/stores',
  },
  {
    paths: ['/weights/:airframe'],
    open: () => import('@/views/weight/weights-page'),
    within: '/airframe',
  },
  {
    paths: ['/joints/:airframe'],
    open: () => import('@/views/joints/joints-page'),
    within: '/airframe',
  },
  { paths: ['/cut'], open: () => import('@/views/cut/cut-plans-page'), within: '/stores' },
  { paths: ['/cut/:plan'], open: () => import('@/views/cut/cut-plan-page'), within: '/stores' },
  { paths: ['/cut/:plan/table/:way'], open: () => import('@/views/cut/table-page'), within: '/stores' },
  { paths: ['/air'], open: () => import('@/views/air/air-page') },
  { paths: ['/begin'], open: () => import('@/views/begin/begin-page') },
  { paths: ['/crew'], open: () => import('@/views/crew/crew-page') },
  { paths: ['/run/:part/:step'], open: () => import('@/views/run/run-page') },
]

/** The page an address belongs to; Today where there is none. */
export function pageAt(address: string) {
  const root = address.split('/')[1]
  const found = PAGES.find((page) => page.paths.some((path) => path.split('/')[1] === root))
  return found ?? PAGES[0]
}

export const VIEWS = PAGES.flatMap(({ paths: [path = ''], view }) => (view ? [{ path, ...view }] : []))

/** The view whose place is marked at an address. */
export const viewAt = (address: string) => {
  const page = pageAt(address)
  return page?.within ?? page?.paths[0]
}
