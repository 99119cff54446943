/**
 * `npm run restore -- <backup>`: puts a backup in the place of the database of LANTERN_DATA. The damaged or
 * newer database stays beside it under another name; the server must be stopped.
 */
import { spawnSync } from 'node:child_process'
import { cpSync, existsSync, renameSync, rmSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { ensureInstalled } from './setup.mjs'

ensureInstalled()
const { check } = (await import('proper-lockfile')).default

const data = resolve(process.env.LANTERN_DATA ?? '.data/lantern')
const [backup] = process.argv.slice(2).map(path => resolve(path))

function refuse(sentence) {
  console.error(sentence)
  process.exit(1)
}

if (!backup) refuse('Name the backup: npm run restore -- /srv/lantern/backups/2026-11-09T104500Z')
if (!existsSync(join(backup, 'postgres', 'PG_VERSION')))
  refuse(`${backup} is no backup: there is no postgres/PG_VERSION in it.`)
if (
  existsSync(data) &&
  (await check(data, { lockfilePath: join(data, 'in-use.lock'), stale: 10_000, realpath: false }))
) {
  refuse(`The folder ${data} is in use. Stop the server first.`)
}

const unfinished = join(data, 'postgres.restored')
rmSync(unfinished, { recursive: true, force: true })
cpSync(join(backup, 'postgres'), unfinished, { recursive: true })
const current = join(data, 'postgres')
if (existsSync(current)) {
  const aside = join(data, `postgres.before-${new Date().toISOString().slice(0, 19).replaceAll(':', '')}Z`)
  renameSync(current, aside)
  console.log(`The database that was there is kept as ${aside}`)
}
renameSync(unfinished, current)
// The copy is on the disk before anybody relies on it.
spawnSync('sync')
console.log(`The backup ${backup} is in place. Start the server: devices will send again what came after it.`)
