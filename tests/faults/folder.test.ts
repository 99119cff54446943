import {
  cpSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  truncateSync,
  utimesSync,
  writeFileSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { openEmbedded } from '../../server/database/embedded'
import { FolderInUse, lockFolder } from '../../server/database/folder-lock'

const TABLE = { number: 1, name: 'thing', sql: 'CREATE TABLE thing (id int PRIMARY KEY)' }
let base: string
let sound: string
let folder: string

beforeAll(async () => {
  base = mkdtempSync(join(tmpdir(), 'lantern-folder-'))
  sound = join(base, 'sound')
  const database = await openEmbedded(sound, [TABLE])
  await database.query('INSERT INTO thing VALUES (1)')
  await database.close()
})
afterAll(() => rmSync(base, { recursive: true, force: true }))
beforeEach(() => {
  folder = join(base, 'tried')
  cpSync(sound, folder, { recursive: true })
})
afterEach(() => rmSync(folder, { recursive: true, force: true }))

/** Every file of the folder with its size and time: what a start that is refused must not change. */
const stateOf = () =>
  readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter(entry => entry.isFile())
    .map(entry => join(entry.parentPath, entry.name))
    .sort()
    .map(path => [path, statSync(path).size, statSync(path).mtimeMs])

const engine = (path: string) => join(folder, 'postgres', path)
const segment = () => readdirSync(engine('pg_wal')).find(name => /^[0-9A-F]{24}$/.test(name))!

describe('nothing lost, 4: a folder that is neither empty nor sound', () => {
  it.each<[string, () => void, RegExp]>([
    ['without PG_VERSION', () => rmSync(engine('PG_VERSION')), /PG_VERSION is missing/],
    ['of another version', () => writeFileSync(engine('PG_VERSION'), '17\n'), /PG_VERSION says “17”/],
    [
      'without its write-ahead log',
      () => rmSync(engine(`pg_wal/${segment()}`)),
      /write-ahead log since the last checkpoint, is missing/,
    ],
    [
      'with a log that was cut off',
      () => truncateSync(engine(`pg_wal/${segment()}`), 4096),
      /write-ahead log, is cut off/,
    ],
    [
      'with a log of zeros',
      () => writeFileSync(engine(`pg_wal/${segment()}`), Buffer.alloc(16 * 2 ** 20)),
      /does not hold the last checkpoint/,
    ],
    [
      'with an empty control file',
      () => truncateSync(engine('global/pg_control'), 0),
      /pg_control has 0 bytes/,
    ],
    [
      'with a damaged control file',
      () => {
        const control = readFileSync(engine('global/pg_control'))
        control[60]! ^= 1
        writeFileSync(engine('global/pg_control'), control)
      },
      /pg_control is damaged/,
    ],
    ['without its tables', () => rmSync(engine('base'), { recursive: true }), /folder base is missing/],
    [
      'of something else',
      () => {
        rmSync(join(folder, 'postgres'), { recursive: true })
        writeFileSync(join(folder, 'holiday.jpg'), 'x')
      },
      /has no database in it, but is not empty either \(holiday\.jpg\)/,
    ],
  ])('%s is refused with a sentence, and nothing is written into it', async (_name, damage, message) => {
    damage()
    const before = stateOf()
    await expect(openEmbedded(folder, [TABLE])).rejects.toThrow(message)
    expect(stateOf()).toEqual(before)
  })

  it('names the newest backup', async () => {
    mkdirSync(join(folder, 'backups'))
    for (const name of ['2026-11-07T220000Z', '2026-11-08T220000Z'])
      writeFileSync(join(folder, 'backups', `${name}.zip`), 'a backup')
    writeFileSync(join(folder, 'backups', '2026-11-09T220000Z.zip.unfinished'), 'half a backup')
    rmSync(engine('PG_VERSION'))
    await expect(openEmbedded(folder, [TABLE])).rejects.toThrow(
      /npm run restore -- ".*2026-11-08T220000Z.zip"/,
    )
  })

  it('is begun anew where the making of the database was cut off', async () => {
    rmSync(join(folder, 'postgres'), { recursive: true })
    mkdirSync(join(folder, 'postgres.new', 'base'), { recursive: true })
    const database = await openEmbedded(folder, [TABLE])
    expect(await database.query('SELECT * FROM thing')).toEqual([])
    await database.close()
    expect(existsSync(join(folder, 'postgres.new'))).toBe(false)
  })
})

describe('nothing lost, 3: the lock of a folder', () => {
  it('keeps a second process out, and is given back', async () => {
    const unlock = await lockFolder(folder)
    await expect(lockFolder(folder)).rejects.toThrow(FolderInUse)
    await unlock()
    const again = await lockFolder(folder)
    await again()
  }, 60_000)

  it('means the same in another container: a holder that cannot be looked up is alive while its heartbeat is', async () => {
    const unlock = await lockFolder(folder)
    // As a second container sees it: a process number of another world, which here is nobody's.
    const holder = JSON.parse(readFileSync(join(folder, 'in-use.json'), 'utf8')) as object
    writeFileSync(
      join(folder, 'in-use.json'),
      JSON.stringify({ ...holder, namespace: 'pid:[1]', pid: 999_999 }),
    )
    await expect(lockFolder(folder)).rejects.toThrow(/in use by another process/)
    await unlock()
  }, 60_000)

  it('of a dead process is taken over at once, and of a dead container after its heartbeat has stopped', async () => {
    const own = await lockFolder(folder)
    const holder = JSON.parse(readFileSync(join(folder, 'in-use.json'), 'utf8')) as object
    await own()
    mkdirSync(join(folder, 'in-use.lock'))
    writeFileSync(join(folder, 'in-use.json'), JSON.stringify({ ...holder, pid: 999_999, started: '1' }))
    const begun = performance.now()
    await (
      await lockFolder(folder)
    )()
    expect(performance.now() - begun).toBeLessThan(8_000)
    mkdirSync(join(folder, 'in-use.lock'))
    writeFileSync(join(folder, 'in-use.json'), 'cut o')
    utimesSync(join(folder, 'in-use.lock'), new Date(Date.now() - 60_000), new Date(Date.now() - 60_000))
    await (
      await lockFolder(folder)
    )()
  }, 60_000)

  it('that is taken away is noticed: the holder has to end', async () => {
    const lost: string[] = []
    const unlock = await lockFolder(folder, reason => lost.push(reason))
    rmSync(join(folder, 'in-use.lock'), { recursive: true })
    for (let wait = 0; !lost.length && wait < 60; wait++)
      await new Promise(resolve => {
        setTimeout(resolve, 100)
      })
    expect(lost).toHaveLength(1)
    await unlock()
  }, 60_000)
})
