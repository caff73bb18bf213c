import type { ShapeTyped } from '@/api/client'

export type Kind = ShapeTyped['kind']
export type Station = ShapeTyped['stations'][number]
export type Change = (shape: ShapeTyped) => void

export const NO_SECTION = { naca: '', file: '', file_name: '', name: '', upper: [], lower: [] }
export const STATION: Station = {
  at: '',
  chord: '',
  leading_edge: '',
  height: '',
  twist: '',
  section: NO_SECTION,
}
export const STRIP = { at: '', across: '' }
export const PIECE = { name: '', count: '', length: '', width: '', thickness: '', face: '' }

/** A shape of a kind with nothing typed yet. */
export const blankShape = (kind: Kind): ShapeTyped => ({
  kind,
  system: '',
  stations: [STATION, STATION],
  ribs: { where: '', width: '', edge: '' },
  outline: { points: '', dxf: '', svg: '', file_name: '', unit: '', keep: false },
  strips: [STRIP, STRIP],
  measured: 'one face',
  pieces: [PIECE],
})

/** Whether anything was typed of a shape. */
export const begun = (shape: ShapeTyped) => {
  const { stations, ribs, outline, strips, pieces } = blankShape(shape.kind)
  return (
    JSON.stringify({ stations, ribs, outline, strips, pieces }) !==
    JSON.stringify({
      stations: shape.stations,
      ribs: shape.ribs,
      outline: shape.outline,
      strips: shape.strips,
      pieces: shape.pieces,
    })
  )
}
