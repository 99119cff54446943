import { useDeskStore } from './useDeskStore'

/** How much of what the browser lets this device keep is full, from 0 to 1; 0 where it does not say. */
export async function storageShare(): Promise<number> {
  const { usage = 0, quota = 0 } = (await navigator.storage?.estimate?.()) ?? {}
  return quota ? usage / quota : 0
}

/** Could something not be saved because this device is full? The browser's database says so by this name. */
export const isFull = (error: unknown): boolean => {
  const { name, inner } = error as { name?: string; inner?: { name?: string } }
  return name === 'QuotaExceededError' || inner?.name === 'QuotaExceededError'
}

/** Does this device have all that it needs to work without a network: the application, and what is due? */
export async function offlineReady(): Promise<boolean> {
  const worker = await navigator.serviceWorker?.getRegistration()
  // A worker becomes active after it has fetched all of the application.
  return Boolean(worker?.active) && (await useDeskStore().serverCache.get('key', 'workAt')) !== undefined
}
