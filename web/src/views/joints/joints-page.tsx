import { Link, useParams } from 'react-router'
import type { JointsView } from '@/api/client'
import { useJoints } from '@/api/questions'
import { Notice } from '@/ui/notice'
import { JointThreads } from '@/weave/joint-threads'

/** The joints of an airframe in the order they are made, drawn, with why each comes when it does. */
export default function JointsPage() {
  const { airframe = '' } = useParams()
  const asked = useJoints(airframe)
  if (asked.error && !asked.data)
    return (
      <Notice tone="stop" className="m-6">
        {asked.error.message}
      </Notice>
    )
  const view = asked.data
  if (!view) return null
  return (
    <div className="flex flex-col gap-5 p-6 max-sm:p-4">
      <header>
        <p className="text-soft">
          <Link
            to={`/airframe?id=${view.airframe_id}`}
            className="inline-flex min-h-11 items-center underline"
          >
            {view.airframe}
          </Link>
        </p>
        <h1 className="font-semibold text-2xl">The order of its joints</h1>
        <p className="text-lg">{view.sentence}</p>
      </header>
      {view.against && (
        <Notice tone="stop">
          <span className="font-semibold">No order does for all of them.</span> {view.against}.
        </Notice>
      )}
      {view.knots.length > 0 && (
        <>
          <p className="max-w-4xl text-soft">
            Dotted: still loose. Two red lines: half fixed, do not leave it so. Thick: fixed. An open ring
            must still be loose then; a square holds the joint, or must be located before. A bar across is a
            safe stop: everything is stable, you may go home.
          </p>
          <JointThreads view={view} />
        </>
      )}
      <Unsaid view={view} />
      <p className="text-soft text-sm">{view.caution}</p>
    </div>
  )
}

function Unsaid({ view }: { view: JointsView }) {
  if (view.unsaid.length === 0) return null
  return (
    <section aria-label="Not in the order yet" className="flex flex-col gap-1">
      <h2 className="font-semibold text-xl">Not in the order yet</h2>
      <p className="text-soft">Nobody has said which parts these tie.</p>
      <ul className="flex flex-wrap gap-x-6">
        {view.unsaid.map(({ id, name }) => (
          <li key={id}>
            <Link className="inline-flex min-h-11 items-center underline" to={`/part/${id}/joint`}>
              {name}
            </Link>
          </li>
        ))}
      </ul>
    </section>
  )
}
