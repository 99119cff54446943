import type { ChildProcess } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import { mkdtempSync, rmSync } from 'node:fs'
import { createServer } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import pg from 'pg'
import { copyDemo, DEMO_NOW } from '../../scripts/demo-data.mjs'
import { serve } from '../../scripts/serve.mjs'

/** The settings of a server with the demo: its own time, without the backups that a real installation makes. */
export const DEMO = {
  LANTERN_NOW: DEMO_NOW,
  LANTERN_BACKUP_HOURS: '0',
  LANTERN_GATEWAY: 'stand-in',
}
export const PASSWORD = 'lantern-2026'

/** A port that nobody listens on. */
export function freePort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const server = createServer()
    server.once('error', reject)
    server.listen(0, '127.0.0.1', () => {
      const { port } = server.address() as { port: number }
      server.close(() => resolve(port))
    })
  })
}

export interface RunningServer {
  address: string
  child: ChildProcess
  /** What the server has printed so far. */
  output: () => string
  stop: (signal?: NodeJS.Signals) => Promise<number | null>
}

/** Starts the production build on a free port (or the one given) and waits until it answers. */
export async function startServer(
  data: string,
  env: Record<string, string>,
  port?: number,
): Promise<RunningServer> {
  const { child, address, ready } = serve({ data, port: port ?? (await freePort()), env, stdio: 'pipe' }) as {
    child: ChildProcess
    address: string
    ready: Promise<string>
  }
  let printed = ''
  child.stdout!.on('data', text => {
    printed += String(text)
  })
  child.stderr!.on('data', text => {
    printed += String(text)
  })
  await ready.catch((error: Error) => {
    throw new Error(`${error.message}\n${printed}`)
  })
  return {
    address,
    child,
    output: () => printed,
    stop: (signal = 'SIGTERM') =>
      new Promise(resolve => {
        if (child.exitCode !== null) return resolve(child.exitCode)
        child.once('exit', code => resolve(code))
        child.kill(signal)
      }),
  }
}

/** A folder of its own with a copy of the demo's database. */
export function demoFolder(): string {
  const folder = mkdtempSync(join(tmpdir(), 'lantern-demo-'))
  copyDemo(folder)
  return folder
}

/** A database for one server, or for several on a PostgreSQL server. */
export interface Place {
  /** What `startServer` starts on. */
  data: string
  remove: () => Promise<void>
}

/** The PostgreSQL server that the tests run on, and its database with the demo (scripts/test-postgres.mjs). */
const POSTGRES = process.env.LANTERN_TEST_POSTGRES
const TEMPLATE = 'lantern_demo'

async function administer(statement: string): Promise<void> {
  const client = new pg.Client({ connectionString: POSTGRES })
  await client.connect()
  await client.query(statement).finally(() => client.end())
}

/**
 * A copy of the demo: on the PostgreSQL server that the tests run on, else in a folder.
 * @param template another database to copy, where the tests run on a server.
 */
export async function demoPlace(template = TEMPLATE): Promise<Place> {
  if (!POSTGRES) {
    const folder = demoFolder()
    return { data: folder, remove: async () => rmSync(folder, { recursive: true, force: true }) }
  }
  const name = `demo_${randomUUID().replaceAll('-', '')}`
  await administer(`CREATE DATABASE ${name} TEMPLATE ${template}`)
  return {
    data: POSTGRES.replace(/[^/]*$/, name),
    remove: () => administer(`DROP DATABASE IF EXISTS ${name} WITH (FORCE)`),
  }
}

/** Starts a server on a copy of the demo, which goes when the server stops. */
export async function startDemo(env: Record<string, string> = {}, port?: number): Promise<RunningServer> {
  const place = await demoPlace()
  const server = await startServer(place.data, { ...DEMO, ...env }, port)
  return {
    ...server,
    stop: async signal => {
      const code = await server.stop(signal)
      await place.remove()
      return code
    },
  }
}
