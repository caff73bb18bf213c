/** Where a step of a part is seen: its job stands before the colon of its key; the first job has none. */
export function stepAddress(partId: string, stepKey: string) {
  const job = stepKey.includes(':') ? stepKey.split(':')[0] : ''
  return `/part/${partId}/steps?job=${job}&step=${encodeURIComponent(stepKey)}`
}
