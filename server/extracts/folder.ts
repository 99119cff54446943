import { createWriteStream } from 'node:fs'
import { mkdir, rename, rm } from 'node:fs/promises'
import { join } from 'node:path'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'

/** The folder into which extracts are written by themselves (`LANTERN_EXTRACTS`), or null. */
export const extractFolder = (): string | null => process.env.LANTERN_EXTRACTS?.trim() || null

export const hasFolder = (): boolean => extractFolder() !== null

/**
 * Writes a file into the folder: under another name until all of it is there, so that nobody finds a half.
 * @returns how many bytes it has
 * @throws what the disk says, as `ENOSPC`; nothing is left behind then
 */
export async function writeIntoFolder(
  folder: string,
  name: string,
  bytes: AsyncIterable<Buffer>,
): Promise<number> {
  await mkdir(folder, { recursive: true })
  const unfinished = join(folder, `.${name}.part`)
  let size = 0
  const counted = async function* () {
    for await (const chunk of bytes) {
      size += chunk.length
      yield chunk
    }
  }
  try {
    await pipeline(Readable.from(counted()), createWriteStream(unfinished, { mode: 0o640, flush: true }))
    await rename(unfinished, join(folder, name))
  } catch (error) {
    await rm(unfinished, { force: true })
    throw error
  }
  return size
}
