import type { SealedTable } from './sealedTable'
import type { StoredEntry } from './useDeskStore'

/** What can be read of an entry without the key. */
export const ENTRY_COLUMNS = ['seq', 'id', 'case', 'state', 'receivedAt', 'own'] as const
export type EntryTable = SealedTable<StoredEntry, (typeof ENTRY_COLUMNS)[number]>

/** A part of what is new among the entries of a device. */
export interface EntryNews {
  /** Entries that came or got further, as many as were asked for at most. */
  opened: StoredEntry[]
  /** The identifiers of those that are there no longer: told with the last part. */
  gone: string[]
  isLast: boolean
}

/** Tells what is new among the entries since the last time, in parts: the first time, all of them. */
export interface EntryReader {
  /** @param most how many entries to open at most */
  next: (most: number) => Promise<EntryNews>
  close: () => void
}

/** How far an entry got, as its readable columns say. */
const standOf = ({ state, receivedAt }: Record<string, unknown>) => `${String(state)} ${String(receivedAt)}`

/**
 * Reads a table of entries a page at a time: all of them at once would fill the memory of a slow phone. It opens
 * what it did not tell before.
 */
export function readEntries(entries: EntryTable): EntryReader {
  const told = new Map<string, string>()
  let there = new Set<string>()
  let after = 0

  // Why an entry was refused stands inside: that one is opened each time.
  const isNew = (row: Record<string, unknown>) =>
    row.state === 'refused' || told.get(row.id as string) !== standOf(row)

  function end(): EntryNews {
    const gone = [...told.keys()].filter(id => !there.has(id))
    for (const id of gone) told.delete(id)
    there = new Set()
    after = 0
    return { opened: [], gone, isLast: true }
  }

  async function next(most: number): Promise<EntryNews> {
    for (;;) {
      const page = await entries.raw.where('seq').above(after).limit(most).toArray()
      if (!page.length) return end()
      const opened = await Promise.all(page.filter(isNew).map(row => entries.opened(row)))
      after = page.at(-1)!.seq as number
      for (const row of page) {
        there.add(row.id as string)
        told.set(row.id as string, standOf(row))
      }
      if (opened.length) return { opened, gone: [], isLast: false }
    }
  }
  return { next, close: () => {} }
}
