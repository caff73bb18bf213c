import { useRef, useState } from 'react'
import { answer, client, type PliesView, type Typed } from '@/api/client'
import { useEdit } from '@/api/edit'

type Row = { cloth_id: string; angle: Typed; zone: string; stage: number }
export type ZoneTyped = { name: string; kind: string; texts: Record<string, string>; corners: string }
/** A ply book as it is sent: all of it, or nothing. */
export type Book = {
  plies: Row[]
  core_id: string | null
  core_after: number
  core_zone: string
  zones: ZoneTyped[]
}

/** What is on the screen as it would be sent. */
const bookOf = (view: PliesView): Book => ({
  plies: view.plies.map((ply) => ({
    cloth_id: ply.cloth_id,
    angle: { text: String(ply.angle_deg), unit: '°' },
    zone: ply.zone,
    stage: ply.stage,
  })),
  core_id: view.core?.core_id ?? null,
  core_after: view.core?.after ?? 0,
  core_zone: view.core?.zone ?? '',
  zones: view.zones.map((zone) => ({
    name: zone.name,
    kind: zone.kind,
    texts: {
      ...Object.fromEntries(zone.fields.map((field) => [field.field, field.text])),
      insert: zone.insert,
      threads: zone.threads,
      joints: zone.joints,
    },
    corners: zone.corners,
  })),
})

type Change = (book: Book) => Book

/** A ply book that is edited: each change is saved at once; what is dragged is looked at while it moves. */
export function useBook(partId: string, kept: PliesView) {
  const edit = useEdit(kept.version)
  const [looked, setLooked] = useState<PliesView | null>(null)
  const waits = useRef<Change | null>(null)
  const busy = useRef(false)
  // How often something was looked at: what is dragged stays in view when an earlier change is kept meanwhile.
  const looks = useRef(0)
  // What was sent last counts until the page has it: a second change, a moment later, stands on the first.
  const sent = useRef<{ book: Book; version: number; moved: boolean } | null>(null)
  const page = useRef(kept)
  page.current = kept
  const now = () =>
    sent.current && sent.current.version > page.current.version ? sent.current.book : bookOf(page.current)
  const body = (next: Book, version: number, reason: string) => ({ job: kept.job, version, reason, ...next })
  const path = { part_id: partId }

  /** Looks at the newest that was asked for, one after the other: what lies between is passed over. */
  const look = async (change: Change) => {
    waits.current = change
    looks.current += 1
    if (busy.current) return
    busy.current = true
    while (waits.current) {
      const asked: Book = waits.current(now())
      waits.current = null
      try {
        const looking = client.POST('/api/v1/parts/{part_id}/plies/look', {
          params: { path },
          body: body(asked, kept.version, ''),
        })
        setLooked(await answer(looking))
      } catch {
        // An edge dragged past another can't be looked at; saving it says why.
      }
    }
    busy.current = false
  }

  const send = async (change: Change, moved: boolean) => {
    waits.current = null
    const before = sent.current
    const seen = looks.current
    // Once rows were moved, those of the page have other numbers until it has them again.
    const pending = before !== null && before.version > page.current.version && before.moved
    const mine = { book: change(now()), version: Number.POSITIVE_INFINITY, moved: moved || pending }
    sent.current = mine
    const saved = await edit.save(async (version, reason) => {
      sent.current = mine
      try {
        const put = client.PUT('/api/v1/parts/{part_id}/plies', {
          params: { path },
          body: body(mine.book, version, reason),
        })
        const answered = await answer(put)
        mine.version = answered.version
        return answered
      } catch (refused) {
        // What was refused, or is older than another browser's, is not what stands.
        if (sent.current === mine) sent.current = before
        throw refused
      }
    })
    if (looks.current === seen) setLooked(null)
    return saved
  }
  const save = (change: Change) => send(change, false)
  /** Rows that come, go or change places; pressed again before the page shows it, it is the same press. */
  const rearrange = async (change: Change) => {
    if (sent.current?.moved && sent.current.version > page.current.version) return false
    return send(change, true)
  }
  return { edit, view: looked ?? kept, look, save, rearrange }
}

export type EditedBook = ReturnType<typeof useBook>
