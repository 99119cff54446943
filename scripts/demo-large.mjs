/**
 * `npm run demo:large`: a province of 1,000 facilities with 24 months of reports and 100,000 cases, in
 * `.data/province-1000` or, with DATABASE_URL, on a PostgreSQL server. An interrupted filling goes on where it
 * was. `-- --facilities 250` makes a smaller one, `-- --fill` does not start the server.
 */
import { join } from 'node:path'
import { DEMO_NOW, fillProvince } from './demo-data.mjs'
import { followChild, serve } from './serve.mjs'
import { ensureBuilt, ensureInstalled, ROOT } from './setup.mjs'

ensureInstalled()
const given = process.argv.slice(2)
const facilities = Number(given[given.indexOf('--facilities') + 1]) || 1000
const data = process.env.DATABASE_URL || join(ROOT, '.data', `province-${facilities}`)
await fillProvince(data, facilities)
if (given.includes('--fill')) process.exit(0)

ensureBuilt()
const { child, address, ready } = serve({
  data,
  port: Number(process.env.PORT ?? 4320),
  env: { LANTERN_BACKUP_HOURS: '0', LANTERN_NOW: process.env.LANTERN_NOW ?? DEMO_NOW },
})
followChild(child)
ready.then(
  () =>
    console.log(
      `The province is ready at ${address} · sign in as admin, reader, officer.d01 or clerk.d01_z1_f01, with the password lantern-2026`,
    ),
  error => console.error(error.message),
)
