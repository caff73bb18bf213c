import { useMutation, useQuery } from '@tanstack/react-query'
import { Plus, X } from 'lucide-react'
import { useState } from 'react'
import { answer, client, Problem } from '@/api/client'
import { useUnitOf } from '@/app/formats'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { TextField } from '@/ui/text-field'

type Row = { name: string; minutes: string; hands_on: boolean }

/** When a whole sequence fits unbroken within its limits, in the coming week. */
export function Shots({ zone }: { zone: string }) {
  const usual = useQuery({
    queryKey: ['far', 'usual-shot'],
    queryFn: () => answer(client.GET('/api/v1/climate/shots')),
  }).data
  if (!usual) return null
  return <ShotForm zone={zone} usual={usual.parts} least={usual.least} />
}

function ShotForm({ zone, usual, least }: { zone: string; usual: Row[]; least: string }) {
  const unit = useUnitOf()('temperature')
  const [rows, setRows] = useState(usual)
  const [limits, setLimits] = useState({ least, most: '', most_rh: '' })
  const look = useMutation({
    mutationFn: () =>
      answer(
        client.POST('/api/v1/climate/shots', {
          body: {
            zone,
            parts: rows.map((row) => ({ ...row, minutes: { text: row.minutes, unit: 'min' } })),
            least: { text: limits.least, unit },
            most: { text: limits.most, unit },
            most_rh: { text: limits.most_rh, unit: '%' },
          },
        }),
      ),
  })
  const problem = look.error instanceof Problem ? look.error : null
  const put = (i: number, part: Partial<Row>) =>
    setRows(rows.map((row, j) => (i === j ? { ...row, ...part } : row)))
  return (
    <section aria-label="Straight shots" className="flex flex-col gap-3 bg-panel p-5">
      <h2 className="font-semibold text-lg">A straight shot in the coming week</h2>
      <p className="text-soft">
        What must go through without a break, like covering adhesive from its first coat until it is heat-set.
      </p>
      <ol className="flex flex-col gap-2">
        {rows.map((row, i) => (
          // The rows have no names of their own: their place is what they are.
          <li key={`${i + 1}`} className="flex flex-wrap items-center gap-3">
            <TextField
              aria-label={`Part ${i + 1}`}
              value={row.name}
              onChange={(name) => put(i, { name })}
              className="w-72"
            />
            <TextField
              aria-label={`Minutes of part ${i + 1}`}
              value={row.minutes}
              problem={problem?.fields[`parts.${i}.minutes`]}
              onChange={(minutes) => put(i, { minutes })}
              className="w-32"
            />
            <label className="flex min-h-11 items-center gap-2">
              <input
                type="checkbox"
                className="size-11"
                checked={row.hands_on}
                onChange={() => put(i, { hands_on: !row.hands_on })}
              />
              hands on
            </label>
            <button
              type="button"
              aria-label={`Take out part ${i + 1}`}
              className="grid size-11 place-items-center border-2 border-line hover:border-ink"
              onClick={() => setRows(rows.filter((_, j) => j !== i))}
            >
              <X aria-hidden size={18} />
            </button>
          </li>
        ))}
      </ol>
      <div className="flex flex-wrap items-end gap-4">
        <Button
          quiet
          className="inline-flex items-center gap-2"
          onClick={() => setRows([...rows, { name: '', minutes: '30 min', hands_on: true }])}
        >
          <Plus aria-hidden size={18} /> A part
        </Button>
        <TextField
          label="Never below"
          value={limits.least}
          problem={problem?.fields.least}
          onChange={(text) => setLimits({ ...limits, least: text })}
          className="w-32"
        />
        <TextField
          label="Never above"
          value={limits.most}
          problem={problem?.fields.most}
          onChange={(text) => setLimits({ ...limits, most: text })}
          className="w-32"
        />
        <TextField
          label="No damper than"
          value={limits.most_rh}
          problem={problem?.fields.most_rh}
          onChange={(text) => setLimits({ ...limits, most_rh: text })}
          className="w-36"
        />
        <Button onClick={() => look.mutate()}>Find windows</Button>
      </div>
      {problem && Object.keys(problem.fields).length === 0 && <Notice tone="stop">{problem.message}</Notice>}
      {look.data && (
        <div data-testid="shots">
          <Notice tone={look.data.shots.length > 0 ? 'ready' : 'stop'} className="text-lg">
            {look.data.sentence}
          </Notice>
          <ul>
            {look.data.shots.slice(1).map((shot) => (
              <li key={shot.start} className="border-line border-b py-1.5">
                {shot.words}
              </li>
            ))}
          </ul>
        </div>
      )}
    </section>
  )
}
