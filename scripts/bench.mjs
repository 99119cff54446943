/**
 * `npm run bench`: bundles one suite of bench/ and runs it in a process of its own, which can collect its
 * garbage between measurements. `-- --strict` ends with 1 when a target is not met.
 */
import { spawnSync } from 'node:child_process'
import { ensureBrowser } from './browser.mjs'
import { bundle } from './bundle.mjs'
import { ensureDemo } from './demo-data.mjs'
import { ensureBuilt, ensureInstalled, ROOT } from './setup.mjs'

ensureInstalled()
const [suite, ...options] = process.argv.slice(2)
// What is measured in the interface is measured in the production build.
if (suite !== 'core') {
  ensureBuilt()
  await ensureDemo()
  ensureBrowser()
}
const outfile = await bundle(`bench/${suite}/main.ts`, `bench-${suite}`)
const { status } = spawnSync(process.execPath, ['--expose-gc', outfile, ...options], {
  cwd: ROOT,
  stdio: 'inherit',
  env: { LANTERN_DATA: 'memory:', LANTERN_NOW: '2026-11-05T12:00:00Z', ...process.env },
})
process.exit(status ?? 1)
