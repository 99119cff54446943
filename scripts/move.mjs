/**
 * `npm run move -- <from> <to>`: brings an installation from the embedded engine to a PostgreSQL server, or back.
 * `npm run export -- <from> <folder>` writes everything as JSON lines; `npm run import -- <folder> <to>` fills an
 * empty installation with it. Each checks that everything is the same. Stop the servers first; an export from a
 * PostgreSQL server may go on beside them.
 */
import { spawnSync } from 'node:child_process'
import { bundle } from './bundle.mjs'
import { ensureInstalled, ROOT } from './setup.mjs'

ensureInstalled()
const file = await bundle('server/moving/main.ts', 'move')
const { status } = spawnSync(process.execPath, [file, ...process.argv.slice(2)], {
  cwd: ROOT,
  stdio: 'inherit',
})
process.exit(status ?? 1)
