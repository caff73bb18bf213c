import type { CutListView } from '@/api/client'

type Bars = CutListView['lists'][number]['bars']
const HIGH = 46

/** Lengths of stock to one scale, what is sawn from each in order, and what is left over. */
export function SawBars({ bars }: { bars: Bars }) {
  const longest = Math.max(...bars.map((bar) => bar.length_m), 0.001)
  return (
    <ol className="flex flex-col gap-3">
      {bars.map((bar, n) => (
        <li key={`${n} ${bar.length}`} className="flex flex-col gap-0.5">
          <span className="flex flex-wrap gap-x-3">
            <span className="font-semibold tabular-nums">{bar.count} ×</span>
            <span>
              {bar.length}, {bar.bought ? 'bought' : 'from the shelf'}
            </span>
            {bar.left && <span className="text-soft">{bar.left} left over</span>}
          </span>
          <div
            className="relative border-2 border-line bg-panel"
            style={{ width: `${(bar.length_m / longest) * 100}%`, height: HIGH }}
          >
            {bar.pieces.map((piece) => (
              <span
                key={piece.from_m}
                title={`${piece.name} ${piece.length}`}
                className="absolute inset-y-0 flex flex-col justify-center overflow-hidden border-ink border-x-2 bg-weld-wash px-1 text-sm leading-tight"
                style={{
                  left: `${(piece.from_m / bar.length_m) * 100}%`,
                  width: `${((piece.to_m - piece.from_m) / bar.length_m) * 100}%`,
                }}
              >
                <span className="truncate font-semibold">{piece.name}</span>
                <span className="truncate tabular-nums">{piece.length}</span>
              </span>
            ))}
          </div>
        </li>
      ))}
    </ol>
  )
}
