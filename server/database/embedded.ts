import { giveWay, requestNow } from '../give-way'
import { inspectFolder } from './data-folder'
import { doInTransaction, mustBePortable, type EmbeddedDatabase, type Parameter, type Sql } from './database'
import { openEngine } from './engine-client'
import { fairTurns } from './fair-turns'
import { lockFolder } from './folder-lock'
import { keepBefore } from './keep-before'
import { migrate, migrationOf, type Migration } from './migrate'

/**
 * Opens the database of a folder, or a passing one with `memory:`, and brings its tables up to date.
 *
 * @param onLost called when another process took the folder: this one must end at once
 * @throws FolderInUse, FolderDamaged, NewerDatabase, ChangedMigration
 */
export async function openEmbedded(
  data: string,
  migrations: readonly Migration[],
  onLost?: (reason: string) => void,
): Promise<EmbeddedDatabase> {
  const inMemory = data === 'memory:'
  if (!inMemory) inspectFolder(data)
  const unlock = inMemory ? () => Promise.resolve() : await lockFolder(data, onLost)
  try {
    const engine = await openEngine(data)
    const inTurn = fairTurns(requestNow)
    const statements: Pick<Sql, 'query' | 'script'> = {
      async query<Row extends object>(text: string, params: readonly Parameter[] = []) {
        mustBePortable(params)
        return engine.query(text, params) as Promise<Row[]>
      },
      script: text => engine.exec(text),
    }
    // A read waits as well: what it saw may have been committed a moment ago, and not be on the disk yet.
    const query: Sql['query'] = async <Row extends object>(
      text: string,
      params: readonly Parameter[] = [],
    ) => {
      await giveWay()
      const rows = await inTurn(() => statements.query<Row>(text, params))
      await engine.sync()
      return rows
    }
    const transaction = async <T>(work: (sql: Sql) => Promise<T>): Promise<T> => {
      await giveWay()
      const result = await inTurn(async () => {
        await engine.exec('BEGIN')
        try {
          const done = await doInTransaction(statements, work)
          await engine.exec('COMMIT')
          return done
        } catch (error) {
          await engine.exec('ROLLBACK')
          throw error
        }
      })
      await engine.sync()
      return result
    }
    let copying: Promise<void> = Promise.resolve()
    const checkpoint = async () => {
      // A copy begins at one checkpoint: the next must not give up the log that it still needs.
      await copying
      await inTurn(() => engine.exec('CHECKPOINT'))
    }
    const copyTo = async (folder: string) => {
      await checkpoint()
      const copy = engine.copyTo(folder)
      copying = copy.catch(() => undefined)
      await copy
    }
    const update = async () => {
      const before = await migrationOf(statements)
      const isOlder = before > 0 && before < (migrations.at(-1)?.number ?? 0)
      if (isOlder && !inMemory) await keepBefore(data, before, copyTo)
      return migrate(migrations, transaction)
    }
    const migration = await update().catch(async error => {
      await engine.close()
      throw error
    })
    return {
      engine: 'embedded',
      query,
      transaction,
      migration,
      checkpoint,
      copyTo,
      async close() {
        await inTurn(() => engine.close())
        await unlock()
      },
    }
  } catch (error) {
    await unlock()
    throw error
  }
}
