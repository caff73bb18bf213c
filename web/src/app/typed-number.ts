/** A number as it was typed, comma or point; what is none goes as it is, so that the answer can name it. */
export function typedNumber(text: string): number {
  const plain = text.trim().replace(',', '.')
  return plain === '' || Number.isNaN(Number(plain)) ? (text as unknown as number) : Number(plain)
}
