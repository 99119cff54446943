import { setTimeout } from 'node:timers/promises'
import { closeDatabase, database } from '../database'
import { beginStopping } from '../http/stopping'
import { askForBackup, startJobs, stopJobs } from '../jobs/start'
import { log, logError } from '../log'
import { ensureSessionKey } from '../secrets'
import { watchEventLoop } from '../threads/long-loop'
import { announceFirstAdministrator } from '../people/first-administrator'

/** How long a stop waits for requests that are under way. */
const DRAIN_MS = 10_000

/**
 * Opens the database before the first request is served and closes it when the process is asked to stop, so
 * that a folder is never left half written. A folder that cannot be opened ends the process with the reason.
 */
export default defineNitroPlugin(nitro => {
  if (import.meta.prerender) return
  watchEventLoop()
  const ready = (async () => {
    await database()
    await ensureSessionKey()
    await startJobs()
    await announceFirstAdministrator()
  })()
  ready.catch(error => {
    if (error instanceof Error && error.name !== 'Error') logError('Eastward Lantern cannot start', error)
    else
      process.stderr.write(
        `Eastward Lantern cannot start: ${error instanceof Error ? error.message : String(error)}\n`,
      )
    process.exit(1)
  })
  nitro.hooks.hook('request', async () => ready)

  let running = 0
  nitro.hooks.hook('request', () => {
    running++
  })
  nitro.hooks.hook('afterResponse', () => {
    running--
  })

  const stop = async (signal: string) => {
    if (!beginStopping()) return
    try {
      await ready
      // Running requests finish; new ones get 503 with Retry-After.
      for (const end = performance.now() + DRAIN_MS; running > 0 && performance.now() < end;)
        await setTimeout(50)
      await stopJobs()
      await closeDatabase()
      log(`Stopped by ${signal}; the database is closed.`)
      process.exit(0)
    } catch (error) {
      logError('The database did not close cleanly', error)
      process.exit(1)
    }
  }
  process.on('SIGTERM', () => void stop('SIGTERM'))
  process.on('SIGINT', () => void stop('SIGINT'))
  process.on('SIGUSR2', () => {
    askForBackup().catch((error: unknown) => logError('The backup could not be asked for', error))
  })
})
