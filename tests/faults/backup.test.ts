import { execFile as execFileBack, spawnSync } from 'node:child_process'
import {
  copyFileSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { PGlite } from '@electric-sql/pglite'
import { ltree } from '@electric-sql/pglite/contrib/ltree'
import { pg_trgm } from '@electric-sql/pglite/contrib/pg_trgm'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { DeskChange } from '#core/contract/desk'
import { packFolder } from '../../server/backups/pack'
import { DEMO, demoFolder, type RunningServer, startServer } from '../support/server'
import { TestDevice } from '../support/test-device'

const UNIT = 'tern_row'
const execFile = promisify(execFileBack)
let data: string
let server: RunningServer | undefined
let elsewhere: string

beforeAll(() => {
  data = demoFolder()
  elsewhere = mkdtempSync(join(tmpdir(), 'lantern-elsewhere-'))
})
afterAll(async () => {
  await server?.stop()
  rmSync(data, { recursive: true, force: true })
  rmSync(elsewhere, { recursive: true, force: true })
})

const run = (script: string, args: readonly string[], env: Record<string, string> = {}) =>
  spawnSync(process.execPath, [`scripts/${script}.mjs`, ...args], {
    env: { ...process.env, LANTERN_DATA: data, ...env },
    encoding: 'utf8',
  })
/** The lines `table: rows, checksum` of a command that reads every table. */
const tablesIn = (output: string) => output.split('\n').filter(line => / rows, -?\d+$/.test(line))

/** The changes that the database of a folder has received. */
async function receivedIn(folder: string): Promise<Set<string>> {
  const engine = await PGlite.create(`file://${folder}/postgres`, { extensions: { ltree, pg_trgm } })
  const { rows } = await engine.query<{ id: string }>('SELECT id FROM received_change')
  await engine.close()
  return new Set(rows.map(({ id }) => id))
}

const entry = (name: string): DeskChange => ({
  ...{ kind: 'entry', id: uuid(), madeAt: new Date().toISOString(), case: uuid() },
  ...{ register: 'measles_contacts', edition: 1, form: 'contact', unit: UNIT },
  answers: { contact_name: { kind: 'value', value: name } },
})

let backup = ''

describe('a backup that is made while devices send', () => {
  it('is one file with everything that was confirmed before, and is proved elsewhere', async () => {
    server = await startServer(data, DEMO)
    const device = await TestDevice.at(server.address, UNIT)
    let isOver = false
    const confirmed: { id: string; at: number }[] = []
    const load = (async () => {
      while (!isOver) {
        const changes = Array.from({ length: 5 }, (_, at) => entry(`Under load ${at}`))
        const { status, body } = await device.sendNow(changes)
        expect([status, body.outcomes?.map(({ outcome }) => outcome)]).toEqual([
          200,
          Array(5).fill('received'),
        ])
        confirmed.push(...changes.map(({ id }) => ({ id, at: Date.now() })))
      }
    })()
    for (; confirmed.length < 20;) await new Promise(resolve => void setTimeout(resolve, 50))
    const asked = Date.now()
    const { stdout } = await execFile(process.execPath, ['scripts/backup.mjs', 'backup'], {
      env: { ...process.env, LANTERN_DATA: data },
    })
    isOver = true
    await load
    backup = /The server made the backup (\S+)/.exec(stdout)![1]!
    expect(statSync(backup).size).toBeGreaterThan(1_000_000)
    expect(readdirSync(join(data, 'backups'))).toHaveLength(1)
    await server.stop()
    server = undefined

    const proof = run('verify', [backup])
    expect(proof.stderr).toBe('')
    expect(proof.status).toBe(0)
    expect(proof.stdout).toContain('Every signed report is the one that was signed.')
    expect(proof.stdout).toContain('can be restored')
    expect(tablesIn(proof.stdout).length).toBeGreaterThan(60)

    // What was confirmed before it was asked for is in it.
    const target = join(elsewhere, 'load')
    expect(run('backup', ['restore', backup], { LANTERN_DATA: target }).status).toBe(0)
    const there = await receivedIn(target)
    const before = confirmed.filter(({ at }) => at < asked)
    expect(before.length).toBeGreaterThanOrEqual(20)
    expect(before.filter(({ id }) => !there.has(id))).toEqual([])
  })

  it('of an installation at rest is equal to it, table by table', () => {
    const made = run('backup', ['backup'])
    expect(made.stdout).toContain('The backup is ')
    backup = /The backup is (\S+)/.exec(made.stdout)![1]!
    const [ours, theirs] = [join(elsewhere, 'ours'), join(elsewhere, 'theirs')]
    const target = join(elsewhere, 'rest')
    expect(run('backup', ['restore', backup], { LANTERN_DATA: target }).status).toBe(0)
    expect(run('move', ['export', data, ours]).status).toBe(0)
    expect(run('move', ['export', target, theirs]).status).toBe(0)
    const tables = (folder: string) =>
      (
        JSON.parse(readFileSync(join(folder, 'manifest.json'), 'utf8')) as {
          tables: { name: string; fingerprint: string }[]
        }
      ).tables
        // The new life of the one, and the announcement of its backup in the other.
        .filter(({ name }) => name !== 'incarnation' && name !== 'backup')
        .map(({ name, fingerprint }) => `${name}: ${fingerprint}`)
    expect(tables(theirs)).toEqual(tables(ours))
  })
})

describe('a backup that cannot be used', () => {
  const state = () => readdirSync(data).filter(name => !name.startsWith('in-use'))
  const refused = (file: string) => {
    const before = state()
    const { status, stderr } = run('backup', ['restore', file])
    expect(state()).toEqual(before)
    return [status, stderr]
  }
  const changed = (name: string, change: (bytes: Buffer) => Buffer) => {
    const file = join(elsewhere, name)
    writeFileSync(file, change(readFileSync(backup)))
    return file
  }

  it('is named, and nothing is changed: cut, altered, none at all', () => {
    const cut = changed('cut.zip', bytes => bytes.subarray(0, bytes.length / 2))
    expect(refused(cut)).toEqual([1, expect.stringContaining('was cut or changed')])
    const altered = changed('altered.zip', bytes => {
      const copy = Buffer.from(bytes)
      copy[Math.floor(copy.length / 2)]! ^= 0xff
      return copy
    })
    expect(refused(altered)).toEqual([1, expect.stringContaining('was cut or changed')])
    expect(run('verify', [altered])).toMatchObject({
      status: 1,
      stderr: expect.stringContaining('was cut or changed') as string,
    })
    expect(refused(join(elsewhere, 'none.zip'))).toEqual([1, expect.stringContaining('There is no file')])
    expect(refused('package.json')).toEqual([1, expect.stringContaining('was cut or changed')])
  })

  it('is refused when it is of a newer version', async () => {
    const folder = join(elsewhere, 'of-later')
    mkdirSync(join(folder, 'postgres'), { recursive: true })
    writeFileSync(join(folder, 'postgres', 'PG_VERSION'), '18\n')
    const newer = join(elsewhere, 'newer.zip')
    await packFolder(folder, newer, {
      id: uuid(),
      at: '2027-01-01T00:00:00Z',
      content: 'folder',
      migration: 99,
    })
    expect(refused(newer)).toEqual([1, expect.stringContaining('of a newer version')])
  })

  it('is not put under a server that runs', async () => {
    server = await startServer(data, DEMO)
    expect(refused(backup)).toEqual([1, expect.stringContaining('is in use by another process')])
  })
})

describe('old backups', () => {
  it('are removed when there are more than are kept', async () => {
    await server?.stop()
    server = undefined
    const folder = join(data, 'backups')
    for (let day = 1; day <= 4; day++) copyFileSync(backup, join(folder, `2025-01-0${day}T000000Z.zip`))
    expect(run('backup', ['backup'], { LANTERN_BACKUPS_KEPT: '3' }).status).toBe(0)
    const left = readdirSync(folder).sort()
    expect(left).toHaveLength(3)
    expect(left[0]! > '2026').toBe(true)
    expect(existsSync(join(folder, '2025-01-01T000000Z.zip'))).toBe(false)
  })
})
