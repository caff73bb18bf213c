import { Tabs } from 'radix-ui'
import { Navigate, useNavigate, useParams } from 'react-router'
import { usePart } from '@/api/questions'
import { Notice } from '@/ui/notice'
import { MixTab } from './mix-tab'
import { PliesTab } from './plies-tab'
import { ShapeTab } from './shape-tab'
import { StepsTab } from './steps-tab'

const TABS = [
  { key: 'shape', name: 'Shape', Page: ShapeTab },
  { key: 'plies', name: 'Plies', Page: PliesTab },
  { key: 'mix', name: 'Mix', Page: MixTab },
  { key: 'steps', name: 'Steps', Page: StepsTab },
]

export default function PartPage() {
  const { id = '', tab = 'shape' } = useParams()
  const go = useNavigate()
  const part = usePart(id)
  if (part.error && !part.data)
    return (
      <Notice tone="stop" className="m-6">
        {part.error.message}
      </Notice>
    )
  if (!part.data) return null
  const head = part.data
  const tabs = head.laid_up ? TABS : TABS.filter(({ key }) => key === 'steps' || key === 'mix')
  if (!tabs.some(({ key }) => key === tab)) return <Navigate to={`/part/${id}/steps`} replace />
  return (
    <Tabs.Root value={tab} onValueChange={(next) => go(`/part/${id}/${next}`)} className="flex flex-col">
      <div className="flex flex-wrap items-end justify-between gap-x-8 border-line border-b-2 px-6 pt-4">
        <div className="pb-3">
          <h1 className="font-semibold text-2xl">{head.name}</h1>
          <p className="text-soft">
            {head.sentence}
            {!head.laid_up && ` Built as ${head.recipe}.`}
            {head.mirrored.length > 0 && ` Mirror image: ${head.mirrored.join(', ')}.`}
          </p>
        </div>
        <Tabs.List className="-mb-0.5 flex" aria-label="Parts of the part sheet">
          {tabs.map(({ key, name }) => (
            <Tabs.Trigger
              key={key}
              value={key}
              className="min-h-12 border-transparent border-b-4 px-5 text-lg hover:border-line data-[state=active]:border-ink data-[state=active]:font-semibold"
            >
              {name}
            </Tabs.Trigger>
          ))}
        </Tabs.List>
      </div>
      {tabs.map(({ key, Page }) => (
        <Tabs.Content key={key} value={key} className="p-6" tabIndex={-1}>
          <Page partId={id} side={head.side === 'lower' ? 'lower' : 'upper'} />
        </Tabs.Content>
      ))}
    </Tabs.Root>
  )
}
