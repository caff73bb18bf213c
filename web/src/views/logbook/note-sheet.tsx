import { createContext, type ReactNode, useContext, useEffect, useState } from 'react'
import { useRefresh } from '@/api/changes'
import { answer, client, newId, Problem } from '@/api/client'
import { useEdit } from '@/api/edit'
import { meNow } from '@/api/present'
import { useNoteForm } from '@/api/questions'
import { Button } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { Notice } from '@/ui/notice'
import { OneOf } from '@/ui/one-of'
import { sendShot } from '@/ui/photos'
import { Pick } from '@/ui/pick'
import { SideSheet } from '@/ui/side-sheet'
import { Who } from '@/ui/who'
import { useVoice } from './voice'
import { Words } from './words'

type About = { part: string }
const Open = createContext<(about: About) => void>(() => undefined)

/** Opens the sheet that a note is written on, of a part or of the shop. */
export const useNoteSheet = () => useContext(Open)

/** Whatever page is open, a note can be written beside it. */
export function NoteSheets({ children }: { children: ReactNode }) {
  const [about, setAbout] = useState<About | null>(null)
  return (
    <Open value={setAbout}>
      {children}
      <SideSheet open={about !== null} onClose={() => setAbout(null)} title="Into the logbook">
        {about && <NoteForm about={about} onDone={() => setAbout(null)} />}
      </SideSheet>
    </Open>
  )
}

const KEPT = 'note being written'
const SHOP = 'the shop'
type Draft = { id: string; kind: 'note' | 'question'; words: string; part: string; who: string }

/** A note or a question: words, photographs, or spoken. What is half written outlives a reload, on this tablet. */
function NoteForm({ about, onDone }: { about: About; onDone: () => void }) {
  const edit = useEdit(0)
  const refresh = useRefresh()
  const asked = useNoteForm()
  const form = asked.data
  const people = form?.people ?? []
  const parts = form?.parts.map(({ id, name }) => ({ value: id, name })) ?? []
  const [draft, setDraft] = useState<Draft>(() => ({
    id: newId(),
    kind: 'note',
    words: '',
    part: about.part || SHOP,
    who: meNow()?.id || (localStorage.getItem('who writes') ?? ''),
    // What is half written goes on where it was, of what it was of.
    ...(JSON.parse(sessionStorage.getItem(KEPT) ?? '{}') as Partial<Draft>),
  }))
  const [shots, setShots] = useState<{ id: string; file: Blob; name: string }[]>([])
  const [failed, setFailed] = useState('')
  const [keeping, setKeeping] = useState(false)
  // Once the words are in the book, under an id, they are corrected there; what belongs to them is still to be sent.
  const [inBook, setInBook] = useState('')
  const [otherwise] = useState(newId)
  const voice = useVoice((file) =>
    setShots((now) => [...now, { id: newId(), file, name: 'What was spoken' }]),
  )
  useEffect(() => {
    if (draft.words && !inBook) sessionStorage.setItem(KEPT, JSON.stringify(draft))
    else sessionStorage.removeItem(KEPT)
  }, [draft, inBook])
  const change = (more: Partial<Draft>) => setDraft({ ...draft, ...more })
  const keep = async () => {
    setKeeping(true)
    setFailed('')
    try {
      await written()
    } finally {
      setKeeping(false)
    }
  }
  const written = async () => {
    const { id, kind, words, part, who } = draft
    const body = {
      id,
      kind,
      words,
      part_id: part === SHOP ? null : part,
      crew_member_id: who || null,
      shown: shots.length > 0,
    }
    if (who) localStorage.setItem('who writes', who)
    const send = (more: { id: string; corrects_id?: string }) =>
      answer(client.POST('/api/v1/log-notes', { body: { ...body, ...more } }))
    let stands = inBook
    const save = () =>
      send({ id }).then(
        () => {
          stands = id
        },
        async (error) => {
          // It was kept, its answer was lost, and it reads otherwise now: what stands in the book is corrected.
          if (!(error instanceof Problem) || error.status !== 409) throw error
          await send({ id: otherwise, corrects_id: id })
          stands = otherwise
        },
      )
    if (!stands && !(await edit.save(save))) return
    setInBook(stands)
    sessionStorage.removeItem(KEPT)
    for (const shot of shots) {
      const why = await sendShot(`log-notes/${stands}/photos/${shot.id}`, shot.file)
      if (why) {
        setFailed(`The words are kept; of what belongs to them this is not: ${shot.name}. ${why}`)
        return
      }
      setShots((now) => now.filter((one) => one.id !== shot.id))
    }
    onDone()
    await refresh()
  }
  return (
    <form
      className="flex flex-col gap-4"
      onSubmit={(event) => {
        event.preventDefault()
        void keep()
      }}
    >
      {inBook ? (
        <p className="whitespace-pre-line text-lg">{draft.words}</p>
      ) : (
        <>
          <OneOf
            label="This is"
            value={draft.kind}
            choices={[
              { value: 'note', name: 'A note' },
              { value: 'question', name: 'A question to the kit maker' },
            ]}
            onChange={(kind) => change({ kind: kind as Draft['kind'] })}
          />
          <Pick
            label="Of"
            value={draft.part}
            choices={[{ value: SHOP, name: 'the shop, or all of it' }, ...parts]}
            onChange={(part) => change({ part })}
          />
          <Words
            label={draft.kind === 'note' ? 'What is to be remembered' : 'What is asked'}
            value={draft.words}
            problem={edit.problem?.fields.words}
            onChange={(words) => change({ words })}
          />
        </>
      )}
      <div className="flex flex-wrap gap-3">
        <label className="inline-flex min-h-11 cursor-pointer items-center border-2 border-line bg-panel px-4 font-semibold focus-within:border-woad hover:border-ink">
          Add a photograph
          <input
            type="file"
            accept="image/*"
            capture="environment"
            multiple
            className="sr-only"
            onChange={(event) => {
              const files = [...(event.target.files ?? [])]
              setShots((now) => [...now, ...files.map((file) => ({ id: newId(), file, name: file.name }))])
              event.target.value = ''
            }}
          />
        </label>
        {voice.can && (
          <Button quiet aria-pressed={voice.runs} onClick={voice.runs ? voice.stop : voice.start}>
            {voice.runs ? `Spoken enough, ${voice.seconds} s` : 'Speak it'}
          </Button>
        )}
      </div>
      {voice.problem && <Notice tone="care">{voice.problem}</Notice>}
      {shots.length > 0 && (
        <ul className="flex flex-col">
          {shots.map((shot) => (
            <li key={shot.id} className="flex items-center justify-between gap-3 border-line border-t py-1">
              <span className="min-w-0 truncate">{shot.name}</span>
              <Button quiet onClick={() => setShots(shots.filter((one) => one.id !== shot.id))}>
                Leave it out
              </Button>
            </li>
          ))}
        </ul>
      )}
      {!inBook && <Who label="Written by" people={people} who={draft.who} onWho={(who) => change({ who })} />}
      {failed && <Notice tone="stop">{failed}</Notice>}
      <EditProblem edit={edit} shownInFields={['words']} />
      {/* Until it is known who is here it would move under the finger. */}
      <Button type="submit" disabled={keeping || voice.runs || asked.isLoading}>
        {failed ? 'Send it again' : 'Write it down'}
      </Button>
    </form>
  )
}
