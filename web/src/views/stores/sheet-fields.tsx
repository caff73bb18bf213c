import { Fragment, type ReactNode } from 'react'
import type { SheetView } from '@/api/client'
import { OneOf } from '@/ui/one-of'
import { Pick } from '@/ui/pick'
import { TextField } from '@/ui/text-field'
import type { SheetDraft } from './stages-table'

type Props = {
  sheet: SheetView
  draft: SheetDraft
  problems: Record<string, string>
  change: (part: Partial<SheetDraft>) => void
  /** Stands below the fields of the cure. */
  stages: ReactNode
}

/** What the maker says, group by group; empty where the sheet is silent. */
export function SheetFields({ sheet, draft, problems, change, stages }: Props) {
  const shown = sheet.fields.filter((field) => field.style !== 'list')
  const groups = [...new Set(shown.map((field) => field.group))]
  const put = (key: string, text: string) => change({ texts: { ...draft.texts, [key]: text } })
  const epoxy = !draft.texts.chemistry || draft.texts.chemistry === 'amine epoxy'
  const peroxide = draft.texts.chemistry === 'peroxide'
  return groups.map((group) => (
    <Fragment key={group}>
      <section aria-label={group}>
        <h2 className="mb-1 font-semibold text-lg">{group}</h2>
        <div className="grid items-end gap-x-4 gap-y-3 sm:grid-cols-2 xl:grid-cols-3">
          {shown
            .filter((field) => field.group === group)
            .filter((field) => field.key !== 'range_pct' || peroxide || draft.texts.range_pct)
            .filter((field) => !field.key.startsWith('equivalents') || epoxy || draft.texts[field.key])
            .map((field) => {
              const text = draft.texts[field.key] ?? ''
              if (field.style === 'choice')
                return (
                  <Pick
                    key={field.key}
                    label={field.label}
                    value={text}
                    placeholder="–"
                    choices={field.choices.map((choice) => ({ value: choice, name: choice }))}
                    onChange={(choice) => put(field.key, choice)}
                  />
                )
              if (field.style === 'yes')
                return (
                  <OneOf
                    key={field.key}
                    label={field.label}
                    value={text || 'no'}
                    choices={[
                      { value: 'yes', name: 'Yes' },
                      { value: 'no', name: 'No' },
                    ]}
                    onChange={(choice) => put(field.key, choice)}
                  />
                )
              return (
                <TextField
                  key={field.key}
                  label={field.label}
                  value={text}
                  unit={text.trim() && !/[a-z°%²³]/i.test(text) ? field.unit : undefined}
                  problem={problemOf(problems, field.key)}
                  onChange={(typed) => put(field.key, typed)}
                />
              )
            })}
        </div>
      </section>
      {group === 'Cure' && stages}
    </Fragment>
  ))
}

/** A problem names the field, or a part of it. */
const problemOf = (problems: Record<string, string>, key: string) =>
  problems[key] ?? Object.entries(problems).find(([field]) => field.startsWith(`${key}.`))?.[1]
