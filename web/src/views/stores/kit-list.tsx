import { useState } from 'react'
import { useRefresh } from '@/api/changes'
import { answer, client, type KitLooked, Problem } from '@/api/client'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { TextField } from '@/ui/text-field'

const WHAT = {
  new: 'new',
  same: 'here already',
  differs: 'here already, another number',
  refused: 'left out',
} as const

/** A kit's list, CSV or a spreadsheet: looked at line by line first, taken when told. */
export function KitList({ onClose }: { onClose: () => void }) {
  const refresh = useRefresh()
  const [kit, setKit] = useState('')
  const [file, setFile] = useState<{ text: string; spreadsheet: boolean } | null>(null)
  const [looked, setLooked] = useState<KitLooked | null>(null)
  const [problem, setProblem] = useState<Problem | null>(null)
  const send = async (what: { text: string; spreadsheet: boolean }, name: string, take: boolean) => {
    setProblem(null)
    try {
      const found = await answer(client.POST('/api/v1/items/lists', { body: { kit: name, ...what, take } }))
      setLooked(found)
      if (take) await refresh()
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      setLooked(null)
      setProblem(error)
    }
  }
  const choose = async (chosen: File | undefined) => {
    if (!chosen) return
    const spreadsheet = /\.xls[xm]$/i.test(chosen.name)
    const text = spreadsheet ? await inBase64(chosen) : await chosen.text()
    const name = kit.trim() || chosen.name.replace(/\.[^.]+$/, '')
    setKit(name)
    setFile({ text, spreadsheet })
    await send({ text, spreadsheet }, name, false)
  }
  const taken = (looked?.taken ?? 0) > 0
  return (
    <section aria-label="A kit’s list" className="flex flex-col gap-3 border-2 border-line bg-panel p-5">
      <div className="flex flex-wrap items-end gap-4">
        <TextField
          label="The kit is called"
          value={kit}
          problem={problem?.fields.kit}
          onChange={setKit}
          className="w-64"
        />
        <label className="flex flex-col gap-1">
          <span className="text-soft">Its list, CSV or .xlsx</span>
          <input
            type="file"
            accept=".csv,.tsv,.txt,.xlsx,.xlsm,text/csv"
            className="min-h-11"
            onChange={(event) => void choose(event.target.files?.[0])}
          />
        </label>
        <Button quiet onClick={onClose}>
          Close
        </Button>
      </div>
      {problem && <Notice tone="stop">{problem.message}</Notice>}
      {looked && (
        <>
          <p className="font-semibold text-lg">{looked.sentence}</p>
          <p className="text-soft">{looked.columns.join(', ')}</p>
          <ul className="max-h-96 overflow-y-auto">
            {looked.rows.map((row) => (
              <li
                key={row.line}
                className="grid gap-x-4 border-line border-t py-1.5 sm:grid-cols-[3rem_1.4fr_4rem_1fr_10rem]"
              >
                <span className="text-soft tabular-nums">{row.line}</span>
                <span>
                  <span className="font-semibold">{row.name || 'no name'}</span>{' '}
                  <span className="text-soft">{row.number}</span>
                </span>
                <span className="tabular-nums sm:text-right">{row.count ?? '–'}</span>
                <span>{row.looks}</span>
                <span className={row.what === 'refused' ? 'text-madder' : 'text-soft'}>{WHAT[row.what]}</span>
                {row.words.map((words) => (
                  <span key={words} className="edge-care bg-weld-wash px-2 sm:col-span-4 sm:col-start-2">
                    {words}
                  </span>
                ))}
              </li>
            ))}
          </ul>
          {!taken && (
            <Button
              className="self-start"
              disabled={!file || !looked.rows.some((row) => row.what === 'new' || row.what === 'differs')}
              onClick={() => file && void send(file, kit, true)}
            >
              Take the list
            </Button>
          )}
        </>
      )}
    </section>
  )
}

async function inBase64(file: File) {
  const bytes = new Uint8Array(await file.arrayBuffer())
  let text = ''
  for (const byte of bytes) text += String.fromCharCode(byte)
  return btoa(text)
}
