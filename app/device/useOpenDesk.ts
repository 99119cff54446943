import { promiseTimeout, useEventListener } from '@vueuse/core'
import { sync, networkCame } from './useDesk'
import { whenUntouched } from './whenUntouched'

/** Gives typed values time to be saved before the key is dropped, in milliseconds. */
const TIME_TO_KEEP = 400

/** Leaves the focused field and waits until its value is saved. */
export async function saveTyped(): Promise<void> {
  // A field is saved when it loses the focus.
  ;(document.activeElement as HTMLElement | null)?.blur()
  await promiseTimeout(TIME_TO_KEEP)
}

/** Locks this device now; unlocking leads back to the same page. */
export async function lockDesk(): Promise<void> {
  const vault = useVault()
  if (!vault.isOpen) return
  await saveTyped()
  vault.lock()
  const { fullPath } = useRouter().currentRoute.value
  await navigateTo({ path: '/desk/unlock', query: { next: fullPath } })
}

/**
 * Runs while the desk is open: syncs when it opens, when the network returns and after signing in again, and
 * locks itself after the idle minutes of its settings.
 */
export function useOpenDesk(): void {
  const vault = useVault()
  const session = useSession()
  const nuxt = useNuxtApp()
  whenUntouched(
    () => vault.device?.settings.lockMinutes ?? 10,
    () => void nuxt.runWithContext(lockDesk),
  )
  useEventListener('online', networkCame)
  watch(
    () => session.signIns,
    () => void sync(),
  )
  onMounted(() => void sync())
}
