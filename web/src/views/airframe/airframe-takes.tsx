import { useState } from 'react'
import type { Figure } from '@/api/client'
import { useAirframeTakes } from '@/api/questions'
import { FigureValue } from '@/ui/figure'
import { Notice } from '@/ui/notice'
import { Pick } from '@/ui/pick'
import { SideSheet } from '@/ui/side-sheet'

const ALL = 'all'

/** What is still to be used up for an airframe, or for one of its assemblies. */
export function AirframeTakes({ airframe, onClose }: { airframe: string; onClose: () => void }) {
  const [assembly, setAssembly] = useState(ALL)
  const takes = useAirframeTakes(airframe, assembly === ALL ? '' : assembly)
  const view = takes.data
  return (
    <SideSheet open onClose={onClose} title={`Still to be used up${view ? `: ${view.of}` : ''}`}>
      {takes.error && <Notice tone="stop">{takes.error.message}</Notice>}
      {view && (
        <div className="flex flex-col gap-5">
          <Pick
            label="Of"
            value={assembly}
            choices={[
              { value: ALL, name: 'the whole airframe' },
              ...view.assemblies.map((one) => ({ value: one.id, name: one.name })),
            ]}
            onChange={setAssembly}
          />
          <Rows title="To mix" figures={view.mixes} none="Nothing is left to mix." />
          <Rows title="Besides" figures={view.supplies} none="Nothing else is used up that is computed." />
          {view.lacks.length > 0 && (
            <section className="flex flex-col gap-1">
              <h3 className="font-semibold">Not known yet</h3>
              {view.lacks.map((line) => (
                <p key={line} className="text-soft">
                  {line}
                </p>
              ))}
            </section>
          )}
        </div>
      )}
    </SideSheet>
  )
}

type RowsProps = { title: string; figures: Figure[]; none: string }

function Rows({ title, figures, none }: RowsProps) {
  return (
    <section className="flex flex-col gap-1">
      <h3 className="font-semibold">{title}</h3>
      {figures.length === 0 && <p className="text-soft">{none}</p>}
      {figures.map((figure) => (
        <div key={figure.key} className="flex items-center justify-between gap-4 border-line border-b">
          <span>{figure.label}</span>
          <FigureValue figure={figure} bare className="whitespace-nowrap" />
        </div>
      ))}
    </section>
  )
}
