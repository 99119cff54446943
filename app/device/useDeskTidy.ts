import type { DueList } from '#core/contract/rounds'
import { foldCases } from '#core/cases/fold'
import { followUp } from '#core/cases/follow-up'
import type { DeskRegister } from '#core/contract/desk-register'
import { entryOf } from '../cases/useCases'
import { clockNow } from '../common/useClock'
import { isSafe, lastStanding } from './useDeskStanding'
import { reportKey } from './useDeskWork'
import type { WorkStore } from './useDeskStore'

const DAY = 86_400_000

/** The cases among these that still need a visit or a result. */
async function stillFollowed(store: WorkStore, cases: ReadonlySet<string>): Promise<string[]> {
  if (!cases.size) return []
  const cached = (await store.serverCache.get('key', 'registers'))?.answer as DeskRegister[] | undefined
  const registers = new Map((cached ?? []).map(one => [one.register, one.definition]))
  const lives = await store.livesOfCases()
  const rows = await store.entries.raw
    .where('case')
    .anyOf([...cases])
    .toArray()
  const entries = (await Promise.all(rows.map(row => store.entries.opened(row)))).filter(({ register }) =>
    registers.has(register),
  )
  const registerOf = new Map(entries.map(entry => [entry.case, registers.get(entry.register)!]))
  return foldCases(entries.map(entry => entryOf(registerOf.get(entry.case)!, entry)))
    .filter(file => {
      const { nextVisit, resultAwaited } = followUp(
        registerOf.get(file.case)!,
        file,
        lives.get(file.case)?.closed != null,
      )
      return nextVisit !== null || resultAwaited
    })
    .map(file => file.case)
}

/** Deletes confirmed changes that are in a backup of the server. @returns the check for that. */
async function dropSafe(store: WorkStore): Promise<(confirmedAt: unknown) => boolean> {
  const standing = await lastStanding(store)
  const safe = (confirmedAt: unknown) => isSafe(String(confirmedAt ?? ''), standing, clockNow())
  await store.changes.raw
    .where('state')
    .equals('confirmed')
    .filter(({ confirmedAt }) => safe(confirmedAt))
    .delete()
  return safe
}

/** Tidying reads all received entries: every six hours is enough. Milliseconds. */
const TIDY_EVERY = 6 * 60 * 60_000

export async function tidyNowAndThen(store: WorkStore, keepDays: number): Promise<void> {
  const last = (await store.serverCache.get('key', 'tidiedAt'))?.answer as number | undefined
  if (last !== undefined && Math.abs(clockNow() - last) < TIDY_EVERY) {
    await dropSafe(store)
    return
  }
  await tidyStore(store, keepDays)
  await store.serverCache.put({ key: 'tidiedAt', answer: clockNow() }, 'key')
}

/**
 * Deletes confirmed data that nobody needs here any more: pictures and cases older than the device keeps
 * them, and cached reports that are no longer on the list. Pending and rejected records, and cases that still
 * need a visit or a result, are never deleted. The numbers of the last 12 rounds are part of the reports that
 * stay.
 */
export async function tidyStore(store: WorkStore, keepDays: number): Promise<void> {
  const before = clockNow() - keepDays * DAY
  const safe = await dropSafe(store)
  await store.files
    .where('state')
    .equals('received')
    .filter(({ at }) => at < before && safe(new Date(at).toISOString()))
    .delete()
  const received = (await store.entries.raw.where('state').equals('received').toArray()) as {
    id: string
    case: string
    receivedAt?: string
    own?: boolean
  }[]
  const newest = new Map<string, number>()
  for (const { case: of, receivedAt } of received)
    newest.set(of, Math.max(newest.get(of) ?? 0, Date.parse(receivedAt ?? '')))
  const busy = new Set(
    (await store.entries.raw.where('state').anyOf('waiting', 'refused').toArray()).map(
      ({ case: of }) => of as string,
    ),
  )
  const old = new Set([...newest].flatMap(([of, at]) => (at < before && !busy.has(of) ? [of] : [])))
  for (const { case: of, own, receivedAt } of received) if (own && !safe(receivedAt)) old.delete(of)
  for (const followed of await stillFollowed(store, old)) old.delete(followed)
  if (old.size)
    await store.entries.remove(
      'id',
      received.flatMap(({ id, case: of }) => (old.has(of) ? [id] : [])),
    )
  const due = (await store.serverCache.get('key', 'due'))?.answer as DueList | undefined
  if (!due) return
  const unsettled = (await store.changes.raw.where('state').anyOf('waiting', 'needsYou').toArray()).map(
    ({ place }) => `report|${place as string}`,
  )
  const needed = new Set([
    ...unsettled,
    ...[...due.now, ...(due.ahead ?? []), ...(due.closed ?? []), ...due.sent].map(({ round, unit }) =>
      reportKey(round.id, unit.code),
    ),
  ])
  const keys = (await store.serverCache.raw.toCollection().primaryKeys()) as unknown as string[]
  await store.serverCache.remove(
    'key',
    keys.filter(key => key.startsWith('report|') && !needed.has(key)),
  )
}
