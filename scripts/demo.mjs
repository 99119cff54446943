/** `npm run demo`: the made-up region, ready to try. `-- --fresh` makes its database anew. */
import { existsSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { DEMO_NOW, fillDemo } from './demo-data.mjs'
import { ensureBuilt, ensureInstalled, ROOT } from './setup.mjs'
import { followChild, serve } from './serve.mjs'

ensureInstalled()
ensureBuilt()

const data = join(ROOT, '.data', 'demo')
if (process.argv.includes('--fresh')) rmSync(data, { recursive: true, force: true })
if (!existsSync(join(data, 'postgres'))) {
  console.log('Generating the demo; this takes about half a minute …')
  await fillDemo(data)
}

const port = Number(process.env.PORT ?? 4310)
const { child, address, ready } = serve({
  data,
  port,
  env: {
    LANTERN_BACKUP_HOURS: '0',
    // The message gateway that ships with the application, and sends nothing.
    LANTERN_GATEWAY: 'stand-in',
    LANTERN_NOW: process.env.LANTERN_NOW ?? DEMO_NOW,
  },
})
followChild(child)
ready.then(
  () =>
    console.log(
      `Eastward Lantern is ready at ${address} · sign in as officer.ashmere (officer), clerk.tern_row (clerk), reader (reader) or admin (administrator), all with the password lantern-2026`,
    ),
  error => console.error(error.message),
)
