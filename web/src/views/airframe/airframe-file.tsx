type Props = { airframe: string; name: string; onTaken: (id: string) => void }

/** The whole airframe as a file, out and in. */
export function AirframeFile(_: Props) {
  return null
}
