import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { lazy, StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { createBrowserRouter, Navigate, RouterProvider, redirect } from 'react-router'
import {
  airframeQuestion,
  formatsQuestion,
  shopQuestion,
  todayQuestion,
  weatherQuestion,
} from './api/questions'
import { FormatsProvider } from './app/formats'
import { FromWhatProvider } from './app/from-what'
import { Shell } from './app/shell'
import { theme, wear } from './app/theme'
import './index.css'

wear(theme())

const airframePage = () => import('./views/airframe/airframe-page')
const partPage = () => import('./views/part/part-page')
const mixPage = () => import('./views/mix/mix-page')
const todayPage = () => import('./views/today/today-page')
const curePage = () => import('./views/cure/cure-page')
const loomPage = () => import('./views/loom/loom-page')
const airPage = () => import('./views/air/air-page')
const storesPage = () => import('./views/stores/stores-page')
const sheetPage = () => import('./views/stores/sheet-page')
const StoresPage = lazy(storesPage)
const SheetPage = lazy(sheetPage)
const TodayPage = lazy(todayPage)
const CurePage = lazy(curePage)
const LoomPage = lazy(loomPage)
const AirPage = lazy(airPage)
const AirframePage = lazy(airframePage)
const PartPage = lazy(partPage)
const MixPage = lazy(mixPage)
const RunPage = lazy(() => import('./views/run/run-page'))
const CrewPage = lazy(() => import('./views/crew/crew-page'))

const queries = new QueryClient({
  defaultOptions: { queries: { staleTime: 5_000, retry: 1, refetchOnWindowFocus: true } },
})

// What the first screen needs is asked for at once, not one after another.
const here = location.pathname
const pages: [string, () => Promise<unknown>][] = [
  ['/part', partPage],
  ['/mix', mixPage],
  ['/airframe', airframePage],
  ['/cure', curePage],
  ['/loom', loomPage],
  ['/air', airPage],
  ['/stores', storesPage],
]
void (pages.find(([path]) => here.startsWith(path))?.[1] ?? todayPage)()
void queries.prefetchQuery(shopQuestion)
void queries.prefetchQuery(formatsQuestion)
void queries.prefetchQuery(weatherQuestion)
if (here.startsWith('/airframe')) void queries.prefetchQuery(airframeQuestion)
else if (here === '/' || here.startsWith('/today')) void queries.prefetchQuery(todayQuestion)

const router = createBrowserRouter([
  {
    element: (
      <FormatsProvider>
        <FromWhatProvider>
          <Shell />
        </FromWhatProvider>
      </FormatsProvider>
    ),
    children: [
      { path: '/today', element: <TodayPage /> },
      { path: '/airframe', element: <AirframePage /> },
      { path: '/cure', element: <CurePage /> },
      { path: '/cure/:part', element: <CurePage /> },
      { path: '/loom', element: <LoomPage /> },
      { path: '/air', element: <AirPage /> },
      { path: '/crew', element: <CrewPage /> },
      { path: '/run/:part/:step', element: <RunPage /> },
      // Where parts were found before: kept for what was bookmarked.
      { path: '/surface/:id/:tab', loader: ({ params }) => redirect(`/part/${params.id}/${params.tab}`) },
      { path: '/part/:id', element: <Navigate to="shape" replace relative="path" /> },
      { path: '/part/:id/:tab', element: <PartPage /> },
      { path: '/stores', element: <StoresPage /> },
      { path: '/stores/new', element: <SheetPage /> },
      { path: '/stores/:id', element: <SheetPage /> },
      { path: '/mix', element: <MixPage /> },
      { path: '*', element: <Navigate to="/today" replace /> },
    ],
  },
])

const root = document.getElementById('root')
if (root) {
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <RouterProvider router={router} />
      </QueryClientProvider>
    </StrictMode>,
  )
}
