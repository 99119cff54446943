import { database } from './database'
import { judgeSoon } from './checks/judge-again'
import { verifySignatures } from './district-reports/signatures'
import { log } from './log'
import { keepSafe } from './backups/keep-safe'
import { openRounds } from './rounds/open-rounds'

const EVERY_TEN_MINUTES = 600_000

/**
 * Fills an empty database with the demo when `LANTERN_FILL=demo` asks for it; then opens the rounds that are
 * due to open, now and from time to time.
 */
export async function fillWhenEmpty(): Promise<void> {
  const sql = await database()
  const [unit] = await sql.query('SELECT 1 FROM unit LIMIT 1')
  if (!unit && process.env.LANTERN_FILL === 'demo') {
    const started = performance.now()
    const { fillDemo } = await import('./demo-fill/fill')
    await fillDemo(sql)
    log(`The demo was generated in ${((performance.now() - started) / 1000).toFixed(1)} s.`)
  }
  await openRounds()
  await verifySignatures()
  keepSafe()
  judgeSoon()
  setInterval(() => {
    openRounds().catch((error: unknown) => log(`Rounds could not be opened: ${String(error)}`))
    judgeSoon()
  }, EVERY_TEN_MINUTES).unref()
}
