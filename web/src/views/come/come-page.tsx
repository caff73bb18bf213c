import { useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { useLocation, useNavigate } from 'react-router'
import { answer, client, Problem } from '@/api/client'
import { heardOf } from '@/api/present'
import { ButtonLink } from '@/ui/button'
import { Notice } from '@/ui/notice'

/** Where an inspector's link leads: in, to the closings, while it lasts. */
export default function ComePage() {
  const link = useLocation().hash.slice(1)
  const go = useNavigate()
  const queries = useQueryClient()
  const [problem, setProblem] = useState('')
  useEffect(() => {
    const come = async () => {
      try {
        const view = await answer(client.POST('/api/v1/sign-in/link', { body: { link } }))
        queries.setQueryData(['sign-in'], view)
        heardOf(view)
        await go('/gates', { replace: true })
        await queries.invalidateQueries()
      } catch (error) {
        if (!(error instanceof Problem)) throw error
        setProblem(error.message)
      }
    }
    void come()
  }, [link, go, queries])
  return (
    <div className="mx-auto flex max-w-xl flex-col gap-4 p-8">
      <h1 className="font-semibold text-2xl">{problem ? 'This link does not lead in' : 'Coming in…'}</h1>
      {problem && (
        <>
          <Notice tone="stop">{problem}</Notice>
          <ButtonLink quiet to="/today" className="self-start">
            I am one of the crew
          </ButtonLink>
        </>
      )}
    </div>
  )
}
