/**
 * `npm run bench`: bundles one suite of bench/ and runs it in a process of its own, which can collect its garbage
 * between measurements. `-- --strict` ends with 1 when a target is not met.
 */
import { spawnSync } from 'node:child_process'
import { join } from 'node:path'
import { build } from 'esbuild'
import { ensureBrowser } from './browser.mjs'
import { ensureBuilt, ensureInstalled, ROOT } from './setup.mjs'

ensureInstalled()
const [suite, ...options] = process.argv.slice(2)
// What is measured in the interface is measured in the production build.
if (suite !== 'core') {
  ensureBuilt()
  ensureBrowser()
}
// One folder below the root, as the scripts that it bundles are: they find the root from where they stand.
const outfile = join(ROOT, '.data', `bench-${suite}.mjs`)
await build({
  entryPoints: [join(ROOT, 'bench', suite, 'main.ts')],
  outfile,
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  packages: 'external',
  loader: { '.sql': 'text' },
  alias: { '#core': join(ROOT, 'core') },
  logLevel: 'warning',
})
const { status } = spawnSync(process.execPath, ['--expose-gc', outfile, ...options], {
  cwd: ROOT,
  stdio: 'inherit',
  env: { LANTERN_DATA: 'memory:', LANTERN_NOW: '2026-11-05T12:00:00Z', ...process.env },
})
process.exit(status ?? 1)
