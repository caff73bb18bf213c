import { createContext, type ReactNode, useContext, useState } from 'react'
import type { Figure } from '@/api/client'
import { SideSheet } from '@/ui/side-sheet'
import { useShow } from './formats'

const Ask = createContext<(figure: Figure) => void>(() => {})

/** Lets every figure below answer "from what?" in the side sheet. */
export function FromWhatProvider({ children }: { children: ReactNode }) {
  const [figure, setFigure] = useState<Figure | null>(null)
  return (
    <Ask.Provider value={setFigure}>
      {children}
      <SideSheet
        open={figure !== null}
        onClose={() => setFigure(null)}
        title={figure ? `${figure.label}: from what?` : ''}
      >
        {figure && <FromWhat figure={figure} />}
      </SideSheet>
    </Ask.Provider>
  )
}

export const useFromWhat = () => useContext(Ask)

function FromWhat({ figure }: { figure: Figure }) {
  const show = useShow()
  return (
    <div className="flex flex-col gap-5">
      <p className="text-4xl font-semibold">{show(figure.value, figure.kind)}</p>
      <section>
        <h3 className="text-soft">Equation</h3>
        <p className="font-mono text-[0.95rem]">{figure.equation}</p>
      </section>
      {figure.given && figure.given.length > 0 && (
        <section>
          <h3 className="text-soft">Inputs</h3>
          <table className="w-full">
            <tbody>
              {figure.given.map((item, i) => (
                <tr key={i} className="border-line border-b align-baseline">
                  <td className="py-1.5 pr-3">
                    {item.name}
                    {item.assumed && (
                      <span className="ml-2 border-weld border-b-2 border-dotted text-sm text-weld">
                        assumed
                      </span>
                    )}
                  </td>
                  <td className="py-1.5 text-right font-mono text-[0.95rem]">
                    {show(item.value, item.kind ?? 'number')}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
      {figure.source && (
        <section>
          <h3 className="text-soft">Stands on</h3>
          <p>{figure.source}</p>
        </section>
      )}
    </div>
  )
}
