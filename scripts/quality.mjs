/** `npm run quality`: measures how well duplicates are found, and writes docs/quality-of-checks.md. */
import { spawnSync } from 'node:child_process'
import { bundle } from './bundle.mjs'
import { ensureInstalled, ROOT } from './setup.mjs'

ensureInstalled()
const outfile = await bundle('bench/quality/main.ts', 'bench-quality')
const { status } = spawnSync(process.execPath, [outfile], { cwd: ROOT, stdio: 'inherit' })
process.exit(status ?? 1)
