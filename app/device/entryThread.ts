import type { EntriesAsked, EntriesTold } from '../workers/read-entries.worker'
import type { EntryNews, EntryReader } from './entryReader'

/**
 * Reads and opens entries in a thread of its own, so that a phone with thousands of them can be typed on
 * meanwhile. One part at a time. @throws when the thread fails: it has to be closed, and another one begun.
 */
export function entryThread(database: string, key: CryptoKey): EntryReader {
  const worker = new Worker(new URL('../workers/read-entries.worker.ts', import.meta.url), { type: 'module' })
  const send = (message: EntriesAsked) => worker.postMessage(message)
  send({ database, key })
  return {
    next: most =>
      new Promise((resolve, reject) => {
        worker.onmessage = ({ data }: MessageEvent<EntriesTold>) => {
          if ('news' in data) resolve(JSON.parse(data.news) as EntryNews)
          else reject(new Error(data.failed))
        }
        worker.onerror = event => reject(new Error(event.message))
        send({ most })
      }),
    close: () => worker.terminate(),
  }
}
