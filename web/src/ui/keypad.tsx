import { clsx } from 'clsx'

const SIXTEENTHS = Array.from({ length: 15 }, (_, n) => {
  let [top, bottom] = [n + 1, 16]
  while (top % 2 === 0) [top, bottom] = [top / 2, bottom / 2]
  return `${top}/${bottom}`
})

type Props = { text: string; sixteenths: boolean; signed: boolean; onText: (text: string) => void }

/** Large keys for gloves: figures, a sign, and sixteenths where the shop counts in inches. */
export function Keypad({ text, sixteenths, signed, onText }: Props) {
  const put = (key: string) => {
    if (key === '±') return onText(text.startsWith('-') ? text.slice(1) : `-${text}`)
    if (key === '⌫') return onText(text.replace(/( ?\d+\/\d+|.)$/, ''))
    // A fraction takes the place of one that is there.
    if (key.includes('/')) return onText(`${text.replace(/ ?\d+\/\d+$/, '').trim()} ${key}`.trim())
    if (text.includes('/')) return
    onText(text + key)
  }
  const keys = ['7', '8', '9', '4', '5', '6', '1', '2', '3', signed ? '±' : '', '0', '.']
  return (
    <div className="flex flex-wrap gap-4">
      <div className="grid grid-cols-3 gap-2">
        {keys.map((key, n) =>
          key ? <Key key={key} name={key} onPress={() => put(key)} /> : <span key={`blank ${n}`} />,
        )}
        <Key name="⌫" label="Take the last figure back" wide onPress={() => put('⌫')} />
      </div>
      {sixteenths && (
        <fieldset className="grid grid-cols-3 content-start gap-2">
          <legend className="sr-only">Sixteenths</legend>
          {SIXTEENTHS.map((name) => (
            <Key key={name} name={name} small onPress={() => put(name)} />
          ))}
        </fieldset>
      )}
    </div>
  )
}

type KeyProps = { name: string; label?: string; wide?: boolean; small?: boolean; onPress: () => void }

function Key({ name, label, wide, small, onPress }: KeyProps) {
  return (
    <button
      type="button"
      aria-label={label}
      onClick={onPress}
      className={clsx(
        'border-2 border-line bg-panel font-semibold hover:border-ink active:bg-ink active:text-ground',
        wide && 'col-span-3',
        small ? 'min-h-14 min-w-20 text-xl' : 'min-h-18 min-w-24 text-3xl',
      )}
    >
      {name}
    </button>
  )
}
