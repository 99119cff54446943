import type { WorkStore } from './useDeskStore'

/** Which incarnation of the server's database this device synced with last, and what of it is in a backup. */
export interface Standing {
  incarnation: number
  backedUpTo: string | null
}

/** After so many days a confirmed change is deleted even when it is in no backup. */
export const DAYS_KEPT = 35

export const lastStanding = async (store: WorkStore): Promise<Standing | undefined> =>
  (await store.serverCache.get('key', 'standing'))?.answer as Standing | undefined

/**
 * Notes which database answered. After a restore from a backup this device sends everything that it still
 * has, and receives everything again, because the server may have lost it. What the server still has it knows
 * by identifier.
 *
 * @returns true when the server was restored since the last sync
 */
export async function noteStanding(
  store: WorkStore,
  { incarnation, backedUpTo }: Standing,
): Promise<boolean> {
  // A server of an earlier version does not say.
  if (incarnation === undefined) return false
  const last = await lastStanding(store)
  const isRestored = last !== undefined && last.incarnation !== incarnation
  const row = await store.serverCache.shut({ key: 'standing', answer: { incarnation, backedUpTo } })
  await store.transaction(async () => {
    if (isRestored) {
      await store.changes.raw.where('state').equals('confirmed').modify({ state: 'waiting', left: true })
      await store.entries.raw
        .where('state')
        .equals('received')
        .filter(({ own }) => own === true)
        .modify({ state: 'waiting' })
      await startAgain(store)
    }
    await store.serverCache.raw.put(row)
  })
  // Files are in a table of their own. Sending a file twice changes nothing.
  if (isRestored) await store.files.where('state').equals('received').modify({ state: 'waiting', upTo: 0 })
  return isRestored
}

/**
 * Notes what the person sees, as the district says. Where it is not what it was, because somebody gave the person
 * another place, or other datasets and registers, what others filled goes from this device, and everything is received
 * anew. What was filled here stays: it may be on no other device.
 *
 * @param view of a server of an earlier version nothing is known
 * @returns true when the person sees something else than at the last sync
 */
export async function noteView(store: WorkStore, view: string | undefined): Promise<boolean> {
  if (view === undefined) return false
  const last = (await store.serverCache.get('key', 'view'))?.answer
  if (last === view) return false
  const row = await store.serverCache.shut({ key: 'view', answer: view })
  const isOther = last !== undefined
  await store.transaction(async () => {
    if (isOther) {
      await store.entries.raw
        .where('state')
        .equals('received')
        .filter(({ own }) => own !== true)
        .delete()
      const keys = (await store.serverCache.raw.toCollection().primaryKeys()) as unknown as string[]
      await startAgain(store, keys.filter(isOfWork))
    }
    await store.serverCache.raw.put(row)
  })
  return isOther
}

/** What of the server's answers is asked for anew when the person sees something else. */
const isOfWork = (key: string): boolean =>
  /^(report|conversation|register)\|/.test(key) || key === 'caseConversations' || key === 'questions'

/**
 * Makes the next contact begin with the first event, in the transaction of the caller. What happened to cases comes
 * again with everything else.
 * @param forgotten what else of the server's answers is not kept until then, by its keys
 */
async function startAgain(store: WorkStore, forgotten: readonly string[] = []): Promise<void> {
  await store.lives.raw.clear()
  await store.serverCache.raw.bulkDelete(['cursor', 'stamp', 'workAt', ...forgotten] as never[])
}

/** May a confirmed change be deleted from this device? @param confirmedAt by the server's clock. */
export function isSafe(confirmedAt: string, standing: Standing | undefined, now: number): boolean {
  const isBackedUp =
    Boolean(standing?.backedUpTo) && Date.parse(confirmedAt) < Date.parse(standing!.backedUpTo!)
  // A time that cannot be read is not older than anything.
  return isBackedUp || Date.parse(confirmedAt) < now - DAYS_KEPT * 86_400_000
}
