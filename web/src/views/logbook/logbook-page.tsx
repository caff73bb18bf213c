import { useDeferredValue, useState } from 'react'
import { useSearchParams } from 'react-router'
import type { LogbookView } from '@/api/client'
import { type Sought, useLogbook } from '@/api/questions'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { Pick } from '@/ui/pick'
import { TextField } from '@/ui/text-field'
import { Entry } from './entry'
import { useNoteSheet } from './note-sheet'
import { PrintRecord } from './print-record'

const ALL = 'all'
const FILTERS = [
  { field: 'part', label: 'Part', all: 'Every part', of: 'parts' },
  { field: 'person', label: 'Person', all: 'Everybody', of: 'people' },
  { field: 'product', label: 'Product', all: 'Every product', of: 'products' },
  { field: 'lot', label: 'Lot', all: 'Every lot', of: 'lots' },
  { field: 'kind', label: 'What', all: 'Everything', of: 'kinds' },
] as const

/** The book, day by day, the newest first: all of it, or what is sought. What is sought stands in the address. */
export default function LogbookPage() {
  const [params, setParams] = useSearchParams()
  const [words, setWords] = useState(params.get('words') ?? '')
  const sought = {
    ...Object.fromEntries(FILTERS.map(({ field }) => [field, params.get(field) ?? ''])),
    words: useDeferredValue(words),
  } as Sought
  const book = useLogbook(sought)
  const [prints, setPrints] = useState(false)
  const write = useNoteSheet()
  const first = book.data?.pages[0]
  const days = book.data?.pages.flatMap((page) => page.days) ?? []
  const set = (field: string, value: string) =>
    setParams(
      (now) => {
        if (value && value !== ALL) now.set(field, value)
        else now.delete(field)
        return now
      },
      { replace: true },
    )
  const narrowed = words !== '' || FILTERS.some(({ field }) => params.get(field))
  return (
    <div className="mx-auto flex max-w-5xl flex-col gap-5 p-6 max-sm:p-4">
      <div className="flex flex-wrap items-center justify-between gap-3">
        <h1 className="font-semibold text-3xl">Logbook</h1>
        <div className="flex flex-wrap gap-3">
          {first && first.open > 0 && (
            <Button quiet onClick={() => set('kind', params.get('kind') === 'open' ? '' : 'open')}>
              {params.get('kind') === 'open' ? 'All of the book' : `Questions still open: ${first.open}`}
            </Button>
          )}
          <Button quiet aria-expanded={prints} onClick={() => setPrints(!prints)}>
            Build record…
          </Button>
          <Button onClick={() => write({ part: params.get('part') ?? '' })}>Write a note</Button>
        </div>
      </div>
      {first && prints && <PrintRecord airframes={first.airframes} />}
      {first && (
        <search className="flex flex-col gap-3">
          <TextField
            aria-label="Words to look for"
            placeholder="words to look for"
            type="search"
            value={words}
            onChange={setWords}
          />
          <div className="grid grid-cols-5 gap-2 max-lg:grid-cols-3 max-sm:grid-cols-2">
            {FILTERS.map(({ field, label, all, of }) => (
              <Pick
                key={field}
                label={label}
                hideLabel
                value={params.get(field) || ALL}
                choices={[{ value: ALL, name: all }, ...choicesOf(first, of, params.get(field))]}
                onChange={(value) => set(field, value)}
              />
            ))}
          </div>
          {narrowed && (
            <Button
              quiet
              className="self-start"
              onClick={() => {
                setWords('')
                setParams({}, { replace: true })
              }}
            >
              All of the book
            </Button>
          )}
        </search>
      )}
      {book.error && !book.data && <Notice tone="stop">{book.error.message}</Notice>}
      {first && days.length === 0 && <p className="text-lg">{first.sentence}</p>}
      {days.map((day) => (
        <section key={day.day} aria-label={day.title} className="flex flex-col">
          <h2 className="flex flex-wrap items-baseline gap-x-4 border-ink border-b-2 pb-1">
            <span className="font-semibold text-xl">{day.title}</span>
            <span className="text-soft">{day.hours}</span>
          </h2>
          <ol>
            {day.entries.map((entry) => (
              <Entry key={`${entry.id} ${entry.against}`} entry={entry} />
            ))}
          </ol>
        </section>
      ))}
      {book.hasNextPage && (
        <Button quiet className="self-start" onClick={() => void book.fetchNextPage()}>
          Earlier days
        </Button>
      )}
    </div>
  )
}

/** What can be asked for; the questions that are open are asked for by their own button. */
function choicesOf(view: LogbookView, of: (typeof FILTERS)[number]['of'], now: string | null) {
  const named = view[of].map(({ id, name }) => ({ value: id, name }))
  return now === 'open' && of === 'kinds'
    ? [...named, { value: 'open', name: 'Questions still open' }]
    : named
}
