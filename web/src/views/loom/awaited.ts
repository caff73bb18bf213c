import type { LoomView } from '@/api/loom'

/** What is awaited, each once, by the moment it comes. */
export function awaited(due: LoomView['due']) {
  const found = new Map<string, string[]>()
  for (const { at, what } of due) {
    const known = found.get(at) ?? []
    found.set(at, known.includes(what) ? known : [...known, what])
  }
  return found
}
