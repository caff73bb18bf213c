import { clsx } from 'clsx'
import type { ReactNode } from 'react'
import { NavLink } from 'react-router'

const PAGES = [
  { to: '/stores/needs', name: 'Needs' },
  { to: '/stores/order', name: 'To order' },
  { to: '/stores/orders', name: 'Orders' },
  { to: '/stores', name: 'Shelf' },
  { to: '/stores/items', name: 'Items' },
  { to: '/stores/costs', name: 'Costs' },
]

/** What stands above every page of the stores: from what is needed to what it cost. */
export function StoresHead({ children }: { children?: ReactNode }) {
  return (
    <header className="flex flex-wrap items-end justify-between gap-x-6 gap-y-3 border-line border-b-2">
      <nav aria-label="Stores" className="-mb-0.5 flex flex-wrap">
        {PAGES.map(({ to, name }) => (
          <NavLink
            key={to}
            to={to}
            end
            className={({ isActive }) =>
              clsx(
                'inline-flex min-h-12 items-center border-b-4 px-4 text-lg max-sm:px-3',
                isActive ? 'border-ink font-semibold' : 'border-transparent hover:border-line',
              )
            }
          >
            {name}
          </NavLink>
        ))}
      </nav>
      {children && <div className="flex flex-wrap items-end gap-3 pb-2">{children}</div>}
    </header>
  )
}
