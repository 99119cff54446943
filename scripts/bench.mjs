/**
 * `npm run bench`: bundles one suite of bench/ and runs it in a process of its own, which can collect its garbage
 * between measurements. `-- --strict` ends with 1 when a target is not met.
 */
import { spawnSync } from 'node:child_process'
import { join } from 'node:path'
import { build } from 'esbuild'
import { ensureInstalled, ROOT } from './setup.mjs'

ensureInstalled()
const [suite, ...options] = process.argv.slice(2)
const outfile = join(ROOT, '.data', 'bench', `${suite}.mjs`)
await build({
  entryPoints: [join(ROOT, 'bench', suite, 'main.ts')], outfile, bundle: true, platform: 'node', format: 'esm', target: 'node20',
  packages: 'external', alias: { '#core': join(ROOT, 'core') }, logLevel: 'warning',
})
const { status } = spawnSync(process.execPath, ['--expose-gc', outfile, ...options], { cwd: ROOT, stdio: 'inherit' })
process.exit(status ?? 1)
