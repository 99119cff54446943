/**
 * `npm run verify -- <backup>`: restores a backup elsewhere, beside nothing that is used, and says whether it is whole.
 * `npm run verify`: computes anew what the database of LANTERN_DATA or DATABASE_URL keeps because it is asked
 * for often, and compares. The server of a folder must be stopped; one on PostgreSQL may go on.
 */
import { spawnSync } from 'node:child_process'
import { bundle } from './bundle.mjs'
import { ensureInstalled, ROOT } from './setup.mjs'

ensureInstalled()
const file = await bundle('server/proof/main.ts', 'verify')
const { status } = spawnSync(process.execPath, [file, ...process.argv.slice(2)], {
  cwd: ROOT,
  stdio: 'inherit',
})
process.exit(status ?? 1)
