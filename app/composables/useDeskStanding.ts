import type { WorkStore } from './useDeskStore'

/** Which life of the district's database this device met last, and what of it is in a backup. */
export interface Standing {
  incarnation: number
  backedUpTo: string | null
}

/** What is not in a backup after so many days is dropped all the same. */
export const DAYS_KEPT = 35

export const lastStanding = async (store: WorkStore): Promise<Standing | undefined> =>
  (await store.told.get('key', 'standing'))?.answer as Standing | undefined

/**
 * Notes which database answered. When it was put back from a backup, everything that this device sent and still has
 * goes again, and everything is received anew: the district may have lost it. What it has not lost, it knows by its
 * identifier.
 *
 * @returns true when the district was put back since the last contact
 */
export async function noteStanding(
  store: WorkStore,
  { incarnation, backedUpTo }: Standing,
): Promise<boolean> {
  // A district of an earlier version does not say.
  if (incarnation === undefined) return false
  const last = await lastStanding(store)
  const isRestored = last !== undefined && last.incarnation !== incarnation
  const row = await store.told.shut({ key: 'standing', answer: { incarnation, backedUpTo } })
  await store.transaction(async () => {
    if (isRestored) {
      await store.changes.raw.where('state').equals('confirmed').modify({ state: 'waiting', left: true })
      await store.entries.raw
        .where('state')
        .equals('received')
        .filter(({ own }) => own === true)
        .modify({ state: 'waiting' })
      await store.told.raw.bulkDelete(['cursor', 'stamp', 'workAt'] as never[])
    }
    await store.told.raw.put(row)
  })
  // Files lie in a table of their own: sent twice, a file changes nothing.
  if (isRestored) await store.files.where('state').equals('received').modify({ state: 'waiting', upTo: 0 })
  return isRestored
}

/** May something that was confirmed be dropped from this device? @param confirmedAt by the district's clock. */
export function isSafe(confirmedAt: string, standing: Standing | undefined, now: number): boolean {
  const isBackedUp =
    Boolean(standing?.backedUpTo) && Date.parse(confirmedAt) < Date.parse(standing!.backedUpTo!)
  // A time that cannot be read is not older than anything.
  return isBackedUp || Date.parse(confirmedAt) < now - DAYS_KEPT * 86_400_000
}
