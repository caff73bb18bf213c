import { Trash2 } from 'lucide-react'
import { useState } from 'react'
import type { PliesView } from '@/api/client'
import { Button } from '@/ui/button'
import { FigureValue } from '@/ui/figure'
import { Notice } from '@/ui/notice'
import { Pick } from '@/ui/pick'
import { SavedField } from '@/ui/saved-field'
import type { EditedBook, ZoneTyped } from './ply-book'

type Props = { view: PliesView; edited: EditedBook; onHold: (zone: number) => void }

/** The zones of a ply book as they are typed; a new one of each kind. */
export function Zones({ view, edited, onHold }: Props) {
  const add = (begin: PliesView['new_zones'][number]) =>
    edited.rearrange((book) => {
      const taken = new Set(book.zones.map((zone) => zone.name))
      const n = [...Array(book.zones.length + 1).keys()].find((i) => !taken.has(`zone ${i + 1}`)) ?? 0
      const zone: ZoneTyped = {
        name: `zone ${n + 1}`,
        kind: begin.kind,
        texts: begin.texts,
        corners: begin.corners,
      }
      return { ...book, zones: [...book.zones, zone] }
    })
  return (
    <section aria-label="Zones" className="flex flex-col gap-3">
      <h2 className="font-semibold text-xl">Zones</h2>
      {view.zones.length === 0 && (
        <p className="text-soft">
          Every ply covers all of the side. A doubler at the root, a cap, a patch under a fitting: add a zone,
          then say which plies lie in it.
        </p>
      )}
      {view.zones.map((zone, i) => (
        // biome-ignore lint/a11y/noStaticElementInteractions: lights the same zone in the drawing
        <div key={i} onPointerEnter={() => onHold(i)} onFocus={() => onHold(i)}>
          <ZoneRow view={view} zone={zone} i={i} edited={edited} />
        </div>
      ))}
      <div className="flex flex-wrap items-center gap-3">
        <span>Add a zone:</span>
        {view.new_zones.map((one) => (
          <Button key={one.kind} quiet onClick={() => void add(one)} aria-label={`Add a zone ${one.name}`}>
            {one.name}
          </Button>
        ))}
      </div>
    </section>
  )
}

type RowProps = { view: PliesView; zone: PliesView['zones'][number]; i: number; edited: EditedBook }

