/**
 * `npm run backup`: makes a backup of the installation of LANTERN_DATA or DATABASE_URL, also while its server runs.
 * `npm run restore -- <file>`: puts one in the place of the database. The database that was there is kept beside it;
 * the server must be stopped.
 */
import { spawnSync } from 'node:child_process'
import { bundle } from './bundle.mjs'
import { ensureInstalled, ROOT } from './setup.mjs'

ensureInstalled()
const file = await bundle('server/backups/main.ts', 'backups')
const { status } = spawnSync(process.execPath, [file, ...process.argv.slice(2)], {
  cwd: ROOT,
  stdio: 'inherit',
})
process.exit(status ?? 1)
