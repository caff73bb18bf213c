import { useState } from 'react'
import { answer, type ChecksView, type CheckView, client, newId } from '@/api/client'
import { useEdit } from '@/api/edit'
import { useUnitOf } from '@/app/formats'
import { Button } from '@/ui/button'
import { EditProblem } from '@/ui/edit-problem'
import { OneOf } from '@/ui/one-of'
import { Pick } from '@/ui/pick'
import { Rows } from '@/ui/rows'
import { TextField } from '@/ui/text-field'

type Row = { name: string; nominal: string; at: string }
const BLANK: Row = { name: '', nominal: '', at: '' }
const NO_STEP = 'none'
type Props = { check?: CheckView; view: ChecksView; onDone: () => void }

/** A check as it is said: what is read, where, what is asked, how far it may be off, and with which step it goes. */
export function CheckForm({ check, view, onDone }: Props) {
  // What is typed stands on the version it was opened with, whatever others save meanwhile.
  const [opened] = useState(check?.version ?? 0)
  const edit = useEdit(opened)
  const along = useUnitOf()('length')
  const [id] = useState(() => check?.id ?? newId())
  const [kind, setKind] = useState(check?.kind ?? 'length')
  const [typed, setTyped] = useState({
    name: check?.name ?? '',
    low: check?.low ?? '',
    high: check?.high ?? '',
  })
  const [rows, setRows] = useState<Row[]>(
    check?.places.map(({ name, nominal, at }) => ({ name, nominal, at })) ?? [BLANK],
  )
  const [step, setStep] = useState(check?.after_key || NO_STEP)
  const [reads, setReads] = useState(check?.reads ?? 'once')
  const unit = view.kinds.find((one) => one.kind === kind)?.unit ?? ''
  const problem = (field: string) => edit.problem?.fields[field]
  const keep = async () => {
    const length = (text: string, of: string) => ({ text, unit: of })
    const saved = await edit.save((version) =>
      answer(
        client.POST('/api/v1/parts/{part_id}/checks', {
          params: { path: { part_id: view.part_id } },
          body: {
            id,
            version,
            kind,
            name: typed.name,
            low: length(typed.low, unit),
            high: length(typed.high, unit),
            after_key: step === NO_STEP ? '' : step,
            reads: step === NO_STEP ? 'once' : reads,
            points: rows.map((row) => ({
              name: row.name,
              nominal: length(row.nominal, unit),
              at: length(row.at, along),
            })),
          },
        }),
      ),
    )
    if (saved) onDone()
  }
  const putAway = async () => {
    const saved = await edit.save((version) =>
      answer(
        client.PATCH('/api/v1/checks/{check_id}', {
          params: { path: { check_id: id } },
          body: { version, hidden: true },
        }),
      ),
    )
    if (saved) onDone()
  }
  const field = (name: keyof typeof typed, label: string, of = '') => (
    <TextField
      label={label}
      unit={of}
      value={typed[name]}
      problem={problem(name)}
      onChange={(text) => setTyped({ ...typed, [name]: text })}
    />
  )
  return (
    <section aria-label="A check" className="flex flex-col gap-4 border-line border-l-6 pl-4">
      <div className="grid items-start gap-3 sm:grid-cols-2 lg:grid-cols-4">
        {field('name', 'What is read')}
        <Pick
          label="It is"
          value={kind}
          choices={view.kinds.map((one) => ({ value: one.kind, name: one.label }))}
          onChange={setKind}
        />
        {field('low', 'May be off from, like -1', unit)}
        {field('high', 'to, like 1', unit)}
      </div>
      <Rows
        name="Place"
        rows={rows}
        blank={BLANK}
        columns={[
          { field: 'name', kept: 'name', label: 'Place', wide: true },
          { field: 'nominal', kept: 'nominal', label: `Asked, ${unit}` },
          { field: 'at', kept: 'at', label: `Along the part, ${along} (may be empty)` },
        ]}
        field="points"
        problem={problem}
        onRows={setRows}
        least={1}
        add="Another place"
      />
      <div className="flex flex-wrap items-end gap-3">
        <div className={reads === 'each' ? 'hidden' : 'w-80 max-w-full'}>
          <Pick
            label="It goes with the step"
            value={step}
            choices={[
              { value: NO_STEP, name: 'none: it holds nothing' },
              ...view.steps.map(({ id: key, name }) => ({ value: key, name })),
            ]}
            onChange={setStep}
          />
        </div>
        {step !== NO_STEP && reads !== 'each' && (
          <OneOf
            label="Read"
            value={reads}
            choices={[
              { value: 'once', name: 'after it' },
              { value: 'twice', name: 'before and after it' },
            ]}
            onChange={(value) => setReads(value === 'twice' ? 'twice' : 'once')}
          />
        )}
      </div>
      <EditProblem edit={edit} shownInFields={['name', 'low', 'high']} />
      {view.shared.length > 0 && <p className="text-soft">Read on {view.shared.join(', ')} too.</p>}
      <div className="flex flex-wrap gap-3">
        <Button onClick={() => void keep()}>Keep this check</Button>
        <Button quiet onClick={onDone}>
          Leave it
        </Button>
        {check && check.version > 0 && (
          <Button quiet onClick={() => void putAway()}>
            Put it away
          </Button>
        )}
      </div>
    </section>
  )
}
