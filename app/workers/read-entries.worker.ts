import Dexie from 'dexie'
import { ENTRY_COLUMNS, readEntries, type EntryReader } from '../device/entryReader'
import { SealedTable } from '../device/sealedTable'

/** What the page sends: first whose entries, then how many to open at most, once for each part. */
export type EntriesAsked = { database: string; key: CryptoKey } | { most: number }
/** What comes back for each part: the news as JSON. */
export type EntriesTold = { news: string } | { failed: string }

const send = (message: EntriesTold) => postMessage(message)

/** The tables of a database are known once it is open. */
async function openReader({ database, key }: { database: string; key: CryptoKey }): Promise<EntryReader> {
  const stored = await new Dexie(database).open()
  return readEntries(new SealedTable(stored.table('entries'), ENTRY_COLUMNS, key))
}

let opening: Promise<EntryReader>
addEventListener('message', ({ data }: MessageEvent<EntriesAsked>) => {
  if ('key' in data) opening = openReader(data)
  else
    opening
      .then(reader => reader.next(data.most))
      .then(
        news => send({ news: JSON.stringify(news) }),
        (error: unknown) => send({ failed: String(error) }),
      )
})
