import { clsx } from 'clsx'
import { useRef, useState } from 'react'
import { useRefresh } from '@/api/changes'
import { type AirframeLooked, answer, client, Problem } from '@/api/client'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'

type Props = { airframe: string; name: string; onTaken: (id: string) => void }

const EDGE = { new: 'edge-ready', same: 'border-l-6 border-line', differs: 'edge-care', refused: 'edge-stop' }

/** The whole airframe as a file: written out, and one from another shop looked at before it is taken. */
export function AirframeFile({ airframe, name, onTaken }: Props) {
  const refresh = useRefresh()
  const input = useRef<HTMLInputElement>(null)
  const [text, setText] = useState('')
  const [looked, setLooked] = useState<AirframeLooked | null>(null)
  const [problem, setProblem] = useState('')
  const ask = async (body: { text: string; take: boolean; replace: boolean }) => {
    setProblem('')
    try {
      const found = await answer(client.POST('/api/v1/airframes/file', { body }))
      setLooked(found)
      if (!found.taken) return
      await refresh()
      onTaken(found.airframe_id)
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      setLooked(null)
      setProblem(error.message)
    }
  }
  const read = async (chosen: File | undefined) => {
    if (!chosen) return
    const found = await chosen.text()
    setText(found)
    await ask({ text: found, take: false, replace: false })
  }
  const rows = looked?.rows.filter((row) => row.what !== 'same') ?? []
  const differs = rows.some((row) => row.what === 'differs')
  const refused = rows.some((row) => row.what === 'refused')
  return (
    <section aria-label="As a file" className="flex flex-col gap-3">
      <h3 className="font-semibold text-lg">As a file</h3>
      <div className="flex flex-wrap gap-3">
        {airframe && (
          <a
            href={`/api/v1/airframes/${airframe}/file`}
            className="inline-flex min-h-11 items-center border-2 border-line bg-panel px-4 font-semibold hover:border-ink"
          >
            Write {name} out
          </a>
        )}
        <Button quiet onClick={() => input.current?.click()}>
          Look at a file…
        </Button>
        <input
          ref={input}
          type="file"
          accept=".json,application/json"
          className="hidden"
          aria-label="Airframe file"
          onChange={(event) => {
            void read(event.target.files?.[0])
            event.target.value = ''
          }}
        />
      </div>
      {problem && <Notice tone="stop">{problem}</Notice>}
      {looked && !looked.taken && (
        <div className="flex flex-col gap-2">
          <p>
            <span className="font-semibold">{looked.name}.</span> {looked.sentence}
          </p>
          <ul className="flex max-h-80 flex-col gap-1 overflow-y-auto">
            {rows.map((row) => (
              <li key={`${row.kind} ${row.name} ${row.what}`} className={clsx('px-3 py-1', EDGE[row.what])}>
                <span className="font-semibold">{row.what}</span>: {row.kind} {row.name}
                {row.words.length > 0 && <span className="text-soft"> ({row.words.join('; ')})</span>}
              </li>
            ))}
          </ul>
          <div className="flex flex-wrap gap-3">
            <Button
              disabled={refused || rows.length === 0}
              onClick={() => void ask({ text, take: true, replace: false })}
            >
              Take what is new
            </Button>
            {differs && (
              <Button quiet disabled={refused} onClick={() => void ask({ text, take: true, replace: true })}>
                Take what differs too
              </Button>
            )}
            <Button quiet onClick={() => setLooked(null)}>
              Leave it
            </Button>
          </div>
        </div>
      )}
      {looked?.taken && <Notice tone="ready">{looked.sentence}</Notice>}
    </section>
  )
}
