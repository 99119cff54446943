/** The demo's database: filled from outside the server, once for the sources that it is made of. */
import { spawnSync } from 'node:child_process'
import { cpSync, existsSync, mkdirSync, renameSync, rmSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { bundle } from './bundle.mjs'
import { newest, ROOT } from './setup.mjs'

/** When the demo plays, unless LANTERN_NOW says another time. */
export const DEMO_NOW = '2026-11-09T08:45:00-02:00'

const TEMPLATE = join(ROOT, '.data', 'demo-template')
const SOURCES = ['core', 'demo', 'server']

/** Where data lies, for a process that uses the server's modules. */
const placeOf = data =>
  data.startsWith('postgres://') ? { DATABASE_URL: data } : { DATABASE_URL: '', LANTERN_DATA: data }

async function fill(entry, data, env = {}) {
  // The engine has a thread of its own, as in the server: what is written next is made ready meanwhile.
  await bundle('server/database/engine-thread.ts', 'fill/threads/engine-thread')
  const file = await bundle(entry, `fill/${entry.replaceAll(/\W/g, '-')}`)
  const { status } = spawnSync(process.execPath, [file], {
    cwd: ROOT,
    stdio: 'inherit',
    env: { ...process.env, ...placeOf(data), LANTERN_NOW: DEMO_NOW, LANTERN_CLOCK: 'stands', ...env },
  })
  // Not the end of this process: who called may have a database server to stop first.
  if (status !== 0) throw new Error('The database was not filled: what went wrong stands above.')
}

/**
 * Fills an empty database with the demo. @throws when that fails
 * @param data the folder of the embedded engine, or the address of a database on a PostgreSQL server
 */
export const fillDemo = data => fill('demo/fill/main.ts', data)

/** The same with a whole province. What was filled before an interruption stays. */
export const fillProvince = (data, facilities = 1000) =>
  fill('demo/large/main.ts', data, { LANTERN_FACILITIES: String(facilities) })

/** Makes the demo's database, unless there is one that is newer than its sources. @returns its folder. */
export async function ensureDemo() {
  const made = existsSync(TEMPLATE) ? statSync(TEMPLATE).mtimeMs : 0
  if (made > Math.max(...SOURCES.map(name => newest(join(ROOT, name))))) return TEMPLATE
  const unfinished = `${TEMPLATE}.new`
  rmSync(unfinished, { recursive: true, force: true })
  mkdirSync(unfinished, { recursive: true })
  await fillDemo(unfinished)
  rmSync(TEMPLATE, { recursive: true, force: true })
  renameSync(unfinished, TEMPLATE)
  return TEMPLATE
}

/** Copies the demo's database into a folder of its own, for a server of a test. */
export function copyDemo(folder) {
  cpSync(TEMPLATE, folder, { recursive: true })
}
