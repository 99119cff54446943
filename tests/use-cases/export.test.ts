import '../support/use-memory'
import {
  appendFileSync,
  existsSync,
  mkdtempSync,
  readFileSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { MEASLES_CASES } from '../../demo/registers/measles'
import { closeDatabase, openAt, type Database } from '../../server/database'
import { exportTo, importFrom, type Manifest } from '../../server/moving/export'
import { CannotMove, tablesOf } from '../../server/moving/tables'
import { addRegister, entryMade, takeEntries } from '../support/cases'
import { fillReport, sendReport } from '../support/facility'
import { makeInstallation, OCTOBER, personOf } from '../support/installation'

const place = mkdtempSync(join(tmpdir(), 'lantern-export-'))
const folder = join(place, 'export')
const GIRL = '0189f7a0-0000-7000-8000-000000000001'
/** Everything that text can do to a file of lines. */
const NAME = 'Ila "Marsh",\n\u2028 O’Tarn\t\\ عائشة 🦉'
let sql: Database
let manifest: Manifest

beforeAll(async () => {
  sql = await makeInstallation()
  await sql.query(`UPDATE round SET closes_at = '2026-11-30T00:00:00Z'`)
  await fillReport(personOf('clerk', 'elm'), OCTOBER, 'elm', { tested: 40, positive: 4, 'seen.f': 30 })
  await sendReport(personOf('clerk', 'elm'), OCTOBER, 'elm')
  await addRegister(sql, MEASLES_CASES)
  await takeEntries(sql, [
    entryMade(GIRL, { case_number: 'ASH-26-0001', full_name: NAME, sex: 'f', rash_on: '2026-10-20' }),
  ])
  manifest = await exportTo(sql, folder)
})
afterAll(async () => {
  await closeDatabase()
  rmSync(place, { recursive: true, force: true })
})

/** The rows of each table as text, in one order. */
async function contents(of: Database): Promise<Record<string, string[]>> {
  const all: Record<string, string[]> = {}
  for (const { name } of await tablesOf(of)) {
    if (name === 'migration') continue
    const rows = await of.query<{ row: string }>(`SELECT to_jsonb(t)::text AS row FROM "${name}" t`)
    all[name] = rows.map(({ row }) => row).sort()
  }
  return all
}
const empty = () => openAt('memory:')
const CUT = /was cut or changed. Nothing was taken in/

describe('an export of everything', () => {
  it('is one file of JSON lines for each table, for its owner only, named when it is complete', () => {
    expect(existsSync(`${folder}.unfinished`)).toBe(false)
    expect(statSync(folder).mode & 0o77).toBe(0)
    for (const { file, rows } of manifest.tables) {
      expect(statSync(join(folder, file)).mode & 0o77).toBe(0)
      const lines = readFileSync(join(folder, file), 'utf8').split('\n').filter(Boolean)
      expect([file, lines.map(line => JSON.parse(line) as object).length]).toEqual([file, rows])
    }
    const people = readFileSync(join(folder, 'person.jsonl'), 'utf8')
    expect(people).toContain('"user_name": "officer"')
  })

  it('fills a fresh installation, which is the same table by table, and which devices take for a restored one', async () => {
    const fresh = await empty()
    await importFrom(folder, fresh)
    const [before, after] = [await contents(sql), await contents(fresh)]
    const { incarnation: was, ...rest } = before
    const { incarnation: is, ...others } = after
    expect(Object.keys(rest).length).toBeGreaterThan(60)
    expect(others).toEqual(rest)
    expect(is!.length).toBe(was!.length + 1)
    expect(is!.join()).toContain(manifest.id)
    const [known] = await fresh.query<{ name: string }>(
      `SELECT known -> 'full_name' ->> 'value' AS name FROM case_record WHERE id = $1`,
      [GIRL],
    )
    expect(known!.name).toBe(NAME)
    // What is made from now on has a number that none had.
    const [made] = await fresh.query<{ seq: number }>(
      `INSERT INTO changed_thing (at, kind, of, key, unit) VALUES (now(), 'unit', '', '', 'elm') RETURNING id AS seq`,
    )
    const [last] = await sql.query<{ seq: number }>('SELECT max(id) AS seq FROM changed_thing')
    expect(made!.seq).toBe(last!.seq + 1)
    await expect(importFrom(folder, fresh)).rejects.toThrow(/not empty/)
    await fresh.close()
  })

  it('is refused where it was cut, changed, or is none, and nothing of it is taken in', async () => {
    const fresh = await empty()
    const cells = join(folder, 'cell_value.jsonl')
    const whole = readFileSync(cells, 'utf8')
    writeFileSync(cells, whole.slice(0, -20))
    await expect(importFrom(folder, fresh)).rejects.toThrow(CUT)
    writeFileSync(cells, whole.replace('40', '41'))
    await expect(importFrom(folder, fresh)).rejects.toThrow(CUT)
    rmSync(cells)
    await expect(importFrom(folder, fresh)).rejects.toThrow(CUT)
    writeFileSync(cells, whole)
    const about = join(folder, 'manifest.json')
    const text = readFileSync(about, 'utf8')
    appendFileSync(about, '}')
    await expect(importFrom(folder, fresh)).rejects.toThrow(CUT)
    writeFileSync(about, JSON.stringify({ ...manifest, migration: manifest.migration + 1 }))
    await expect(importFrom(folder, fresh)).rejects.toThrow(/another version/)
    writeFileSync(about, text)
    await expect(importFrom(place, fresh)).rejects.toThrow(/is no export/)
    expect(await fresh.query('SELECT 1 FROM person')).toEqual([])
    await importFrom(folder, fresh)
    await fresh.close()
  })

  it('does not write over what is there', async () => {
    await expect(exportTo(sql, folder)).rejects.toThrow(CannotMove)
  })
})
