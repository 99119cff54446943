/** Runs TypeScript that uses the server's modules as a command: installs what is missing, bundles, and hands on. */
import { spawnSync } from 'node:child_process'
import { bundle } from './bundle.mjs'
import { ensureInstalled, ROOT } from './setup.mjs'

/**
 * Runs a file with this command's arguments, and ends with its code.
 *
 * @param entry the file, from the project's folder
 * @example await runBundled('server/moving/main.ts', 'move')
 */
export async function runBundled(entry, name) {
  ensureInstalled()
  const file = await bundle(entry, name)
  const { status } = spawnSync(process.execPath, [file, ...process.argv.slice(2)], {
    cwd: ROOT,
    stdio: 'inherit',
  })
  process.exit(status ?? 1)
}
