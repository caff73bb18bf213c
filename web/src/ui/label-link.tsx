type Props = { kind: 'lot' | 'remnant' | 'part'; ids: string[]; name?: string }

/** Labels to stick on, each with a code that opens what it is on. */
export function LabelLink({ kind, ids, name = 'Label' }: Props) {
  return (
    <a
      href={`/api/v1/labels?kind=${kind}&ids=${ids.join(',')}`}
      target="_blank"
      rel="noreferrer"
      className="inline-flex min-h-11 items-center self-start border-2 border-line bg-panel px-4 font-semibold hover:border-ink"
    >
      {name}
    </a>
  )
}
