import { clsx } from 'clsx'
import type { CutPlanView, CutWay } from '@/api/client'
import { FigureValue } from '@/ui/figure'
import { SmallLayout } from '@/weave/cut-layout'

type Props = { view: CutPlanView; picked: string; onPick: (way: string) => void }

const KEYS = ['run', 'sheets', 'pieces', 'waste', 'waste_g', 'grams', 'cost']

/** Ways of cutting the same, side by side: what each takes, cuts off, weighs and costs. */
export function Compare({ view, picked, onPick }: Props) {
  const keys = KEYS.filter((key) => view.ways.some((way) => way.figures.some((one) => one.key === key)))
  const label = (key: string) =>
    view.ways.flatMap((way) => way.figures).find((one) => one.key === key)?.label ?? key
  const least = (key: string) => {
    const values = view.ways.map((way) => way.figures.find((one) => one.key === key)?.value)
    const known = values.filter((value) => typeof value === 'number')
    return known.length === view.ways.length ? Math.min(...known) : null
  }
  const longest = Math.max(...view.ways.flatMap((way) => way.stocks.map((stock) => stock.length_mm)), 1)
  return (
    <section aria-label="Ways compared" className="overflow-x-auto">
      <table className="w-full min-w-[36rem] border-collapse">
        <thead>
          <tr className="border-line border-b text-left">
            <td />
            {view.ways.map((way) => (
              <th key={way.id} className="px-1 align-bottom font-normal">
                <button
                  type="button"
                  aria-pressed={way.id === picked}
                  onClick={() => onPick(way.id)}
                  className={clsx(
                    'min-h-14 w-full border-b-4 px-2 py-1 text-left',
                    way.id === picked ? 'border-ink' : 'border-transparent hover:border-line',
                  )}
                >
                  <span className="block font-semibold first-letter:uppercase">
                    {way.cut_at ? `${way.name}, cut` : way.name}
                  </span>
                  <span className="text-soft text-sm">{told(view, way)}</span>
                </button>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          <tr className="border-line border-b align-top">
            <th className="py-2 pr-4 text-left font-normal text-soft">Layout</th>
            {view.ways.map((way) => (
              <td key={way.id} className="px-3 py-2">
                <SmallLayout stocks={way.stocks} longest={longest} />
              </td>
            ))}
          </tr>
          {keys.map((key) => (
            <tr key={key} className="border-line border-b">
              <th className="whitespace-nowrap py-1 pr-4 text-left font-normal text-soft">{label(key)}</th>
              {view.ways.map((way) => {
                const figure = way.figures.find((one) => one.key === key)
                const best = figure && key !== 'pieces' && figure.value === least(key)
                return (
                  <td key={way.id} className="px-1">
                    {figure ? (
                      <span className="flex items-center gap-2">
                        <FigureValue figure={figure} bare className="px-2" />
                        {best && <span className="edge-ready px-2 text-sm">least</span>}
                      </span>
                    ) : (
                      <span className="px-2 text-soft">
                        {key === 'cost' ? 'no price typed' : 'not laid out'}
                      </span>
                    )}
                  </td>
                )
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}

/** In what a way differs from the others. */
function told(view: CutPlanView, way: CutWay) {
  const differs = way.fields.filter(
    (field) =>
      !['seconds', 'price'].includes(field.field) &&
      view.ways.some((other) => other.fields.find((one) => one.field === field.field)?.text !== field.text),
  )
  const words = differs.map((field) =>
    field.style === 'yes' ? `${field.label}: ${field.text}` : `${field.label} ${field.text || '–'}`,
  )
  return [way.product, ...words].join(', ')
}
