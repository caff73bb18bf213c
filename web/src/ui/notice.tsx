import { clsx } from 'clsx'
import type { ReactNode } from 'react'

export type Tone = 'stop' | 'care' | 'ready' | 'wait'

const LOOK: Record<Tone, string> = {
  stop: 'edge-stop bg-madder-wash text-madder',
  care: 'edge-care bg-weld-wash text-ink',
  ready: 'edge-ready bg-lichen-wash text-ink',
  wait: 'edge-wait bg-woad-wash text-ink',
}

export function Notice({
  tone,
  children,
  className,
}: {
  tone: Tone
  children: ReactNode
  className?: string
}) {
  return (
    <div role={tone === 'stop' ? 'alert' : 'status'} className={clsx('px-4 py-2.5', LOOK[tone], className)}>
      {children}
    </div>
  )
}
