/**
 * What every command does first, on a machine that has only Node and npm: install what the lock file says,
 * build when the sources are newer than the build. Without dependencies, because there may be none yet.
 */
import { execFileSync, spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'

export const ROOT = fileURLToPath(new URL('..', import.meta.url))
const LOCK = join(ROOT, 'package-lock.json')
const INSTALLED = join(ROOT, 'node_modules', '.lantern-lock')
const BUILT = join(ROOT, '.output', 'nitro.json')
const SOURCES = ['app', 'core', 'server', 'public', 'nuxt.config.ts', 'package.json', 'package-lock.json']

const NPM = process.platform === 'win32' ? 'npm.cmd' : 'npm'

/** Runs a command in the project's folder; ends this process with its code when it fails. */
export function run(command, args, env = {}) {
  const { status, error } = spawnSync(command, args, {
    cwd: ROOT,
    stdio: 'inherit',
    env: { ...process.env, ...env },
  })
  if (error) throw error
  if (status !== 0) process.exit(status ?? 1)
}

/** `npm ci`, unless the installed packages are those of the lock file. */
export function ensureInstalled() {
  const wanted = createHash('sha256').update(readFileSync(LOCK)).digest('hex')
  if (existsSync(INSTALLED) && readFileSync(INSTALLED, 'utf8') === wanted) return
  console.log('Installing what package-lock.json says …')
  run(NPM, ['ci', '--no-audit', '--no-fund', '--loglevel=error'])
  writeFileSync(INSTALLED, wanted)
}

/** When a file, or the newest source in a folder, was changed last: milliseconds since 1970. Tests do not count. */
export function newest(path) {
  const stat = statSync(path)
  if (!stat.isDirectory()) return stat.mtimeMs
  return Math.max(
    stat.mtimeMs,
    ...readdirSync(path)
      .filter(name => !name.endsWith('.test.ts'))
      .map(name => newest(join(path, name))),
  )
}

/** Builds for production, unless the build is newer than every source. */
export function ensureBuilt() {
  const since = existsSync(BUILT) ? statSync(BUILT).mtimeMs : 0
  if (since > Math.max(...SOURCES.map(name => newest(join(ROOT, name))))) return
  console.log('Building …')
  const started = Date.now()
  try {
    execFileSync(process.execPath, [join(ROOT, 'node_modules/nuxt/bin/nuxt.mjs'), 'build'], {
      cwd: ROOT,
      stdio: 'pipe',
      env: { ...process.env, NODE_ENV: 'production' },
    })
  } catch (error) {
    process.stderr.write(`${error.stdout ?? ''}${error.stderr ?? ''}\nThe build failed.\n`)
    process.exit(1)
  }
  console.log(`Built in ${Math.round((Date.now() - started) / 1000)} s.`)
}
