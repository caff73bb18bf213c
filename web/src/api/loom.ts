import type { LoomAnswer } from './client'

type Span = { start: string; end: string }

/** A step on its lane as it is drawn. */
export type Block = {
  id: string
  part_id: string
  key: string
  name: string
  state: LoomAnswer['lanes'][number]['blocks'][number]['state']
  pieces: Span[]
  wait: Span | null
  knots: string[]
  gate: boolean
  pinned: boolean
  movable: boolean
  /** When the accepted plan had it, where that differs and is compared. */
  was: Span | null
}

/** The minutes of the answer as moments, and its places as the parts and steps they stand for. */
export function unpacked(answer: LoomAnswer) {
  const zero = Date.parse(answer.zero)
  const moment = (minute: number) => new Date(zero + minute * 60_000).toISOString()
  const span = ([start = 0, end = 0]: number[]): Span => ({ start: moment(start), end: moment(end) })
  const lanes = answer.lanes.map((lane) => ({
    ...lane,
    blocks: lane.blocks.map((block): Block => {
      const { key, name } = answer.steps[block.step] ?? { key: '', name: '' }
      const part_id = answer.parts[block.part] ?? ''
      const id = `${part_id}:${key}`
      const was = answer.was[id]
      return {
        id,
        part_id,
        key,
        // On a person's or a station's lane the step alone says not of which part.
        name: lane.id === part_id ? name : `${answer.part_names[block.part] ?? ''}: ${name}`,
        state: block.state,
        pieces: block.pieces.map(span),
        wait: block.wait.length ? span([block.wait[0] ?? 0, block.wait.at(-1) ?? 0]) : null,
        knots: block.wait.slice(1).map(moment),
        gate: block.flags.includes('closes'),
        pinned: block.flags.includes('pinned'),
        movable: !block.flags.includes('fixed'),
        was: was ? span(was) : null,
      }
    }),
  }))
  return {
    ...answer,
    lanes,
    crew: answer.crew.map((member) => ({ ...member, pieces: member.pieces.map(span) })),
    nights: answer.nights.map(span),
    closed: answer.closed.map(span),
    ribbon: answer.ribbon.map(([at = 0, c = 0]) => ({ at: moment(at), c })),
  }
}

export type LoomView = ReturnType<typeof unpacked>
export type Lane = LoomView['lanes'][number]
