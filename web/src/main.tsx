import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { createBrowserRouter, Navigate, Outlet, RouterProvider, redirect } from 'react-router'
import { formatsQuestion, shopQuestion, weatherQuestion } from './api/questions'
import { FormatsProvider } from './app/formats'
import { FromWhatProvider } from './app/from-what'
import { PAGES, pageAt } from './app/pages'
import { Fetching, Shell } from './app/shell'
import { SignInOver } from './app/sign-in'
import { theme, wear } from './app/theme'
import { NoteSheets } from './views/logbook/note-sheet'
import './index.css'

wear(theme())

const queries = new QueryClient({
  defaultOptions: { queries: { staleTime: 5_000, retry: 1, refetchOnWindowFocus: true } },
})

// What the first screen needs is asked for at once, not one after another.
const first = pageAt(location.pathname)
void first?.open()
for (const question of [shopQuestion, formatsQuestion, weatherQuestion]) {
  void queries.prefetchQuery(question as typeof shopQuestion)
}
if (first?.first) void queries.prefetchQuery(first.first)

const router = createBrowserRouter([
  {
    HydrateFallback: Fetching,
    // Who is here is asked over every page, also over one that still waits for the shop.
    element: (
      <>
        <Outlet />
        <SignInOver />
      </>
    ),
    children: [
      { path: '/come', lazy: async () => ({ Component: (await import('./views/come/come-page')).default }) },
      {
        element: (
          <FormatsProvider>
            <FromWhatProvider>
              <NoteSheets>
                <Shell />
              </NoteSheets>
            </FromWhatProvider>
          </FormatsProvider>
        ),
        children: [
          // The page before stays until the code of the next is there: nothing is blank in between.
          ...PAGES.flatMap(({ paths, open }) =>
            paths.map((path) => ({ path, lazy: async () => ({ Component: (await open()).default }) })),
          ),
          // Where parts were found before: kept for what was bookmarked.
          { path: '/surface/:id/:tab', loader: ({ params }) => redirect(`/part/${params.id}/${params.tab}`) },
          { path: '/part/:id', element: <Navigate to="shape" replace relative="path" /> },
          { path: '*', element: <Navigate to="/today" replace /> },
        ],
      },
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
