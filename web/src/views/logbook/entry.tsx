import { clsx } from 'clsx'
import { useState } from 'react'
import { Link } from 'react-router'
import { answer, client, type LogEntry, newId } from '@/api/client'
import { useEdit } from '@/api/edit'
import { Button } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { TextField } from '@/ui/text-field'
import { Words } from './words'

/** The margin of an entry says at a look what kind it is. */
const EDGE: Partial<Record<string, string>> = {
  wrong: 'edge-stop',
  decision: 'edge-care',
  question: 'edge-wait',
  note: 'edge-ready',
}

/** One entry of the book. What does not count any more is struck out, and stays to be read. */
export function Entry({ entry }: { entry: LogEntry }) {
  const [open, setOpen] = useState<'answer' | 'correct' | null>(null)
  const gone = entry.against !== ''
  // What builders wrote stands in the units they wrote it in.
  const own = entry.kind === 'note' || entry.kind === 'question'
  return (
    <li
      className={clsx(
        'grid grid-cols-[5.5rem_8rem_1fr] gap-x-3 border-line border-b py-2 pl-2 max-sm:grid-cols-[5rem_1fr]',
        EDGE[entry.kind],
      )}
    >
      <span className="whitespace-nowrap font-mono text-[0.95rem]">{entry.time}</span>
      <p className="text-soft max-sm:hidden">
        {entry.kind_words}
        <span className="block break-words">{entry.who}</span>
        {entry.by_hand && <span className="block break-words">written by {entry.by_hand}</span>}
      </p>
      <div className="flex min-w-0 flex-col gap-1">
        <p className="text-soft sm:hidden">
          {[entry.kind_words, entry.who, entry.by_hand && `written by ${entry.by_hand}`]
            .filter(Boolean)
            .join(', ')}
        </p>
        <p className="break-words">
          {entry.part && (
            <>
              <Link className="underline" to={`/part/${entry.part_id}/record`}>
                {entry.part}
              </Link>
              {' · '}
            </>
          )}
          <span className={clsx(gone && 'text-soft line-through')}>
            {entry.of && <span className="font-semibold">{entry.of}. </span>}
            <span data-own-words={own || undefined} className="whitespace-pre-line">
              {entry.words}
            </span>
          </span>
        </p>
        {entry.sub.map((line) => (
          <p key={line} className="break-words text-soft">
            {line}
          </p>
        ))}
        {entry.corrects && (
          <p data-own-words={own || undefined} className="break-words text-soft">
            {entry.corrects}
          </p>
        )}
        {gone && <p className="break-words">{entry.against}.</p>}
        {entry.photos.length > 0 && (
          <p className="flex flex-wrap gap-3">
            {entry.photos.map((id, n) => (
              <a key={id} href={`/api/v1/photos/${id}`} target="_blank" rel="noreferrer">
                <img
                  src={`/api/v1/photos/${id}?small=true`}
                  alt={`${entry.of || entry.words}, photograph ${n + 1}`}
                  className="h-28 border-2 border-line"
                />
              </a>
            ))}
          </p>
        )}
        {entry.spoken.map((id, n) => (
          // biome-ignore lint/a11y/useMediaCaption: what was spoken is nowhere written down
          <audio key={id} controls src={`/api/v1/photos/${id}`} aria-label={`Spoken, ${n + 1}`} />
        ))}
        {own && !gone && open === null && (
          <div className="flex flex-wrap gap-3">
            {entry.kind === 'question' && (
              <Button quiet={!entry.open} onClick={() => setOpen('answer')}>
                {entry.open ? 'It was answered…' : 'Answered again…'}
              </Button>
            )}
            <Button quiet onClick={() => setOpen('correct')}>
              Correct it…
            </Button>
          </div>
        )}
        {open === 'answer' && <Answer entry={entry} onDone={() => setOpen(null)} />}
        {open === 'correct' && <Correct entry={entry} onDone={() => setOpen(null)} />}
      </div>
    </li>
  )
}

type FormProps = { entry: LogEntry; onDone: () => void }

/** What a question was answered, by whom, and what of the manual it changed. */
function Answer({ entry, onDone }: FormProps) {
  const edit = useEdit(0)
  const [id] = useState(newId)
  const [words, setWords] = useState('')
  const [byWhom, setByWhom] = useState('')
  const [revision, setRevision] = useState('')
  const problems = edit.problem?.fields ?? {}
  const keep = async () => {
    const params = { path: { note_id: entry.id } }
    const body = { id, words, by_whom: byWhom, revision }
    const kept = await edit.save(() =>
      answer(client.POST('/api/v1/log-notes/{note_id}/answers', { params, body })),
    )
    if (kept) onDone()
  }
  return (
    <div className="flex max-w-2xl flex-col gap-3 border-line border-l-6 pl-4">
      <Words label="The answer" value={words} problem={problems.words} onChange={setWords} />
      <div className="grid gap-3 sm:grid-cols-2">
        <TextField label="By whom" value={byWhom} problem={problems.by_whom} onChange={setByWhom} />
        <TextField
          label="Revision of the manual it changed, if any"
          value={revision}
          problem={problems.revision}
          onChange={setRevision}
        />
      </div>
      <EditProblem edit={edit} shownInFields={['words', 'by_whom', 'revision']} />
      <div className="flex gap-3">
        <Button onClick={() => void keep()}>Keep the answer</Button>
        <Button quiet onClick={onDone}>
          Leave it
        </Button>
      </div>
    </div>
  )
}

/** The same written otherwise: what stood there stays in the book, struck out. */
function Correct({ entry, onDone }: FormProps) {
  const edit = useEdit(0)
  const [id] = useState(newId)
  const [words, setWords] = useState(entry.text)
  const keep = async () => {
    const body = {
      id,
      kind: entry.kind === 'question' ? ('question' as const) : ('note' as const),
      words,
      part_id: entry.part_id || null,
      step_key: entry.step_key,
      crew_member_id: entry.who_ids[0] ?? null,
      corrects_id: entry.id,
    }
    if (await edit.save(() => answer(client.POST('/api/v1/log-notes', { body })))) onDone()
  }
  return (
    <div className="flex max-w-2xl flex-col gap-3 border-line border-l-6 pl-4">
      <Words label="As it should be" value={words} problem={edit.problem?.fields.words} onChange={setWords} />
      <EditProblem edit={edit} shownInFields={['words']} />
      <div className="flex gap-3">
        <Button onClick={() => void keep()}>Correct it</Button>
        <Button quiet onClick={onDone}>
          Leave it
        </Button>
      </div>
    </div>
  )
}
