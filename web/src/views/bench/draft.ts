import { useEffect, useState } from 'react'
import { newId } from '@/api/client'

/** What has been typed at the bench. It outlives a reload, and its id makes keeping it twice harmless. */
export type Draft = {
  id: string
  sheetId: string
  stepKey: string
  lids: { resin: boolean; hardener: boolean }
  cup: string
  resin: string
  hardener: string
  who: string
  lot: string
  hardenerLot: string
  note: string
  /** What is being poured, where the scale is followed; `typed` where it is not. */
  pouring: 'resin' | 'hardener' | 'done' | 'typed'
  /** Whether the scale stood at zero, with the empty cup on it, since this cup was begun: what stood there before is no resin. */
  zeroed: boolean
  /** What the scale showed for the resin alone, where it was typed before the scale was followed [g]. */
  from: number | null
  /** When the two parts met. */
  metAt: string
  used: boolean
  another: boolean
  /** The batch it became. */
  kept: string
}

export const fresh = (sheetId: string, stepKey: string): Draft => ({
  id: newId(),
  sheetId,
  stepKey,
  lids: { resin: false, hardener: false },
  cup: '',
  resin: '',
  hardener: '',
  who: '',
  lot: '',
  hardenerLot: '',
  note: '',
  pouring: 'typed',
  zeroed: false,
  from: null,
  metAt: '',
  used: false,
  another: false,
  kept: '',
})

export function useDraft(partId: string, sheetId: string, stepKey: string, asked: boolean) {
  const key = `pour:${partId}`
  const [draft, setDraft] = useState<Draft>(() => {
    const kept = sessionStorage.getItem(key)
    const before = kept ? (JSON.parse(kept) as Draft) : null
    return before && before.stepKey === stepKey && (!asked || before.sheetId === sheetId)
      ? { ...fresh(sheetId, stepKey), ...before }
      : fresh(sheetId, stepKey)
  })
  useEffect(() => sessionStorage.setItem(key, JSON.stringify(draft)), [key, draft])
  return {
    draft,
    change: (part: Partial<Draft>) => setDraft((before) => ({ ...before, ...part })),
    restart: () =>
      setDraft((before) => ({
        ...fresh(before.sheetId, before.stepKey),
        who: before.who,
        lot: before.lot,
        hardenerLot: before.hardenerLot,
      })),
  }
}
