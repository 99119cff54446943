import { v7 as uuid } from 'uuid'
import type { CellChange } from '#core/contract/desk'
import { cleanJson } from '#core/contract/wire'
import type { CellContent } from '#core/report/cell'
import { queuePlace, type Queued } from '#core/sync/queue'
import { deviceNow } from '../common/useClock'
import type { WorkStore } from './useDeskStore'
import { reportPlace } from './useDeskWork'

export interface SaveOptions {
  why?: string
  /** The conflicts that the person saw and resolves with this value. */
  settles?: readonly string[]
  /** The rejected changes that the person saw, and gives this value instead. */
  rejected?: readonly string[]
}

/**
 * Saves a new content of a cell on this device, in the queue of what is pending. Its place in the queue
 * follows core's rule (docs/decisions/0010): it replaces what was never sent, and follows what was. What
 * needed the person is removed in the same transaction: when there is no room for the new value, the old one
 * stays.
 *
 * @param version the version of the cell that the server last sent; read when the change is stored, because
 *   an answer may have come meanwhile.
 */
export async function saveCellChange(
  store: WorkStore,
  { round, unit, cell }: { round: string; unit: string; cell: string },
  version: () => number,
  content: CellContent,
  { why, settles = [], rejected = [] }: SaveOptions = {},
): Promise<string> {
  const place = reportPlace(round, unit)
  const change = cleanJson<CellChange>({
    kind: 'cell',
    id: uuid(),
    madeAt: new Date(deviceNow()).toISOString(),
    round,
    unit,
    cell,
    base: 0,
    content,
    ...(why && { why }),
  })
  const row = await store.changes.shut({ id: change.id, place, state: 'waiting', cell, change })
  await store.transaction(async () => {
    const queue = (await store.changes.raw.where('[place+cell]').equals([place, cell]).sortBy('seq')).filter(
      one => one.state === 'waiting',
    )
    const {
      replaces,
      settles: decided,
      ...base
    } = queuePlace(queue as unknown as Queued[], version(), settles)
    await store.changes.raw
      .where('id')
      .anyOf([...replaces, ...settles, ...rejected])
      .delete()
    await store.changes.raw.add({ ...row, ...base, ...(decided.length && { settles: decided }) })
  })
  return change.id
}
