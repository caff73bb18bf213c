import { FlaskConical, type LucideIcon, Plane } from 'lucide-react'

/** The views there are, in the order of the work; number keys follow this order. */
export const VIEWS: { path: string; name: string; icon: LucideIcon }[] = [
  { path: '/airframe', name: 'Airframe', icon: Plane },
  { path: '/mix', name: 'Mix', icon: FlaskConical },
]
