import { useSyncExternalStore } from 'react'

// How many writes are under way.
let under_way = 0
const hearers = new Set<() => void>()

export function writes(more: 1 | -1) {
  under_way += more
  for (const hear of hearers) hear()
}

const subscribe = (hear: () => void) => {
  hearers.add(hear)
  return () => void hearers.delete(hear)
}

/** Whether something is being kept just now. */
export const useWriting = () => useSyncExternalStore(subscribe, () => under_way > 0)
