import { Link } from 'react-router'
import type { JointView } from '@/api/client'
import { useJoint } from '@/api/questions'
import { FigureValue } from '@/ui/figure'
import { Notice } from '@/ui/notice'
import { CoinTap } from './coin-tap'
import { Faces } from './joint-faces'
import { FastenerRow } from './joint-fasteners'
import { DryFit } from './joint-fit'
import { Ties } from './joint-ties'

/** A joint: when its turn is, its two faces and how they are, what it takes, what the dry fit showed, its fasteners. */
export function JointTab({ partId }: { partId: string }) {
  const asked = useJoint(partId)
  if (asked.error && !asked.data) return <Notice tone="stop">{asked.error.message}</Notice>
  const view = asked.data
  if (!view) return null
  return (
    <div className="flex flex-col gap-7">
      {view.turn && <Turn view={view} turn={view.turn} />}
      {view.cant.map((words) => (
        <Notice key={words} tone="stop">
          {words}
        </Notice>
      ))}
      {view.version > 0 && <Faces view={view} asked={asked.dataUpdatedAt - performance.timeOrigin} />}
      <section aria-label="What it takes" className="flex flex-col gap-2">
        <h3 className="font-semibold text-xl">What it takes</h3>
        {view.barrier && (
          <Notice tone="care">
            <span className="font-semibold">Barrier:</span> {view.barrier}.
          </Notice>
        )}
        <div className="flex flex-wrap gap-x-6 gap-y-1">
          {view.figures.map((figure) => (
            <FigureValue key={figure.key} figure={figure} />
          ))}
        </div>
      </section>
      {view.cant.length === 0 && <DryFit key={view.gaps.length} view={view} />}
      {view.cant.length === 0 && <CoinTap partId={partId} />}
      <Ties key={view.version} view={view} />
      {view.version > 0 && <FastenerRow view={view} />}
      <p className="text-soft text-sm">{view.cautions}</p>
    </div>
  )
}

function Turn({ view, turn }: { view: JointView; turn: NonNullable<JointView['turn']> }) {
  return (
    <p className="text-lg">
      <span className="font-semibold">
        Joint {turn.number} of {turn.of}
      </span>
      : <span>{turn.why}.</span>{' '}
      <Link className="inline-flex min-h-11 items-center underline" to={`/joints/${view.airframe_id}`}>
        The order of all
      </Link>
    </p>
  )
}
