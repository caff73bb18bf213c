import {
  CalendarClock,
  FlaskConical,
  Hourglass,
  type LucideIcon,
  Package,
  Plane,
  Sunrise,
} from 'lucide-react'

/** The views there are, in the order of the work; number keys follow this order. */
export const VIEWS: { path: string; name: string; icon: LucideIcon }[] = [
  { path: '/today', name: 'Today', icon: Sunrise },
  { path: '/airframe', name: 'Airframe', icon: Plane },
  { path: '/mix', name: 'Mix', icon: FlaskConical },
  { path: '/cure', name: 'Cure', icon: Hourglass },
  { path: '/loom', name: 'Loom', icon: CalendarClock },
  { path: '/stores', name: 'Stores', icon: Package },
]
