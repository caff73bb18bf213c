import { useState } from 'react'
import { useRefresh } from '@/api/changes'
import { answer, client, type JointView, newId, Problem } from '@/api/client'
import { useUnitOf } from '@/app/formats'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'
import { Rows } from '@/ui/rows'

type Row = { at: string; gap: string }
const BLANK: Row = { at: '', gap: '' }

/** What putty or film showed between the faces: gaps along the joint, and whether the adhesive fills them. */
export function DryFit({ view }: { view: JointView }) {
  const refresh = useRefresh()
  const unitOf = useUnitOf()
  const units = { at: unitOf('length'), gap: unitOf('thickness') }
  const [id, setId] = useState(newId)
  const [open, setOpen] = useState(false)
  const [rows, setRows] = useState<Row[]>(
    view.gaps.length > 0 ? view.gaps.map(({ at, gap }) => ({ at, gap })) : [BLANK],
  )
  const [problem, setProblem] = useState<Problem | null>(null)
  const keep = async (kept: Row[]) => {
    const gaps = kept
      .filter((row) => row.at.trim() || row.gap.trim())
      .map((row) => ({ at: { text: row.at, unit: units.at }, gap: { text: row.gap, unit: units.gap } }))
    try {
      const params = { path: { part_id: view.part_id } }
      await answer(client.POST('/api/v1/parts/{part_id}/dry-fits', { params, body: { id, gaps } }))
    } catch (error) {
      if (error instanceof Problem) setProblem(error)
      return
    }
    setProblem(null)
    setId(newId())
    setOpen(false)
    await refresh()
  }
  return (
    <section aria-label="Dry fit" className="flex flex-col gap-3">
      <h3 className="font-semibold text-xl">Dry fit</h3>
      {view.fit ? (
        <Notice tone={view.fits ? 'ready' : 'stop'}>{view.fit}</Notice>
      ) : (
        <p className="max-w-2xl text-soft">
          Fit it dry with putty or clay under film, take it apart, and measure what the putty shows: the gap
          is wider than it looks.
        </p>
      )}
      {!open && view.gaps.length > 0 && (
        <p className="flex flex-wrap gap-x-5">
          {view.gaps.map((row) => (
            <span key={row.at} className={row.wide ? 'font-semibold text-madder' : undefined}>
              {row.at}: {row.gap}
              {row.wide && ', too wide'}
            </span>
          ))}
        </p>
      )}
      {open ? (
        <>
          <Rows
            name="Gap"
            rows={rows}
            blank={BLANK}
            columns={[
              { field: 'at', kept: 'at', label: `Along the joint, ${units.at}` },
              { field: 'gap', kept: 'gap', label: `Gap, ${units.gap}` },
            ]}
            field="gaps"
            problem={(field) =>
              problem?.fields[field] ??
              problem?.fields[field.replace('.at', '.at_m').replace('.gap', '.gap_mm')]
            }
            onRows={setRows}
            least={1}
            add="Another place"
          />
          {problem && Object.keys(problem.fields).every((name) => !name.startsWith('gaps.')) && (
            <Notice tone="stop">{problem.message}</Notice>
          )}
          <div className="flex flex-wrap gap-3">
            <Button onClick={() => void keep(rows)}>Keep this fit</Button>
            <Button quiet onClick={() => setOpen(false)}>
              Leave it
            </Button>
          </div>
        </>
      ) : (
        <div className="flex flex-wrap gap-3">
          <Button quiet onClick={() => setOpen(true)}>
            {view.fit ? 'Fitted again…' : 'Gaps that the fit showed…'}
          </Button>
          {!view.fit && (
            <Button quiet onClick={() => void keep([])}>
              It closes as planned
            </Button>
          )}
        </div>
      )}
    </section>
  )
}
