import { clsx } from 'clsx'
import { Tabs } from 'radix-ui'
import { useState } from 'react'
import { Link, Navigate, useNavigate, useParams, useSearchParams } from 'react-router'
import type { JobHead, PartHead } from '@/api/client'
import { usePart } from '@/api/questions'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { SideSheet } from '@/ui/side-sheet'
import { ChecksTab } from './checks-tab'
import { ClothTab } from './cloth-tab'
import { CoatsTab } from './coats-tab'
import { CutListTab } from './cut-list-tab'
import { DoAgain } from './do-again'
import { JobColumn } from './job-column'
import { JointTab } from './joint-tab'
import { LeakTab } from './leak-tab'
import { MixTab } from './mix-tab'
import { PartSheet } from './part-sheet'
import { PiecesTab } from './pieces-tab'
import { PliesTab } from './plies-tab'
import { RecordTab } from './record-tab'
import { ShapeTab } from './shape-tab'
import { StepsTab } from './steps-tab'
import { WeightTab } from './weight-tab'
import { WhatTab } from './what-tab'

const OF_PART = [
  { key: 'shape', name: 'Shape' },
  { key: 'checks', name: 'Checks' },
  { key: 'weight', name: 'Weight' },
  { key: 'record', name: 'Record' },
]
const OF_JOB = [
  { key: 'steps', name: 'Steps' },
  { key: 'joint', name: 'Joint' },
  { key: 'what', name: 'What' },
  { key: 'plies', name: 'Plies' },
  { key: 'coats', name: 'Coats' },
  { key: 'cloth', name: 'Cloth' },
  { key: 'cut-list', name: 'Cut list' },
  { key: 'leak', name: 'Leak test' },
  { key: 'mix', name: 'Takes' },
  { key: 'pieces', name: 'Pieces' },
]

/** Which tabs a job has: a joint is no ply book, and only a tank is tried with air. */
const shown = (key: string, job: JobHead) => {
  if (key === 'joint') return job.joint
  if (key === 'leak') return job.tried
  if (key === 'cloth') return job.cloth
  if (key === 'coats') return job.painted
  if (key === 'cut-list') return job.sawn
  if (key === 'pieces') return job.laid_up || job.cut
  return key !== 'plies' || job.laid_up
}

/** The job one would look at first: what is being built, else what comes next, else the last. */
const present = (jobs: JobHead[]) =>
  jobs.find((job) => job.state === 'now') ?? jobs.find((job) => job.state !== 'done') ?? jobs.at(-1)

export default function PartPage() {
  const { id = '', tab = 'steps' } = useParams()
  const [query] = useSearchParams()
  const part = usePart(id)
  if (part.error && !part.data)
    return (
      <Notice tone="stop" className="m-6">
        {part.error.message}
      </Notice>
    )
  if (!part.data) return null
  const jobs = part.data.jobs
  const job = jobs.find((one) => one.key === query.get('job')) ?? present(jobs)
  return <Page key={id} head={part.data} job={job} tab={tab} />
}

