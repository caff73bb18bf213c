import { RadioGroup } from 'radix-ui'
import { useId } from 'react'

type Props = {
  label: string
  value: string
  choices: { value: string; name: string }[]
  onChange: (value: string) => void
}

/** A few choices side by side. */
export function OneOf({ label, value, choices, onChange }: Props) {
  const id = useId()
  return (
    <div className="flex flex-col gap-1">
      <span id={id} className="text-soft">
        {label}
      </span>
      <RadioGroup.Root
        aria-labelledby={id}
        value={value}
        onValueChange={onChange}
        className="flex max-sm:flex-wrap"
      >
        {choices.map((choice) => (
          <RadioGroup.Item
            key={choice.value}
            value={choice.value}
            className="relative -ml-0.5 min-h-[calc(2.75rem+4px)] flex-1 max-sm:-mt-0.5 max-sm:flex-auto border-2 border-line px-3 first:ml-0 data-[state=checked]:z-1 data-[state=checked]:border-ink data-[state=checked]:bg-ink data-[state=checked]:font-semibold data-[state=checked]:text-ground"
          >
            {choice.name}
          </RadioGroup.Item>
        ))}
      </RadioGroup.Root>
    </div>
  )
}
