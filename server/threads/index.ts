import { existsSync } from 'node:fs'
import { dirname, join } from 'node:path'

/**
 * The file of a thread in the build, beside the server's own (see the `compiled` hook in nuxt.config.ts).
 * Null where nothing was built: in tests and tools, which then do the work in their own thread.
 *
 * @param name of the thread, as in the build's list
 */
export function threadFile(name: string): string | null {
  const file = join(dirname(process.argv[1] ?? '.'), 'threads', `${name}.mjs`)
  return existsSync(file) ? file : null
}
