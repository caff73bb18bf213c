import type { JobView } from '@/api/client'
import { OneOf } from './one-of'
import { Pick } from './pick'
import { SavedField } from './saved-field'

type Field = JobView['given'][number]
type FieldProps = {
  field: Field
  problem: string | undefined
  onSave: (text: string) => Promise<boolean>
}

/** One thing that is asked, as text in the shop’s units; saved when it is left. */
export function GivenField({ field, problem, onSave }: FieldProps) {
  const label = field.assumed && field.text ? `${field.label} (assumed)` : field.label
  if (field.style === 'choice')
    return (
      <Pick
        label={label}
        value={field.text}
        placeholder="Choose one"
        choices={field.choices.map((name) => ({ value: name, name }))}
        onChange={(text) => void onSave(text)}
      />
    )
  if (field.style === 'yes')
    return (
      <OneOf
        label={label}
        value={field.text}
        choices={[
          { value: 'yes', name: 'Yes' },
          { value: 'no', name: 'No' },
        ]}
        onChange={(text) => void onSave(text)}
      />
    )
  return (
    <SavedField
      label={field.unit ? `${label}, ${field.unit}` : label}
      saved={field.text}
      problem={problem}
      onSave={onSave}
    />
  )
}
