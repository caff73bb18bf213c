import { useQuery } from '@tanstack/react-query'
import { Plug, Scale as ScaleIcon } from 'lucide-react'
import { answer, client, type ScaleView } from '@/api/client'
import { Button } from '@/ui/button'
import { Notice } from '@/ui/notice'

const EVERY_MS = 120

/** What the scale on the bench reads, while somebody pours. */
export const useScale = (pouring: boolean) =>
  useQuery({
    queryKey: ['far', 'scale'],
    queryFn: () => answer(client.GET('/api/v1/scale')),
    refetchInterval: (query) => (pouring && query.state.data?.there !== false ? EVERY_MS : false),
    staleTime: 0,
    retry: false,
  })

const useOnScale =
  (): ((body: { tare?: boolean; pour_g_s?: number; put_g?: number; plugged?: boolean }) => void) => (body) =>
    void answer(client.POST('/api/v1/scale', { body: { tare: false, ...body } })).catch(() => {})

type Props = {
  scale: ScaleView
  following: boolean
  onFollow: (on: boolean) => void
}

/** The scale: what it shows, zero, and whether the screen follows it. A simulated one is poured on from here. */
export function ScaleBar({ scale, following, onFollow }: Props) {
  const use = useOnScale()
  const holding = (rate: number) => ({
    onPointerDown: () => use({ pour_g_s: rate }),
    onPointerUp: () => use({ pour_g_s: 0 }),
    onPointerLeave: () => use({ pour_g_s: 0 }),
    onKeyDown: (event: React.KeyboardEvent) => {
      if (event.key === ' ' && !event.repeat) use({ pour_g_s: rate })
    },
    onKeyUp: (event: React.KeyboardEvent) => {
      if (event.key === ' ') use({ pour_g_s: 0 })
    },
  })
  return (
    <section aria-label="Scale" className="flex flex-col gap-2">
      <div className="flex flex-wrap items-center gap-3">
        <ScaleIcon aria-hidden size={22} />
        <p className="min-w-40 font-semibold text-2xl" data-testid="scale">
          {scale.grams === null ? '– – –' : `${scale.grams.toFixed(1)} g`}
          <span className="ml-2 font-normal text-base text-soft">
            {scale.grams !== null && (scale.steady ? 'steady' : 'moving')}
          </span>
        </p>
        <Button quiet onClick={() => use({ tare: true })} disabled={scale.grams === null}>
          Set to zero
        </Button>
        <Button quiet onClick={() => onFollow(!following)}>
          {following ? 'Type instead' : 'Follow the scale'}
        </Button>
        {scale.simulated && (
          <div className="ml-auto flex flex-wrap items-center gap-2 border-2 border-line border-dashed px-3 py-1.5">
            <span className="text-soft text-sm">Simulated scale, hold:</span>
            <Button quiet {...holding(24)}>
              Pour
            </Button>
            <Button quiet {...holding(1.5)}>
              Drop by drop
            </Button>
            <Button quiet onClick={() => use({ plugged: scale.grams === null })} aria-label="Plug">
              <Plug aria-hidden size={18} />
            </Button>
          </div>
        )}
      </div>
      {scale.problem && <Notice tone="stop">{scale.problem}</Notice>}
    </section>
  )
}
