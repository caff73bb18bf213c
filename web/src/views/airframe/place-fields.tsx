import type { AirframeView } from '@/api/client'
import { Pick } from '@/ui/pick'
import { TextField } from '@/ui/text-field'

type Props = {
  fields: AirframeView['place']
  texts: Record<string, string>
  problems: Record<string, string>
  onChange: (texts: Record<string, string>) => void
}

/** Where a part lies on its airframe, and how its span runs there. */
export function PlaceFields({ fields, texts, problems, onChange }: Props) {
  return (
    <div className="grid items-end gap-3 md:grid-cols-3">
      {fields.map((one) =>
        one.choices.length > 0 ? (
          <Pick
            key={one.field}
            label={one.label}
            value={texts[one.field] ?? one.choices[0] ?? ''}
            choices={one.choices.map((name) => ({ value: name, name }))}
            onChange={(text) => onChange({ ...texts, [one.field]: text })}
          />
        ) : (
          <TextField
            key={one.field}
            label={one.label}
            unit={/[a-z]/i.test(texts[one.field] ?? '') ? undefined : one.unit}
            value={texts[one.field] ?? ''}
            problem={problems[one.field]}
            onChange={(text) => onChange({ ...texts, [one.field]: text })}
          />
        ),
      )}
    </div>
  )
}
