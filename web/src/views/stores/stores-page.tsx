import { clsx } from 'clsx'
import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { answer, client, type ShelfView } from '@/api/client'
import { useKeep } from '@/api/keep'
import { useShelf } from '@/api/questions'
import { Button, ButtonLink } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { Pick } from '@/ui/pick'
import { ImportSheets } from './import-sheets'
import { StoresHead } from './stores-head'

type Group = ShelfView['groups'][number]

/** What is on the shelf: every product by kind, its lots, and what asks for care. */
export default function StoresPage() {
  const shelf = useShelf()
  const go = useNavigate()
  const [importing, setImporting] = useState(false)
  if (shelf.error && !shelf.data)
    return (
      <Notice tone="stop" className="m-6">
        {shelf.error.message}
      </Notice>
    )
  if (!shelf.data) return null
  const { groups, kinds, hidden } = shelf.data
  return (
    <div className="mx-auto flex max-w-6xl flex-col gap-5 p-6 max-sm:p-4">
      <StoresHead>
        <h1 className="sr-only">The shelf</h1>
        <div className="w-48">
          <Pick
            label="A new data sheet"
            hideLabel
            value=""
            placeholder="New data sheet…"
            choices={kinds.map((kind) => ({ value: kind, name: kind }))}
            onChange={(kind) => void go(`/stores/new?kind=${encodeURIComponent(kind)}`)}
          />
        </div>
        <ButtonLink quiet to="/cut">
          Cut plans
        </ButtonLink>
        <Button quiet onClick={() => setImporting(true)}>
          Take in a file
        </Button>
        <a
          href="/api/v1/lids"
          className="inline-flex min-h-11 items-center border-2 border-line bg-panel px-4 font-semibold hover:border-ink"
        >
          Lid labels
        </a>
        {(['json', 'csv'] as const).map((form) => (
          <a
            key={form}
            href={`/api/v1/shelf/file?form=${form}`}
            aria-label={`Write ${form.toUpperCase()}: all sheets`}
            download
            className="inline-flex min-h-11 items-center border-2 border-line bg-panel px-4 font-semibold hover:border-ink"
          >
            Write {form.toUpperCase()}
          </a>
        ))}
      </StoresHead>
      {importing && <ImportSheets onClose={() => setImporting(false)} />}
      {groups.length === 0 && (
        <p className="text-lg text-soft">
          Nothing is on the shelf yet. Choose a kind of product above and type what its maker says.
        </p>
      )}
      {groups.map((group) => (
        <ProductGroup key={group.kind} group={group} />
      ))}
      <HiddenSheets hidden={hidden} />
    </div>
  )
}

function ProductGroup({ group }: { group: Group }) {
  return (
    <section aria-label={group.kind}>
      <h2 className="mb-1 font-semibold text-lg first-letter:uppercase">{group.kind}</h2>
      <ul className="border-line border-t">
        {group.products.map((product) => (
          <li key={product.id} className="border-line border-b">
            <Link
              to={`/stores/${product.id}`}
              className="grid min-h-14 items-center gap-x-5 gap-y-1 px-3 py-2 hover:bg-panel sm:grid-cols-2 lg:grid-cols-[15rem_1fr_18rem]"
            >
              <span className="font-semibold text-lg">{product.name}</span>
              <span className="text-soft sm:max-lg:order-last sm:max-lg:col-span-2">{product.words}</span>
              <span className="flex flex-col gap-1">
                {product.care.map((words) => (
                  <span key={words} className="edge-care bg-weld-wash px-2 py-0.5">
                    {words}
                  </span>
                ))}
                {product.lots
                  .filter((lot) => !lot.care)
                  .map((lot) => (
                    <span key={lot.id} className={clsx('px-2', lot.empty && 'text-soft')}>
                      {lot.words}
                    </span>
                  ))}
              </span>
            </Link>
          </li>
        ))}
      </ul>
    </section>
  )
}

function HiddenSheets({ hidden }: { hidden: ShelfView['hidden'] }) {
  const { keep, says } = useKeep()
  if (hidden.length === 0) return null
  const putBack = (id: string) =>
    keep(() =>
      answer(
        client.PATCH('/api/v1/shelf/{sheet_id}/hidden', {
          params: { path: { sheet_id: id } },
          body: { version: 0, hidden: false },
        }),
      ),
    )
  return (
    <section>
      <h2 className="mb-1 font-semibold text-lg">Taken off the shelf</h2>
      {says && <Notice tone="stop">{says}</Notice>}
      <ul>
        {hidden.map((sheet) => (
          <li key={sheet.id} className="flex flex-wrap items-center gap-4 py-1">
            <span>
              {sheet.name} <span className="text-soft">· {sheet.kind}</span>
            </span>
            <Button quiet onClick={() => void putBack(sheet.id)}>
              Put back
            </Button>
          </li>
        ))}
      </ul>
    </section>
  )
}
