import type { DeskReceive } from '#core/contract/desk'
import type { WorkStore } from './useDeskStore'
import { storageShare } from './useStorageShare'

/** How many changes, forms and files of this device the district has not received. */
export const countWaiting = async (store: WorkStore): Promise<number> =>
  (await store.changes.count('state', 'waiting')) +
  (await store.entries.count('state', 'waiting')) +
  (await store.files.where('state').equals('waiting').count())

/** How many of them the district did not take: a person has to look at them. */
export const countNeedsYou = async (store: WorkStore): Promise<number> =>
  (await store.changes.count('state', 'needsYou')) +
  (await store.entries.count('state', 'refused')) +
  (await store.files.where('state').equals('refused').count())

/** What this device tells the district of itself at each contact. Nothing of it is about a person. */
export async function deviceSays(
  store: WorkStore,
): Promise<Pick<DeskReceive, 'waiting' | 'needsPerson' | 'storage' | 'version'>> {
  return {
    waiting: await countWaiting(store),
    needsPerson: await countNeedsYou(store),
    storage: Math.min(1, Math.round((await storageShare()) * 1000) / 1000),
    version: useRuntimeConfig().app.buildId,
  }
}