function Page({ head, job, tab }: { head: PartHead; job: JobHead | undefined; tab: string }) {
  const go = useNavigate()
  const [open, setOpen] = useState(false)
  // The ply that is lit is the same on every tab of its job.
  const [lit, setLit] = useState<{ job: string; ply: number | null }>({ job: '', ply: null })
  const key = job?.key ?? ''
  const lighting = {
    lit: lit.job === key ? lit.ply : null,
    onLight: (ply: number | null) => setLit({ job: key, ply }),
  }
  const ofPart = OF_PART
  const ofJob = job ? OF_JOB.filter(({ key }) => shown(key, job)) : []
  const known = [...ofPart, ...ofJob]
  const to = (next: string, key = job?.key ?? '') => `/part/${head.id}/${next}?job=${key}`
  if (!known.some(({ key }) => key === tab)) return <Navigate to={to(job ? 'steps' : 'shape')} replace />
  const jobTab = ofJob.some(({ key }) => key === tab)
  return (
    <Tabs.Root value={tab} onValueChange={(next) => go(to(next))} className="flex flex-col">
      <div className="flex flex-wrap items-end justify-between gap-x-8 border-line border-b-2 px-6 pt-4">
        <div className="pb-3">
          <h1 className="font-semibold text-2xl">{head.name}</h1>
          <Link
            to={`/airframe?id=${head.project_id}`}
            className="inline-flex min-h-11 items-center text-soft hover:underline"
          >
            {head.project}, {head.assembly}
          </Link>
          <p className="text-soft">
            {head.sentence}
            {head.mirrored.length > 0 && ` Mirror image: ${head.mirrored.join(', ')}.`}
            {head.hours && ` ${head.hours}.`}
          </p>
          {head.care.map((words) => (
            <Notice key={words} tone="stop" className="mt-2">
              {words}
            </Notice>
          ))}
        </div>
        {head.faces.length > 0 && (
          <details className="w-full pb-2">
            <summary className="min-h-11 cursor-pointer content-center">
              {head.faces.length === 1
                ? 'One face of it is to be glued'
                : `${head.faces.length} faces of it are to be glued`}
            </summary>
            <ul className="flex flex-col gap-1">
              {head.faces.map((face) => (
                <li key={face.joint_id}>
                  <Link
                    className="inline-flex min-h-11 items-center underline"
                    to={`/part/${face.joint_id}/joint`}
                  >
                    {face.joint}
                  </Link>
                  {face.where && <span className="text-soft">, {face.where}</span>}: {face.sentence}.
                </li>
              ))}
            </ul>
          </details>
        )}
        <div className="flex flex-wrap items-end gap-x-3">
          <Button quiet className="mb-2" onClick={() => setOpen(true)}>
            This part…
          </Button>
          <List label="Of the part" tabs={ofPart} />
        </div>
      </div>
      <div className="grid gap-x-8 px-6 py-4 lg:grid-cols-[17rem_minmax(0,1fr)]">
        <JobColumn
          head={head}
          job={job?.key ?? ''}
          chosen={jobTab}
          onPick={(key, next) => go(to(next ?? (jobTab ? tab : 'steps'), key))}
        />
        <div className="min-w-0">
          {job && (
            <div className="mb-5 flex flex-wrap items-end justify-between gap-x-8 border-line border-b-2">
              <h2 className="pb-2 font-semibold text-xl first-letter:uppercase">{job.name}</h2>
              <List label="Of the job" tabs={ofJob} />
            </div>
          )}
          {known.map(({ key }) => (
            <Tabs.Content key={key} value={key} tabIndex={-1}>
              <Content tab={key} head={head} job={job} lighting={lighting} onTab={(next) => go(to(next))} />
            </Tabs.Content>
          ))}
        </div>
      </div>
      <SideSheet open={open} onClose={() => setOpen(false)} title={head.name}>
        {open && <PartSheet head={head} onClose={() => setOpen(false)} />}
      </SideSheet>
    </Tabs.Root>
  )
}

function List({ label, tabs }: { label: string; tabs: { key: string; name: string }[] }) {
  return (
    <Tabs.List className="-mb-0.5 flex flex-wrap" aria-label={label}>
      {tabs.map(({ key, name }) => (
        <Tabs.Trigger
          key={key}
          value={key}
          className={clsx(
            'min-h-12 border-transparent border-b-4 px-5 text-lg hover:border-line max-sm:px-3',
            'data-[state=active]:border-ink data-[state=active]:font-semibold',
          )}
        >
          {name}
        </Tabs.Trigger>
      ))}
    </Tabs.List>
  )
}

type Lighting = { lit: number | null; onLight: (ply: number | null) => void }
type ContentProps = {
  tab: string
  head: PartHead
  job: JobHead | undefined
  lighting: Lighting
  onTab: (tab: string) => void
}

function Content({ tab, head, job, lighting, onTab }: ContentProps) {
  if (tab === 'shape') return <ShapeTab head={head} />
  if (tab === 'checks') return <ChecksTab partId={head.id} />
  if (tab === 'weight') return <WeightTab partId={head.id} />
  if (tab === 'record' || !job) return <RecordTab partId={head.id} />
  const of = { partId: head.id, job: job.key }
  if (tab === 'what') return <WhatTab {...of} head={head} />
  if (tab === 'joint') return <JointTab partId={head.id} />
  if (tab === 'cloth') return <ClothTab {...of} onPieces={() => onTab('pieces')} />
  if (tab === 'coats') return <CoatsTab {...of} />
  if (tab === 'cut-list') return <CutListTab {...of} />
  if (tab === 'leak') return <LeakTab partId={head.id} />
  if (tab === 'plies') return <PliesTab {...of} {...lighting} />
  if (tab === 'pieces') return <PiecesTab {...of} {...lighting} />
  if (tab === 'mix') return <MixTab {...of} />
  return (
    <div className="flex flex-col gap-6">
      <StepsTab {...of} lit={lighting.lit} several={head.jobs.length > 1} />
      {job.again && job.state !== 'ahead' && <DoAgain partId={head.id} job={job.key} again={job.again} />}
    </div>
  )
}
