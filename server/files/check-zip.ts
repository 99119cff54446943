import { fromBuffer } from 'yauzl'
import { Refusal } from '../refusal'

/** How large a workbook may be when it is unpacked, and how many files it may hold. */
const MOST_UNPACKED = 60_000_000
const MOST_ENTRIES = 2_000

const tooLarge = () =>
  new Refusal(422, 'file-unpacked', `Unpacked, this workbook is larger than ${MOST_UNPACKED / 1_000_000} MB.`)

/**
 * Unpacks a workbook once, keeping nothing, to know that it can be unpacked: one whose parts are larger than they
 * say, or all together larger than may be, is refused before anything holds it in memory.
 *
 * @throws Refusal 422 `file-unpacked`, `file-broken`
 */
export function checkZip(bytes: Buffer): Promise<void> {
  const broken = () => new Refusal(422, 'file-broken', 'This is no whole workbook.')
  return new Promise((resolve, reject) => {
    // The library refuses an entry that is larger than it says; what they say is added up here.
    fromBuffer(bytes, { lazyEntries: true, validateEntrySizes: true }, (error, zip) => {
      if (error) return reject(broken())
      let said = 0
      let entries = 0
      zip.on('error', () => reject(broken()))
      zip.on('end', () => resolve())
      zip.on('entry', entry => {
        said += entry.uncompressedSize
        if (said > MOST_UNPACKED || ++entries > MOST_ENTRIES) return reject(tooLarge())
        zip.openReadStream(entry, (problem, stream) => {
          if (problem) return reject(broken())
          stream.on('error', () => reject(broken()))
          stream.on('end', () => zip.readEntry())
          stream.resume()
        })
      })
      zip.readEntry()
    })
  })
}
