import { useRef, useState } from 'react'
import { useRefresh } from '@/api/changes'
import { newId } from '@/api/client'
import { asWho, useBuilds } from '@/api/present'
import { Button } from './button'
import { Notice } from './notice'

type Props = {
  /** Whose: its kind and id, as in its address. */
  of: string
  /** Which of it, where its address alone does not say. */
  query?: string
  photos: string[]
  /** What they show, in words: “this batch”. */
  name: string
}

/** Photographs of something, each opened whole by a touch; and one more taken. */
export function Photos({ of, query = '', photos, name }: Props) {
  const refresh = useRefresh()
  const builds = useBuilds()
  const input = useRef<HTMLInputElement>(null)
  const [problem, setProblem] = useState('')
  const keep = async (file: File | undefined) => {
    if (!file) return
    setProblem(await sendShot(`${of}/photos/${newId()}${query}`, file))
    await refresh()
  }
  return (
    <>
      {photos.map((id, n) => (
        <a key={id} href={`/api/v1/photos/${id}`} target="_blank" rel="noreferrer">
          <img
            src={`/api/v1/photos/${id}?small=true`}
            alt={`${name}, ${n + 1}`}
            className="h-28 border-2 border-line"
          />
        </a>
      ))}
      {builds && (
        <Button quiet onClick={() => input.current?.click()}>
          Add a photograph
        </Button>
      )}
      <input
        ref={input}
        type="file"
        accept="image/*"
        capture="environment"
        className="hidden"
        aria-label={`Photograph of ${name}`}
        onChange={(event) => {
          void keep(event.target.files?.[0])
          // The same picture may be sent again when it was not kept.
          event.target.value = ''
        }}
      />
      {problem && <Notice tone="stop">{problem}</Notice>}
    </>
  )
}

/** Sends a photograph, or what was spoken, to where it belongs; answers why it was not kept, "" where it was. */
export async function sendShot(path: string, file: Blob): Promise<string> {
  const kind = file.type || 'application/octet-stream'
  try {
    const sent = await asWho(
      () => fetch(`/api/v1/${path}`, { method: 'PUT', body: file, headers: { 'Content-Type': kind } }),
      true,
    )
    if (sent.ok) return ''
    return ((await sent.json()) as { detail?: string }).detail ?? 'It was not kept.'
  } catch {
    return 'It was not kept: the shop’s computer does not answer. Send it again.'
  }
}
