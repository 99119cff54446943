/** `npm run dev`: Nuxt's development server on the demo's data, in a folder of its own. */
import { join } from 'node:path'
import { ensureInstalled, ROOT, run } from './setup.mjs'

ensureInstalled()
run(process.execPath, [join(ROOT, 'node_modules/nuxt/bin/nuxt.mjs'), 'dev'], {
  LANTERN_DATA: join(ROOT, '.data', 'dev'),
  LANTERN_FILL: 'demo',
  LANTERN_NOW: process.env.LANTERN_NOW ?? '2026-11-09T08:45:00-02:00',
  NUXT_SESSION_PASSWORD: 'for-development-only-for-development-only',
  NUXT_SESSION_COOKIE_SECURE: 'false',
})
