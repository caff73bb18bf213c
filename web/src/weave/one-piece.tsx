import type { CutPiece, Stock } from './cut-layout'

/** One piece where it lies, large: its neighbours faint, its corners named, the selvedges and the warp. */
export function OnePiece({ stock, piece }: { stock: Stock; piece: CutPiece }) {
  const xs = piece.outline_mm.map(([x = 0]) => x)
  const [low, high] = [Math.min(...xs), Math.max(...xs)]
  const margin = Math.max((high - low) * 0.12, 120)
  const [left, right] = [low - margin, high + margin]
  const ring = stock.rings[0] ?? []
  const base = Math.min(...ring.map(([, y = 0]) => y))
  const top = base + stock.width_mm
  const wide = right - left
  const tall = stock.width_mm + 0.1 * wide
  const unit = Math.max(wide, 2.4 * tall) / 100
  const at = ([x = 0, y = 0]: readonly number[]) => `${x - left},${top - y}`
  const [mx = 0, my = 0] = piece.middle_mm
  const arm = Math.min(piece.room_mm * 0.8, 8 * unit)
  return (
    <svg
      viewBox={`0 ${-0.05 * wide} ${wide} ${tall}`}
      className="max-h-[46vh] w-full border-2 border-line bg-panel"
      role="img"
      aria-label={`Piece ${piece.code} on ${stock.name.toLowerCase()}`}
    >
      <polygon points={ring.map(at).join(' ')} fill="none" stroke="var(--walnut)" strokeWidth={unit * 0.5} />
      {stock.pieces
        .filter((other) => other.key !== piece.key && reaches(other, left, right))
        .map((other) => (
          <polygon
            key={other.key}
            points={other.outline_mm.map(at).join(' ')}
            fill={other.cut ? 'var(--lichen-wash)' : 'none'}
            stroke="var(--line)"
            strokeWidth={unit * 0.3}
          />
        ))}
      <polygon
        points={piece.outline_mm.map(at).join(' ')}
        fill="var(--woad-wash)"
        stroke="var(--ink)"
        strokeWidth={unit * 0.6}
        strokeLinejoin="round"
      />
      <g transform={`translate(${mx - left} ${top - my})`}>
        <path
          d={`M${-arm},0 L${arm},0 M${arm - unit},${-unit} L${arm},0 L${arm - unit},${unit} M${unit - arm},${-unit} L${-arm},0 L${unit - arm},${unit}`}
          fill="none"
          stroke="var(--madder)"
          strokeWidth={unit * 0.5}
        />
        <path
          transform={`rotate(${-piece.tip_deg}) translate(${arm + 2.2 * unit} 0)`}
          d={`M${-1.4 * unit},${-unit} L${0.6 * unit},0 L${-1.4 * unit},${unit} Z`}
          fill="var(--ink)"
        />
      </g>
      {piece.corners.map((corner) => (
        <g key={corner.name} transform={`translate(${corner.x_mm - left} ${top - corner.y_mm})`}>
          <circle r={unit * 1.7} fill="var(--ink)" />
          <text
            textAnchor="middle"
            y={unit * 0.75}
            fontSize={unit * 2.3}
            fontWeight={700}
            fill="var(--panel)"
          >
            {corner.name}
          </text>
        </g>
      ))}
    </svg>
  )
}

const reaches = (piece: CutPiece, left: number, right: number) =>
  piece.outline_mm.some(([x = 0]) => x >= left && x <= right)
