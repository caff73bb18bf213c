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
    texts: Object.fromEntries(zone.fields.map((field) => [field.field, field.text])),
    corners: zone.corners,
  })),
})

/** A ply book that is edited: each change is saved at once; what is dragged is looked at while it moves. */
export function useBook(partId: string, kept: PliesView) {
  const edit = useEdit(kept.version)
  const [looked, setLooked] = useState<PliesView | null>(null)
  const waits = useRef<Book | null>(null)
  const busy = useRef(false)
  const book = bookOf(kept)
  const body = (next: Book, version: number, reason: string) => ({ job: kept.job, version, reason, ...next })
  const path = { part_id: partId }

  /** Looks at the newest that was asked for, one after the other: what lies between is passed over. */
  const look = async (next: Book) => {
    waits.current = next
    if (busy.current) return
    busy.current = true
    while (waits.current) {
      const asked: Book = waits.current
      waits.current = null
      try {
        const sent = client.POST('/api/v1/parts/{part_id}/plies/look', {
          params: { path },
          body: body(asked, kept.version, ''),
        })
        setLooked(await answer(sent))
      } catch {
        // An edge dragged past another can't be looked at; saving it says why.
      }
    }
    busy.current = false
  }

  const save = async (next: Book) => {
    waits.current = null
    const saved = await edit.save((version, reason) =>
      answer(
        client.PUT('/api/v1/parts/{part_id}/plies', {
          params: { path },
          body: body(next, version, reason),
        }),
      ),
    )
    setLooked(null)
    return saved
  }
  return { edit, book, view: looked ?? kept, look, save }
}

export type EditedBook = ReturnType<typeof useBook>
