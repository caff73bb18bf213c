import { Check, ChevronDown } from 'lucide-react'
import { Select } from 'radix-ui'

type Props = {
  label: string
  value: string
  choices: { value: string; name: string }[]
  onChange: (value: string) => void
  hideLabel?: boolean
  placeholder?: string
}

/** One of many, by name. */
export function Pick({ label, value, choices, onChange, hideLabel, placeholder }: Props) {
  return (
    <div className="flex min-w-0 flex-col gap-1">
      {!hideLabel && <span className="text-soft">{label}</span>}
      <Select.Root value={value} onValueChange={onChange}>
        <Select.Trigger
          aria-label={label}
          className="flex min-h-[calc(2.75rem+4px)] min-w-0 items-center justify-between gap-2 border-2 border-line bg-panel px-3 text-left hover:border-ink"
        >
          <span className="truncate">
            <Select.Value placeholder={placeholder} />
          </span>
          <ChevronDown aria-hidden size={18} className="shrink-0" />
        </Select.Trigger>
        <Select.Portal>
          <Select.Content
            position="popper"
            collisionPadding={8}
            className="z-30 max-h-[min(24rem,var(--radix-select-content-available-height))] min-w-(--radix-select-trigger-width) border-2 border-ink bg-panel"
          >
            <Select.Viewport>
              {choices.map((choice) => (
                <Select.Item
                  key={choice.value}
                  value={choice.value}
                  className="flex min-h-11 cursor-pointer items-center justify-between gap-3 px-3 outline-none data-[highlighted]:bg-ink data-[highlighted]:text-ground"
                >
                  <Select.ItemText>{choice.name}</Select.ItemText>
                  <Select.ItemIndicator>
                    <Check aria-hidden size={18} />
                  </Select.ItemIndicator>
                </Select.Item>
              ))}
            </Select.Viewport>
          </Select.Content>
        </Select.Portal>
      </Select.Root>
    </div>
  )
}
