/**
 * `npm run test:postgres`: the API tests and the races, on a PostgreSQL server of their own. What follows the
 * command goes to Vitest: `npm run test:postgres -- --project races`.
 */
import { spawnSync } from 'node:child_process'
import { join } from 'node:path'
import { fillDemo } from './demo-data.mjs'
import { ensureNginx } from './nginx.mjs'
import { ensurePostgres, startCluster } from './postgres.mjs'
import { ensureBuilt, ensureInstalled, ROOT } from './setup.mjs'

ensureInstalled()
ensurePostgres()
ensureNginx()
ensureBuilt()

const given = process.argv.slice(2)
const projects = given.includes('--project') ? [] : ['--project', 'api', '--project', 'races']
const cluster = await startCluster()
let status = 1
try {
  await cluster.make('lantern_demo')
  await fillDemo(cluster.url('lantern_demo'))
  ;({ status } = spawnSync(
    process.execPath,
    [join(ROOT, 'node_modules/vitest/vitest.mjs'), 'run', ...projects, ...given],
    { cwd: ROOT, stdio: 'inherit', env: { ...process.env, LANTERN_TEST_POSTGRES: cluster.url() } },
  ))
} finally {
  await cluster.stop()
}
process.exit(status ?? 1)
