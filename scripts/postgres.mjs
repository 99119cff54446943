/** A PostgreSQL cluster of its own for tests and measurements, from Debian's packages, in a temporary folder. */
import { spawn, spawnSync } from 'node:child_process'
import { chmodSync, existsSync, mkdtempSync, readdirSync, rmSync } from 'node:fs'
import { createServer } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { ensurePackages } from './debian.mjs'

const PACKAGES = '/usr/lib/postgresql'
const OLDEST = 15

/** The folder with the programs of the newest PostgreSQL that is installed, or null. */
function programs() {
  if (!existsSync(PACKAGES)) return null
  const versions = readdirSync(PACKAGES)
    .map(Number)
    .filter(version => version >= OLDEST)
  const folder = join(PACKAGES, String(Math.max(...versions)), 'bin')
  return existsSync(join(folder, 'postgres')) ? folder : null
}

/** Installs PostgreSQL when it is missing and it may; else says in one line what to install, and ends. */
export const ensurePostgres = () =>
  ensurePackages(
    ['postgresql'],
    () => programs() !== null,
    `The tests on a PostgreSQL server need PostgreSQL ${OLDEST} or newer`,
  )

/** PostgreSQL does not run as root: then its programs run as the user that the package made. */
const asOwner = (program, args) =>
  process.getuid() === 0 ? ['runuser', ['-u', 'postgres', '--', program, ...args]] : [program, args]

const freePort = () =>
  new Promise((resolve, reject) => {
    const server = createServer()
    server.once('error', reject)
    server.listen(0, '127.0.0.1', () => {
      const { port } = server.address()
      server.close(() => resolve(port))
    })
  })

function must({ status, stderr, error }) {
  if (error) throw error
  if (status !== 0) throw new Error(`PostgreSQL could not be set up: ${stderr}`)
}

/**
 * What the cluster is started with. By default nothing is forced to the disk: a test has nothing to lose. A
 * measurement says `isDurable`.
 */
const settings = (folder, port, isDurable) =>
  Object.entries({
    listen_addresses: '127.0.0.1',
    port,
    unix_socket_directories: folder,
    max_connections: 60,
    shared_buffers: '256MB',
    ...(isDurable ? {} : { fsync: 'off', synchronous_commit: 'off', full_page_writes: 'off' }),
  }).flatMap(([name, value]) => ['-c', `${name}=${value}`])

/**
 * Makes and starts a cluster.
 * @param within the folder in which it gets one of its own
 * @returns `url(name)` the address of a database; `run(text, name)` runs a statement and gives its rows;
 *   `make(name, template)` makes a database, empty or as a copy of another; `end()` ends it at once, as a
 *   failure does, and `begin()` starts it again; `stop()` ends it and removes its folder.
 */
export async function startCluster({ isDurable = false, within = tmpdir() } = {}) {
  // Not at the head of the file: a fresh clone has no packages yet.
  const { default: pg } = await import('pg')
  const bin = programs()
  const folder = mkdtempSync(join(within, 'lantern-postgres-'))
  if (process.getuid() === 0) must(spawnSync('chown', ['postgres', folder], { encoding: 'utf8' }))
  chmodSync(folder, 0o700)
  const data = join(folder, 'data')
  const init = ['-D', data, '-U', 'lantern', '-A', 'trust', '--encoding=UTF8', '--locale=C.UTF-8', '-N']
  must(spawnSync(...asOwner(join(bin, 'initdb'), init), { encoding: 'utf8' }))
  const port = await freePort()
  const url = (name = 'postgres') => `postgres://lantern@127.0.0.1:${port}/${name}`
  let child

  async function run(text, name) {
    const client = new pg.Client({ connectionString: url(name) })
    await client.connect()
    try {
      return (await client.query(text)).rows
    } finally {
      await client.end()
    }
  }

  async function begin() {
    const [command, args] = asOwner(join(bin, 'postgres'), ['-D', data, ...settings(folder, port, isDurable)])
    child = spawn(command, args, { stdio: ['ignore', 'ignore', 'pipe'] })
    let printed = ''
    child.stderr.on('data', text => (printed = `${printed}${text}`.slice(-4000)))
    for (const end = performance.now() + 30_000; ;) {
      try {
        await run('SELECT 1')
        return
      } catch (error) {
        if (child.exitCode !== null || performance.now() > end)
          throw new Error(`${error.message}\n${printed}`)
        await new Promise(resolve => setTimeout(resolve, 100))
      }
    }
  }

  async function end() {
    if (child.exitCode !== null) return
    const ended = new Promise(resolve => child.once('exit', resolve))
    // Its own signal for ending at once: connections that are left do not hold it up.
    const [stop, how] = asOwner(join(bin, 'pg_ctl'), ['stop', '-D', data, '-m', 'immediate'])
    spawnSync(stop, how)
    await ended
  }

  await begin()
  return {
    url,
    run,
    begin,
    end,
    get pid() {
      return child.pid
    },
    make: (name, template = 'template0') => run(`CREATE DATABASE "${name}" TEMPLATE "${template}"`),
    drop: name => run(`DROP DATABASE IF EXISTS "${name}" WITH (FORCE)`),
    async stop() {
      await end()
      rmSync(folder, { recursive: true, force: true })
    },
  }
}
