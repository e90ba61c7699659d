import { registerSW } from 'virtual:pwa-register'

type Watcher = () => void
const watchers = new Set<Watcher>()
let isWaiting = false
let take: ((reload?: boolean) => Promise<void>) | null = null
/** So soon after opening nobody has begun anything: a version that waits is taken at once. */
const JUST_OPENED_MS = 4_000

/** The page works without a network from here on; a new version waits until it is taken. */
export function followVersions(): void {
  take = registerSW({
    onNeedRefresh() {
      if (performance.now() < JUST_OPENED_MS && !window.location.pathname.startsWith('/stand/')) {
        void take?.(true)
        return
      }
      isWaiting = true
      watchers.forEach((watcher) => watcher())
    },
  })
}

export const newVersion = {
  watch: (onChange: Watcher) => {
    watchers.add(onChange)
    return () => watchers.delete(onChange)
  },
  isWaiting: () => isWaiting,
  take: () => void take?.(true),
}
