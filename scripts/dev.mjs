/** `npm run dev`: Nuxt's development server on the demo's data, in a folder of its own. */
import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { DEMO_NOW, fillDemo } from './demo-data.mjs'
import { ensureInstalled, ROOT, run } from './setup.mjs'

ensureInstalled()
const data = join(ROOT, '.data', 'dev')
if (!existsSync(join(data, 'postgres'))) await fillDemo(data)
run(process.execPath, [join(ROOT, 'node_modules/nuxt/bin/nuxt.mjs'), 'dev'], {
  LANTERN_DATA: data,
  LANTERN_NOW: process.env.LANTERN_NOW ?? DEMO_NOW,
  NUXT_SESSION_PASSWORD: 'for-development-only-for-development-only',
  NUXT_SESSION_COOKIE_SECURE: 'false',
})