function ZoneRow({ view, zone, i, edited }: RowProps) {
  const { save, rearrange, edit } = edited
  const [going, setGoing] = useState(false)
  const problem = (field: string) => edit.problem?.fields[`zones.${i}.${field}`]
  const mine = view.plies.filter((ply) => ply.zone === zone.name).length
  const without = (plies: 'too' | 'stay') =>
    rearrange((book) => {
      const stays = (ply: (typeof book.plies)[number]) => plies === 'stay' || ply.zone !== zone.name
      return {
        ...book,
        plies: book.plies.filter(stays).map((ply) => (ply.zone === zone.name ? { ...ply, zone: '' } : ply)),
        // Plies outside the core that go take their place with them.
        core_after: book.plies.slice(0, book.core_after).filter(stays).length,
        core_zone: book.core_zone === zone.name ? '' : book.core_zone,
        zones: book.zones.filter((_, n) => n !== i),
      }
    })
  const remove = () => (mine ? setGoing(true) : void without('stay'))
  const change = (part: (typed: ZoneTyped) => Partial<ZoneTyped>) =>
    save((book) => ({
      ...book,
      zones: book.zones.map((one, n) => (n === i ? { ...one, ...part(one) } : one)),
    }))
  const rename = (typed: string) =>
    save((book) => {
      const [was, name] = [book.zones[i]?.name, typed.trim()]
      return {
        ...book,
        zones: book.zones.map((one, n) => (n === i ? { ...one, name } : one)),
        plies: book.plies.map((ply) => (ply.zone && ply.zone === was ? { ...ply, zone: name } : ply)),
        core_zone: book.core_zone === was ? name : book.core_zone,
      }
    })
  return (
    <div className="flex flex-col gap-3 bg-panel px-4 py-3">
      <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
        <SavedField
          label={`Name of zone ${i + 1}`}
          saved={zone.name}
          problem={problem('name')}
          onSave={rename}
          className="w-32"
        />
        {zone.fields
          .filter((field) => field.field !== 'step_m' || mine > 1)
          .map((field) => (
            <SavedField
              key={field.field}
              label={field.label}
              saved={field.text}
              problem={problem(field.field)}
              onSave={(text) => change(({ texts }) => ({ texts: { ...texts, [field.field]: text } }))}
              className="w-28"
            />
          ))}
        {view.inserts.length > 0 && (
          <div className="w-44">
            <Pick
              label="Let into the core"
              value={zone.insert}
              choices={view.inserts.map((value) => ({ value, name: value }))}
              onChange={(insert) => void change(({ texts }) => ({ texts: { ...texts, insert } }))}
            />
            {problem('insert') && <Notice tone="stop">{problem('insert')}</Notice>}
          </div>
        )}
        {zone.insert !== view.inserts[0] && view.inserts.length > 0 && (
          <SavedField
            label="Threads in it"
            saved={zone.threads}
            problem={problem('threads')}
            onSave={(threads) => change(({ texts }) => ({ texts: { ...texts, threads } }))}
            className="w-28"
          />
        )}
        <div className="w-44">
          <Pick
            label="Joints of the cloth"
            value={zone.joints}
            choices={view.joints.map((value) => ({ value, name: value }))}
            onChange={(joints) => void change(({ texts }) => ({ texts: { ...texts, joints } }))}
          />
        </div>
        {zone.area && <FigureValue figure={zone.area} />}
        <button
          type="button"
          aria-label={`Remove ${zone.name}`}
          onClick={remove}
          className="grid size-11 place-items-center border-2 border-transparent hover:border-ink"
        >
          <Trash2 aria-hidden size={20} />
        </button>
      </div>
      {zone.kind === 'drawn' && (
        <Corners saved={zone.corners} onSave={(corners) => change(() => ({ corners }))} name={zone.name} />
      )}
      {(problem('corners') ?? edit.problem?.fields[`zones.${i}`]) && (
        <Notice tone="stop">{problem('corners') ?? edit.problem?.fields[`zones.${i}`]}</Notice>
      )}
      {zone.wrong && <Notice tone="stop">{zone.wrong}</Notice>}
      {going && (
        <div className="flex flex-wrap items-center gap-3">
          <span className="min-w-0 flex-1 basis-60">
            {mine === 1 ? 'One ply lies' : `${mine} plies lie`} in {zone.name}. What becomes of{' '}
            {mine === 1 ? 'it' : 'them'}?
          </span>
          <Button onClick={() => void without('too')}>Take out too</Button>
          <Button quiet onClick={() => void without('stay')}>
            Cover all of the side
          </Button>
          <Button quiet onClick={() => setGoing(false)}>
            Leave the zone
          </Button>
        </div>
      )}
    </div>
  )
}

type CornersProps = { saved: string; name: string; onSave: (text: string) => Promise<boolean> }

/** A drawn outline's corners, a line each; kept when they are left. */
function Corners({ saved, name, onSave }: CornersProps) {
  const [typed, setTyped] = useState<string | null>(null)
  const leave = async () => {
    if (typed !== null && (await onSave(typed))) setTyped((now) => (now === typed ? null : now))
  }
  return (
    <label className="flex flex-col gap-1">
      <span className="text-soft">
        Corners of {name}, a line each: along the span; share of the chord from the leading edge
      </span>
      <textarea
        rows={Math.max(4, (typed ?? saved).split('\n').length)}
        value={typed ?? saved}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={() => void leave()}
        className="w-full max-w-md border-2 border-line bg-panel px-3 py-2 font-mono outline-none focus:border-woad"
      />
    </label>
  )
}
