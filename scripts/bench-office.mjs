/**
 * `npm run bench:office`: what the office asks of a province, on the embedded engine and on a PostgreSQL server,
 * each question beside the plainest statement; then the built server with the same questions: how long others
 * wait, how many requests 36 people get answered, memory. `-- --facilities 250` takes a smaller province,
 * `-- --engine server` one engine only, `-- --part questions`, `load` or `long` (files, extracts, a backup, and others
 * meanwhile) one part only, `-- --only extract` the questions with that in their names. The embedded province stays in `.data` and is used again.
 */
import { spawnSync } from 'node:child_process'
import { join } from 'node:path'
import { bundle } from './bundle.mjs'
import { DEMO_NOW, fillProvince } from './demo-data.mjs'
import { ensurePostgres, startCluster } from './postgres.mjs'
import { ensureBuilt, ensureInstalled, ROOT } from './setup.mjs'

ensureInstalled()
ensureBuilt()
const given = process.argv.slice(2)
const valueOf = name => (given.includes(name) ? given[given.indexOf(name) + 1] : undefined)
const facilities = Number(valueOf('--facilities') ?? 1000)
const engine = valueOf('--engine')
const part = valueOf('--part')
const files = []
for (const [name, entry, output] of [
  ['questions', 'main', 'bench-office'],
  ['load', 'load', 'bench-office-load'],
  ['long', 'long-work', 'bench-office-long'],
])
  if (!part || part === name) files.push(await bundle(`bench/office/${entry}.ts`, output))

function measure(place) {
  for (const file of files) {
    const { status } = spawnSync(process.execPath, ['--expose-gc', file, ...given], {
      cwd: ROOT,
      stdio: 'inherit',
      env: { ...process.env, LANTERN_NOW: DEMO_NOW, ...place },
    })
    if (status) process.exitCode = status
  }
}

if (engine !== 'server') {
  const folder = join(ROOT, '.data', `province-${facilities}`)
  await fillProvince(folder, facilities)
  measure({ DATABASE_URL: '', LANTERN_DATA: folder })
}
if (engine !== 'embedded') {
  ensurePostgres()
  const cluster = await startCluster({ isDurable: true })
  try {
    await cluster.make('province')
    await fillProvince(cluster.url('province'), facilities)
    measure({ DATABASE_URL: cluster.url('province') })
  } finally {
    await cluster.stop()
  }
}
