import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { CannotRestore } from '../backups/pack'
import { restoreFolder } from '../backups/restore'
import { closeDatabase, database } from '../database'
import { verifySignatures } from '../district-reports/signatures'
import { CannotMove, fingerprint, movedTables, tablesOf } from '../moving/tables'
import { UNWATCHED } from '../queue/turn'
import { differenceText, verify } from '../verification/verify'

/**
 * `npm run verify`: says what is kept and is not what it is computed from. `npm run verify -- <backup>`: the same of a
 * backup, restored into a folder of its own. Ends with 1 when something is not as it should be.
 */
const [backup] = process.argv.slice(2)
const say = (sentence: string) => process.stdout.write(`${sentence}\n`)

/** Computes anew what is kept, and compares. @returns how many differences there are */
async function verifyKept(): Promise<number> {
  const differences = await verify({
    ...UNWATCHED,
    progress: (done, total) => say(`${done}${total === undefined ? '' : ` of ${total}`}`),
  })
  for (const difference of differences) process.stderr.write(`${differenceText(difference)}\n`)
  say(
    differences.length
      ? `${differences.length} differences.`
      : 'Everything that is kept is what it is computed from.',
  )
  return differences.length
}

/** Reads every table once: the rows of each, with a checksum over them. */
async function countTables(): Promise<void> {
  const sql = await database()
  for (const table of movedTables(await tablesOf(sql))) say(`${table.name}: ${await fingerprint(sql, table)}`)
}

/** Restores a backup into a folder of its own and looks at all of it. @returns how many things are wrong */
async function proveBackup(file: string): Promise<number> {
  const folder = mkdtempSync(join(tmpdir(), 'lantern-verify-'))
  try {
    await restoreFolder(resolve(file), folder)
    say('Every file of the backup is what it was when it was made.')
    process.env.LANTERN_DATA = folder
    delete process.env.DATABASE_URL
    await countTables()
    const damaged = await verifySignatures()
    say(
      damaged ? `${damaged} signed reports do not match.` : 'Every signed report is the one that was signed.',
    )
    const differences = await verifyKept()
    await closeDatabase()
    return damaged + differences
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}

try {
  const wrong = backup ? await proveBackup(backup) : await verifyKept()
  await closeDatabase()
  if (backup && !wrong) say(`The backup ${backup} can be restored.`)
  process.exitCode = wrong ? 1 : 0
} catch (error) {
  if (!(error instanceof CannotRestore || error instanceof CannotMove)) throw error
  process.stderr.write(`${error.message}\n`)
  process.exitCode = 1
}
