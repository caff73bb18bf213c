import { useState } from 'react'
import { useZones } from '@/api/questions'
import { Notice } from '@/ui/notice'
import { ImportPreview, type Staged } from './import-preview'
import { Shots } from './shots'
import { ZonePanel } from './zone-panel'

/** The shop's air: each zone as it was read and is expected; a logger's file looked at before it is taken. */
export default function AirPage() {
  const zones = useZones()
  const [staged, setStaged] = useState<Staged | null>(null)
  const [said, setSaid] = useState('')
  if (zones.error && !zones.data)
    return (
      <Notice tone="stop" className="m-6">
        {zones.error.message}
      </Notice>
    )
  if (!zones.data) return null
  if (staged) {
    return (
      <ImportPreview
        staged={staged}
        zones={zones.data.zones}
        onDone={(words) => {
          setStaged(null)
          setSaid(words)
        }}
      />
    )
  }
  return (
    <div className="mx-auto flex max-w-6xl flex-col gap-6 p-6 max-sm:p-4">
      <h1 className="font-semibold text-2xl">The shop’s air</h1>
      {said && <Notice tone="ready">{said}</Notice>}
      {zones.data.zones.map((zone) => (
        <ZonePanel key={zone.id} zone={zone} now={zones.data.now} onFile={setStaged} />
      ))}
      <Shots zone={zones.data.zones[0]?.id ?? ''} />
    </div>
  )
}
