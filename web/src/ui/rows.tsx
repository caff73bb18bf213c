import { Button } from './button'
import { TextField } from './text-field'

/** The rows with one of them put in the place of another. */
export const put = <T,>(rows: readonly T[], n: number, row: T) => rows.map((one, m) => (m === n ? row : one))

type TableProps<T> = {
  name: string
  rows: readonly T[]
  blank: T
  columns: { field: keyof T & string; kept: string; label: string; wide?: boolean }[]
  field: string
  problem: (field: string) => string | undefined
  onRows: (rows: T[]) => void
  more?: (row: T, n: number) => React.ReactNode
  moreLabel?: string
  least: number
  add: string
}

/** Rows of fields under one head; another row at the end, each can be taken out. */
export function Rows<T extends Record<keyof T, unknown>>(props: TableProps<T>) {
  const { name, rows, blank, columns, field, problem, onRows, more, moreLabel, least, add } = props
  const grid = {
    gridTemplateColumns: `1.6rem ${columns.map((one) => (one.wide ? '2fr' : '1fr')).join(' ')}${more ? ' 1.6fr' : ''} 2.75rem`,
  }
  return (
    <div className="flex flex-col gap-1.5 overflow-x-auto">
      <div className="grid min-w-[40rem] items-end gap-2 text-soft text-sm" style={grid}>
        <span />
        {columns.map((one) => (
          <span key={one.field}>{one.label}</span>
        ))}
        {more && <span>{moreLabel}</span>}
        <span />
      </div>
      {rows.map((row, n) => {
        const problems = [...columns.map((one) => `${field}.${n}.${one.kept}`), `${field}.${n}.section`]
        const said = problems.map(problem).find((words) => words)
        return (
          <div key={n} className="flex flex-col gap-1">
            <div className="grid min-w-[40rem] items-center gap-2" style={grid}>
              <span className="text-right text-soft">{n + 1}</span>
              {columns.map((one) => (
                <TextField
                  key={one.field}
                  aria-label={`${name} ${n + 1}, ${one.label.toLowerCase()}`}
                  value={String(row[one.field])}
                  aria-invalid={problem(`${field}.${n}.${one.kept}`) ? true : undefined}
                  className="[&_input]:px-1.5 [&_input]:text-[0.95rem]"
                  onChange={(text) => onRows(put(rows, n, { ...row, [one.field]: text }))}
                />
              ))}
              {more?.(row, n)}
              <button
                type="button"
                aria-label={`Take ${name.toLowerCase()} ${n + 1} out`}
                disabled={rows.length <= least}
                onClick={() => onRows(rows.filter((_, m) => m !== n))}
                className="min-h-11 text-soft text-xl hover:text-ink disabled:opacity-30"
              >
                ×
              </button>
            </div>
            {said && (
              <p role="alert" className="edge-stop ml-8 bg-madder-wash px-3 py-1.5 text-madder text-sm">
                {said}
              </p>
            )}
          </div>
        )
      })}
      <Button quiet className="ml-8 self-start" onClick={() => onRows([...rows, blank])}>
        {add}
      </Button>
    </div>
  )
}
