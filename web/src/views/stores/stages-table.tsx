import { Plus, X } from 'lucide-react'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'

export type SheetDraft = {
  name: string
  texts: Record<string, string>
  temps: string[]
  stages: { name: string; hours: string[] }[]
}

type Props = {
  usual: string[]
  draft: SheetDraft
  problem?: string
  change: (part: Partial<SheetDraft>) => void
}

const CELL = 'h-11 w-full min-w-16 border-2 border-line bg-panel px-2 outline-none focus:border-woad'

/** Hours of each stage from the mix, at one temperature or several. */
export function StagesTable({ usual, draft, problem, change }: Props) {
  const temps = draft.temps.length ? draft.temps : ['']
  const rows = draft.stages
  const width = temps.length
  const fill = (hours: string[]) => Array.from({ length: width }, (_, i) => hours[i] ?? '')
  const put = (r: number, c: number, text: string) =>
    change({
      stages: rows.map((row, i) =>
        i === r ? { ...row, hours: fill(row.hours).map((old, j) => (j === c ? text : old)) } : row,
      ),
    })
  const known = new Set(rows.map((row) => row.name))
  return (
    <section aria-label="Stages">
      <h2 className="mb-1 font-semibold text-lg">Stages: hours from the mix</h2>
      <div className="overflow-x-auto">
        <table>
          <thead>
            <tr>
              <th className="w-44 pr-3 text-left font-normal text-soft">at</th>
              {temps.map((temp, c) => (
                <th key={c} className="w-28 pr-2 pb-1 font-normal">
                  <input
                    className={CELL}
                    aria-label={c ? `Temperature ${c + 1}` : 'Temperature the hours are given for'}
                    value={temp}
                    onChange={(event) =>
                      change({ temps: temps.map((old, i) => (i === c ? event.target.value : old)) })
                    }
                  />
                </th>
              ))}
              {width < 4 && (
                <th className="pb-1 text-left font-normal">
                  <Button quiet onClick={() => change({ temps: [...temps, ''] })}>
                    Another temperature
                  </Button>
                </th>
              )}
            </tr>
          </thead>
          <tbody>
            {rows.map((row, r) => (
              <tr key={r}>
                <td className="pr-3 pb-1">
                  <input
                    className={CELL}
                    aria-label={`Stage ${r + 1}`}
                    list="usual-stages"
                    value={row.name}
                    onChange={(event) =>
                      change({
                        stages: rows.map((old, i) => (i === r ? { ...old, name: event.target.value } : old)),
                      })
                    }
                  />
                </td>
                {fill(row.hours).map((hours, c) => (
                  <td key={c} className="pr-2 pb-1">
                    <input
                      className={CELL}
                      aria-label={`Hours to ${row.name || `stage ${r + 1}`}${c ? `, temperature ${c + 1}` : ''}`}
                      value={hours}
                      onChange={(event) => put(r, c, event.target.value)}
                    />
                  </td>
                ))}
                <td className="pb-1">
                  <button
                    type="button"
                    aria-label={`Take out ${row.name || `stage ${r + 1}`}`}
                    className="grid size-11 place-items-center border-2 border-line hover:border-ink"
                    onClick={() => change({ stages: rows.filter((_, i) => i !== r) })}
                  >
                    <X aria-hidden size={18} />
                  </button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <datalist id="usual-stages">
        {usual.map((name) => (
          <option key={name} value={name} />
        ))}
      </datalist>
      <Button
        quiet
        className="mt-1 inline-flex items-center gap-2"
        onClick={() =>
          change({
            stages: [
              ...rows,
              { name: usual.find((name) => name !== 'open' && !known.has(name)) ?? '', hours: fill([]) },
            ],
          })
        }
      >
        <Plus aria-hidden size={18} /> A stage
      </Button>
      {problem && (
        <Notice tone="stop" className="mt-2">
          {problem}
        </Notice>
      )}
    </section>
  )
}
