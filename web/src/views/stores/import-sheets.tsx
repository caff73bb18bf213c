import { useState } from 'react'
import { useRefresh } from '@/api/changes'
import { answer, client, type LookedSheets, Problem } from '@/api/client'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'

const WHAT = {
  new: 'new',
  same: 'here already, the same',
  differs: 'here already, saying something else',
  refused: 'can’t be read',
} as const

/** A file of data sheets: looked at first, taken when told. */
export function ImportSheets({ onClose }: { onClose: () => void }) {
  const refresh = useRefresh()
  const [text, setText] = useState('')
  const [looked, setLooked] = useState<LookedSheets | null>(null)
  const [problem, setProblem] = useState('')
  const [done, setDone] = useState('')
  const send = async (body: { text: string; take: boolean; replace: boolean }) => {
    setProblem('')
    try {
      const found = await answer(client.POST('/api/v1/shelf/import', { body }))
      setLooked(found)
      setDone(body.take ? found.sentence : '')
      if (body.take) await refresh()
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      setLooked(null)
      setProblem(error.message)
    }
  }
  const choose = async (file: File | undefined) => {
    if (!file) return
    const read = await file.text()
    setText(read)
    await send({ text: read, take: false, replace: false })
  }
  const fresh = looked?.rows.some((row) => row.what === 'new')
  const differs = looked?.rows.some((row) => row.what === 'differs')
  return (
    <section className="flex flex-col gap-3 border-2 border-line bg-panel p-5" data-testid="import-sheets">
      <div className="flex flex-wrap items-center justify-between gap-3">
        <label className="flex flex-col gap-1">
          <span className="text-soft">A file of data sheets, JSON or CSV</span>
          <input
            type="file"
            accept=".json,.csv,text/csv,application/json"
            className="min-h-11"
            onChange={(event) => void choose(event.target.files?.[0])}
          />
        </label>
        <Button quiet onClick={onClose}>
          Close
        </Button>
      </div>
      {problem && <Notice tone="stop">{problem}</Notice>}
      {done && <Notice tone="ready">{done}</Notice>}
      {looked && !done && (
        <>
          <p className="font-semibold text-lg">{looked.sentence}</p>
          <ul className="max-h-80 overflow-y-auto">
            {looked.rows.map((row) => (
              <li
                key={`${row.kind}/${row.name}`}
                className="grid gap-x-4 border-line border-t py-1.5 sm:grid-cols-[18rem_16rem_1fr]"
              >
                <span className="font-semibold">{row.name}</span>
                <span className={row.what === 'refused' ? 'text-madder' : 'text-soft'}>{WHAT[row.what]}</span>
                <span>{row.words.join('; ')}</span>
              </li>
            ))}
          </ul>
          <div className="flex flex-wrap gap-3">
            <Button disabled={!fresh} onClick={() => void send({ text, take: true, replace: false })}>
              Take what is new
            </Button>
            {differs && (
              <Button quiet onClick={() => void send({ text, take: true, replace: true })}>
                Take it, and replace what differs
              </Button>
            )}
          </div>
        </>
      )}
    </section>
  )
}
