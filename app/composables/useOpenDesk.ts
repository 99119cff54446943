import { meet, networkCame } from './useDesk'

/** Leaves what is typed time to be kept before the key is put away. */
const TIME_TO_KEEP = 400
const SEEN = ['pointerdown', 'keydown', 'scroll'] as const

/** Leaves the field that somebody is in, and waits until what it holds is kept. */
export async function keepTyped(): Promise<void> {
  // A field is kept when it is left.
  ;(document.activeElement as HTMLElement | null)?.blur()
  await new Promise((resolve) => { setTimeout(resolve, TIME_TO_KEEP) })
}

/** Locks this device now; whoever unlocks it is where they were. */
export async function lockDesk(): Promise<void> {
  const vault = useVault()
  if (!vault.isOpen) return
  await keepTyped()
  vault.lock()
  const { fullPath } = useRouter().currentRoute.value
  await navigateTo({ path: '/desk/unlock', query: { next: fullPath } })
}

/** The desk as long as it is open: meets the district when it opens, when a network comes and when somebody signs in again, and locks itself after the minutes without a touch that its settings say. */
export function useOpenDesk(): void {
  const vault = useVault()
  const session = useSession()
  const nuxt = useNuxtApp()
  let timer: ReturnType<typeof setTimeout> | undefined
  function seen() {
    clearTimeout(timer)
    timer = setTimeout(() => void nuxt.runWithContext(lockDesk), (vault.device?.settings.lockMinutes ?? 10) * 60_000)
  }
  watch(() => session.signIns, () => void meet())
  onMounted(() => {
    SEEN.forEach(kind => window.addEventListener(kind, seen, { passive: true }))
    window.addEventListener('online', networkCame)
    seen()
    void meet()
  })
  onBeforeUnmount(() => {
    SEEN.forEach(kind => window.removeEventListener(kind, seen))
    window.removeEventListener('online', networkCame)
    clearTimeout(timer)
  })
}
