import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { lazy, StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { createBrowserRouter, Navigate, RouterProvider } from 'react-router'
import { airframeQuestion, formatsQuestion, shopQuestion, weatherQuestion } from './api/questions'
import { FormatsProvider } from './app/formats'
import { FromWhatProvider } from './app/from-what'
import { Shell } from './app/shell'
import { theme, wear } from './app/theme'
import './index.css'

wear(theme())

const airframePage = () => import('./views/airframe/airframe-page')
const surfacePage = () => import('./views/surface/surface-page')
const mixPage = () => import('./views/mix/mix-page')
const AirframePage = lazy(airframePage)
const SurfacePage = lazy(surfacePage)
const MixPage = lazy(mixPage)

const queries = new QueryClient({
  defaultOptions: { queries: { staleTime: 5_000, retry: 1, refetchOnWindowFocus: true } },
})

// What the first screen needs is asked for at once, not one after another.
const here = location.pathname
void (here.startsWith('/surface') ? surfacePage() : here.startsWith('/mix') ? mixPage() : airframePage())
void queries.prefetchQuery(shopQuestion)
void queries.prefetchQuery(formatsQuestion)
void queries.prefetchQuery(weatherQuestion)
void queries.prefetchQuery(airframeQuestion)

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
      { path: '/airframe', element: <AirframePage /> },
      { path: '/surface/:id', element: <Navigate to="shape" replace relative="path" /> },
      { path: '/surface/:id/:tab', element: <SurfacePage /> },
      { path: '/mix', element: <MixPage /> },
      { path: '*', element: <Navigate to="/airframe" replace /> },
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
