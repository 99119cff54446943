import type { DueList } from '#core/contract/rounds'
import { clockNow } from './useClock'
import { reportKey } from './useDeskWork'
import type { WorkStore } from './useDeskStore'

const DAY = 86_400_000

/**
 * Clears what the district has and nobody here needs any more: pictures and cases that were received longer ago than the
 * device keeps, and reports that are no longer on the list. What waits, or needs somebody, is never touched. The numbers
 * of the last 12 rounds stand in the reports that stay.
 */
export async function tidyStore(store: WorkStore, keepDays: number): Promise<void> {
  const before = clockNow() - keepDays * DAY
  await store.files.where('state').equals('received').filter(({ at }) => at < before).delete()
  const received = await store.entries.raw.where('state').equals('received').toArray() as { id: string; case: string; receivedAt?: string }[]
  const newest = new Map<string, number>()
  for (const { case: of, receivedAt } of received) newest.set(of, Math.max(newest.get(of) ?? 0, Date.parse(receivedAt ?? '')))
  const busy = new Set((await store.entries.raw.where('state').anyOf('waiting', 'refused').toArray()).map(({ case: of }) => of as string))
  const old = new Set([...newest].flatMap(([of, at]) => (at < before && !busy.has(of) ? [of] : [])))
  if (old.size) await store.entries.remove('id', received.flatMap(({ id, case: of }) => (old.has(of) ? [id] : [])))
  const due = (await store.told.get('key', 'due'))?.answer as DueList | undefined
  if (!due) return
  const needed = new Set([...due.now, ...due.sent].map(({ round, unit }) => reportKey(round.id, unit.code)))
  const keys = await store.told.raw.toCollection().primaryKeys() as unknown as string[]
  await store.told.remove('key', keys.filter(key => key.startsWith('report|') && !needed.has(key)))
}
