import { X } from 'lucide-react'
import { Dialog } from 'radix-ui'
import type { ReactNode } from 'react'

type Props = { open: boolean; onClose: () => void; title: string; children: ReactNode }

/** Details beside the page, which stays in view. */
export function SideSheet({ open, onClose, title, children }: Props) {
  return (
    <Dialog.Root open={open} onOpenChange={(next) => !next && onClose()} modal={false}>
      <Dialog.Portal>
        <Dialog.Content
          aria-describedby={undefined}
          // Who is here may be asked over it: what is typed waits below.
          onInteractOutside={(event) => {
            if (event.target instanceof Element && event.target.closest('[data-over-all]'))
              event.preventDefault()
          }}
          className="fixed top-16 right-0 bottom-(--alarm) z-20 flex w-[26rem] max-w-full flex-col overflow-y-auto border-ink border-l-2 bg-panel p-5 max-sm:top-14 max-sm:bottom-[calc(var(--alarm)+4.6rem)]"
        >
          <div className="mb-4 flex items-start justify-between gap-4">
            <Dialog.Title className="font-semibold text-xl leading-snug">{title}</Dialog.Title>
            <Dialog.Close
              aria-label="Close"
              className="grid size-11 shrink-0 place-items-center border-2 border-line hover:border-ink"
            >
              <X aria-hidden size={20} />
            </Dialog.Close>
          </div>
          {children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}
