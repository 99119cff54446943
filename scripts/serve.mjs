/** Starts the built server as a child with its settings, and says when it answers. */
import { spawn } from 'node:child_process'
import { randomBytes } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { ROOT } from './setup.mjs'

const LOOPBACK = new Set(['127.0.0.1', 'localhost', '::1'])

/** A shorter key seals nothing. */
const SHORTEST_KEY = 32

/** The key that seals sessions: made once for each data folder, readable by its owner only. */
function sessionKey(folder) {
  if (process.env.NUXT_SESSION_PASSWORD) return process.env.NUXT_SESSION_PASSWORD
  if (folder === 'memory:') return randomBytes(32).toString('hex')
  mkdirSync(folder, { recursive: true, mode: 0o700 })
  const file = join(folder, 'session-key')
  if (!existsSync(file)) {
    // Whole or not at all: a key that was cut off would end every start.
    writeFileSync(`${file}.new`, randomBytes(32).toString('hex'), { mode: 0o600, flush: true })
    renameSync(`${file}.new`, file)
  }
  const key = readFileSync(file, 'utf8').trim()
  if (key.length < SHORTEST_KEY) {
    console.error(
      `Eastward Lantern cannot start: ${file} is damaged, it holds ${key.length} characters instead of at least ${SHORTEST_KEY}. ` +
        'Put it back from a copy, or remove it: a new one is made, and everybody signs in again.',
    )
    process.exit(1)
  }
  return key
}

/**
 * Starts the built server. `data` is the database folder, `memory:` or the address of a database on a
 * PostgreSQL server; `env` is more environment.
 * @param {{ data: string, port: number, host?: string, env?: Record<string, string>,
 *   stdio?: import('node:child_process').StdioOptions }} settings
 * @returns the child and the address; `ready` fulfils when it answers and rejects when it ends before.
 */
export function serve({ data, port, host = '127.0.0.1', env = {}, stdio = 'inherit' }) {
  const isOnServer = /^postgres(ql)?:/.test(data)
  const address = `http://${host}:${port}`
  const child = spawn(process.execPath, [join(ROOT, '.output/server/index.mjs')], {
    cwd: ROOT,
    stdio,
    env: {
      ...process.env,
      NODE_ENV: 'production',
      PORT: String(port),
      HOST: host,
      // On a PostgreSQL server several processes share one key, which the database holds.
      ...(isOnServer
        ? { DATABASE_URL: data }
        : { DATABASE_URL: '', LANTERN_DATA: data, NUXT_SESSION_PASSWORD: sessionKey(data) }),
      // On this machine only, a browser talks plain HTTP; anywhere else cookies need HTTPS.
      NUXT_SESSION_COOKIE_SECURE: String(!LOOPBACK.has(host)),
      // The C library's default keeps free memory for each thread: 565 MB instead of 482 at a hundred facilities.
      MALLOC_ARENA_MAX: process.env.MALLOC_ARENA_MAX ?? '2',
      // The server closes its own database on a signal.
      NITRO_SHUTDOWN_DISABLED: 'true',
      ...env,
    },
  })
  const ready = new Promise((resolve, reject) => {
    child.once('exit', code => reject(new Error(`The server ended with code ${code} before it answered.`)))
    const ask = async () => {
      const answer = await fetch(`${address}/api/health`).catch(() => null)
      if (answer?.ok) resolve(address)
      else if (child.exitCode === null) setTimeout(ask, 250)
    }
    void ask()
  })
  return { child, address, ready }
}

/** Hands signals on to the server and ends with its code. */
export function followChild(child) {
  for (const signal of ['SIGTERM', 'SIGINT']) process.on(signal, () => child.kill(signal))
  child.once('exit', code => process.exit(code ?? 1))
}
