import { useEffect, useState } from 'react'
import { shopMoment } from '@/api/changes'
import { newId } from '@/api/client'
import { meNow } from '@/api/present'

const NOT_READ = { resin: false, hardener: false }

/** What a mix is for: a step of a part, or something nobody planned. */
export type Use = {
  partId: string
  stepKey: string
  purpose: string
  /** What is still to mix for it [g]; null where nobody knows. */
  leftG: number | null
  /** What the step's own crew spreads in a minute, where it follows. */
  pace: string
}

/** What has been typed at the bench. It outlives a reload, and its id makes keeping it twice harmless. */
export type Draft = {
  id: string
  sheetId: string
  stepKey: string
  lids: { resin: boolean; hardener: boolean }
  /** When the lids were read: after a while they are to be read again. */
  readAt: string
  /** That it is another product than the planned one, on purpose. */
  instead: boolean
  /** Both lids were read, who mixes and of which lots is said: to the scale. */
  ready: boolean
  cup: string
  /** The size of cup that was asked about, and is wanted all the same. */
  bigCup: string
  /** What it is to be thickened with, how stiff, and how much of it went in. */
  filler: { id: string; consistency: string; use: string; grams: string } | null
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
  readAt: '',
  instead: false,
  ready: false,
  cup: '',
  bigCup: '',
  filler: null,
  resin: '',
  hardener: '',
  who: meNow()?.id ?? '',
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

export function useDraft(partId: string, sheetId: string, stepKey: string, asked: boolean, lidsMin: number) {
  const key = `pour:${partId}`
  const [draft, setDraft] = useState<Draft>(() => {
    const kept = sessionStorage.getItem(key)
    const before = kept ? (JSON.parse(kept) as Draft) : null
    if (!before || before.stepKey !== stepKey || (asked && before.sheetId !== sheetId))
      return fresh(sheetId, stepKey)
    // What was read off a can an hour ago says nothing of the can that stands here now.
    const old =
      !before.kept &&
      before.resin === '' &&
      Date.parse(shopMoment()) - Date.parse(before.readAt) > lidsMin * 60_000
    return { ...fresh(sheetId, stepKey), ...before, ...(old ? { ready: false, lids: NOT_READ } : {}) }
  })
  useEffect(() => sessionStorage.setItem(key, JSON.stringify(draft)), [key, draft])
  return {
    draft,
    change: (part: Partial<Draft>) => setDraft((before) => ({ ...before, ...part })),
    restart: () =>
      setDraft((before) => ({
        ...fresh(before.sheetId, before.stepKey),
        // The lids are read again for each cup: cans change places meanwhile.
        instead: before.instead,
        filler: before.filler && { ...before.filler, grams: '' },
        who: before.who,
        lot: before.lot,
        hardenerLot: before.hardenerLot,
      })),
  }
}
