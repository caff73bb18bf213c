import { useState } from 'react'
import { useSearchParams } from 'react-router'
import { answer, client, type ItemRow, type ItemsView, newId } from '@/api/client'
import { useKeep } from '@/api/keep'
import { useItems } from '@/api/questions'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { ItemSheet } from './item-sheet'
import { KitList } from './kit-list'
import { StoresHead } from './stores-head'

const EDGE: Record<ItemRow['state'], string> = {
  found: 'edge-ready',
  missing: 'edge-stop',
  damaged: 'edge-stop',
  unread: '',
}

/** What is not mixed: fittings, fasteners, bushes, tubes, tools; what a kit's list promised, and what of it was found. */
export default function ItemsPage() {
  const asked = useItems()
  const [params, setParams] = useSearchParams()
  const [reading, setReading] = useState(false)
  const view = asked.data
  if (asked.error && !view)
    return (
      <Notice tone="stop" className="m-6">
        {asked.error.message}
      </Notice>
    )
  if (!view) return null
  const pick = (id: string) => setParams(id ? { item: id } : {}, { replace: true })
  const picked = params.get('item') ?? ''
  const open = view.items.find((item) => item.id === picked)
  const groups = ['', ...view.kits.map((kit) => kit.name)]
  return (
    <div className="mx-auto flex max-w-6xl flex-col gap-6 p-6 max-sm:p-4">
      <StoresHead>
        <Button quiet onClick={() => setReading(true)}>
          Read a kit’s list…
        </Button>
        <Button quiet onClick={() => pick('new')}>
          Another item…
        </Button>
      </StoresHead>
      {reading && <KitList onClose={() => setReading(false)} />}
      {view.items.length === 0 && !reading && (
        <p className="max-w-2xl text-lg text-soft">
          Nothing is here yet. An item is what is not mixed: a bush, a bolt, a hinge, a tube, a die. One that
          a step takes is missed in time, and the plan waits for it.
        </p>
      )}
      {groups.map((kit) => (
        <Group key={kit} kit={kit} view={view} onOpen={pick} />
      ))}
      {(open || picked === 'new') && (
        <ItemSheet key={picked} item={open ?? null} view={view} onClose={() => pick('')} />
      )}
    </div>
  )
}

function Group({ kit, view, onOpen }: { kit: string; view: ItemsView; onOpen: (id: string) => void }) {
  const rows = view.items.filter((item) => item.kit === kit)
  if (rows.length === 0) return null
  const words = view.kits.find((one) => one.name === kit)?.words
  return (
    <section aria-label={kit || 'Other items'}>
      <h2 className="font-semibold text-xl">{kit || 'Other items'}</h2>
      {words && <p className="text-soft">{words}</p>}
      <ul className="mt-2 border-line border-t">
        {rows.map((item) => (
          <li
            key={item.id}
            className={`grid items-center gap-x-5 border-line border-b bg-panel sm:grid-cols-[1fr_auto] ${EDGE[item.state]}`}
          >
            <button
              type="button"
              onClick={() => onOpen(item.id)}
              className="grid min-h-14 w-full items-center gap-x-5 px-3 py-2 text-left hover:underline sm:grid-cols-[16rem_12rem_5rem_1fr]"
            >
              <span>
                <span className="font-semibold text-lg">{item.name}</span>
                {item.number && <span className="text-soft"> {item.number}</span>}
              </span>
              <span>
                {item.looks}
                {item.place && <span className="block text-soft">{item.place}</span>}
              </span>
              <span className="tabular-nums sm:text-right">{item.left}</span>
              <span className={item.care ? 'text-madder' : 'text-soft'}>
                {item.care ||
                  item.checked ||
                  item.uses.map((use) => `${use.count} for ${use.part}`).join(', ')}
              </span>
            </button>
            {item.listed !== null && item.state === 'unread' && <Found item={item} />}
          </li>
        ))}
      </ul>
    </section>
  )
}

/** A line of a kit's list is looked for: all of it is there, or some is missing or damaged. */
function Found({ item }: { item: ItemRow }) {
  const { keep, says } = useKeep()
  const [ids] = useState({ found: newId(), missing: newId() })
  const note = async (kind: 'found' | 'missing') => {
    const body = { id: ids[kind], kind, amount: item.listed ?? 0, note: '', crew_member_id: null }
    const path = { params: { path: { item_id: item.id } } }
    await keep(() => answer(client.POST('/api/v1/items/{item_id}/notes', { ...path, body })))
  }
  return (
    <span className="flex gap-2 px-3 py-1.5">
      <Button quiet onClick={() => void note('found')}>
        All {item.listed} found
      </Button>
      <Button quiet onClick={() => void note('missing')}>
        Missing
      </Button>
      {says && <span className="text-madder">{says}</span>}
    </span>
  )
}
