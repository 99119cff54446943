import '../support/use-memory'
import { mkdtempSync, readdirSync, readFileSync, rmSync, symlinkSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { parse } from 'csv-parse/sync'
import { DateTime } from 'luxon'
import { v7 as uuid } from 'uuid'
import { afterAll, afterEach, beforeAll, describe, expect, it, vi } from 'vitest'
import type { ExtractDefinition } from '#core/contract/extracts'
import { MEASLES_CASES } from '../../demo/registers/measles'
import { accessById, type Access } from '../../server/access/access'
import { closeDatabase, type Database } from '../../server/database'
import { listExtractFiles } from '../../server/extracts/files'
import { changeExtract, extractById, listExtracts, saveExtract } from '../../server/extracts/saved'
import { areExtractsDue, nextTime, writeDueExtracts } from '../../server/extracts/write-due'
import { UNWATCHED } from '../../server/queue/turn'
import { addRegister, entryMade, takeEntries } from '../support/cases'
import { makeInstallation, personOf } from '../support/installation'

let sql: Database
let officer: Access
const folder = mkdtempSync(join(tmpdir(), 'lantern-folder-'))
const DEFINITION: ExtractDefinition = {
  ...{ of: 'measles_cases', rows: 'entry', columns: [{ key: '@entry' }, { key: 'sex' }], heads: 'short' },
  ...{ choices: 'code', several: 'list', reasons: false, filters: {}, format: 'csv', language: 'en' },
}
const saved = (name: string, onlyNew = false) =>
  saveExtract(officer, { name, definition: DEFINITION, shared: false, repeats: 'day', onlyNew })
const comeAgain = () =>
  sql.query(`UPDATE extract SET next_at = '2026-11-05T11:00:00Z' WHERE repeats IS NOT NULL`)
const filesOf = () => readdirSync(folder).sort()
const rowsOf = (file: string) =>
  (parse(readFileSync(join(folder, file)), { bom: true }) as string[][]).slice(1)

beforeAll(async () => {
  sql = await makeInstallation()
  await addRegister(sql, MEASLES_CASES)
  officer = await accessById(personOf('officer', null).id)
  await takeEntries(sql, [entryMade(uuid(), { sex: 'f' }), entryMade(uuid(), { sex: 'm' })])
  vi.stubEnv('LANTERN_EXTRACTS', folder)
})
afterAll(async () => {
  vi.unstubAllEnvs()
  rmSync(folder, { recursive: true })
  await closeDatabase()
})
afterEach(async () => {
  await sql.query('DELETE FROM extract')
  await sql.query('DELETE FROM extract_file')
  for (const file of filesOf()) rmSync(join(folder, file))
})

describe('an extract that repeats', () => {
  it('is written into the folder when its time has come, and stands in the log', async () => {
    await saved('Sexes: all')
    expect(await areExtractsDue()).toBe(true)
    expect((await writeDueExtracts(UNWATCHED)).numbers).toEqual({ files: 1 })
    const [file] = filesOf()
    expect(file).toMatch(/^Sexes- all 2026-11-05 \w{6}\.csv$/)
    expect(rowsOf(file!).map(([, sex]) => sex)).toEqual(['f', 'm'])
    expect(await areExtractsDue()).toBe(false)
    expect((await listExtractFiles(officer, {})).lines).toMatchObject([
      { state: 'written', rows: 2, name: file },
    ])
    const { lines, hasFolder } = await listExtracts(officer, {})
    expect(hasFolder).toBe(true)
    expect(lines[0]).toMatchObject({
      nextAt: expect.stringMatching(/^2026-11-06T12:00/) as string,
      problem: null,
    })
  })

  it('has only what came since it was written last, where that is asked', async () => {
    await saved('New ones', true)
    await writeDueExtracts(UNWATCHED)
    expect(rowsOf(filesOf()[0]!)).toHaveLength(2)
    await sql.query(`UPDATE extract SET last_at = '2026-11-05T11:59:00Z'`)
    await sql.query(`UPDATE case_entry SET received_at = '2026-11-05T11:00:00Z'`)
    const late = entryMade(uuid(), { sex: 'f' })
    await takeEntries(sql, [late])
    await comeAgain()
    await writeDueExtracts(UNWATCHED)
    expect(rowsOf(filesOf()[0]!)).toEqual([[late.id, 'f']])
  })

  it('says that the disk is full, leaves no half file, and holds up no other', async () => {
    const full = await saved('Full')
    symlinkSync('/dev/full', join(folder, `.Full 2026-11-05 ${full.id.slice(-6)}.csv.part`))
    await saved('Other')
    expect((await writeDueExtracts(UNWATCHED)).numbers).toEqual({ files: 1 })
    expect(filesOf()).toEqual([expect.stringMatching(/^Other/)])
    expect(await extractById(officer, full.id)).toMatchObject({ problem: 'disk-full', lastAt: null })
  })

  it('stops when it is told so, when its owner lost the right, and where there is no folder', async () => {
    const own = await saved('Stopped')
    await changeExtract(officer, own.id, { ...own, repeats: null })
    expect(await areExtractsDue()).toBe(false)
    const other = await saved('Without the right')
    await sql.query(`UPDATE person SET without = '{extract}' WHERE id = $1`, [officer.id])
    await writeDueExtracts(UNWATCHED)
    expect(await extractById(officer, other.id)).toMatchObject({ problem: 'no-permission' })
    await sql.query(`UPDATE person SET without = '{}' WHERE id = $1`, [officer.id])
    vi.stubEnv('LANTERN_EXTRACTS', '')
    await expect(saved('Nowhere')).rejects.toMatchObject({ code: 'extract-no-folder' })
    vi.stubEnv('LANTERN_EXTRACTS', folder)
    expect(filesOf()).toEqual([])
  })
})

describe('the next time', () => {
  it.each(['2026-01-31T05:00:00Z', '2026-12-31T23:30:00Z', '2028-01-30T00:00:00Z', '2026-11-05T12:00:00Z'])(
    'after %s is what luxon says',
    text => {
      const at = DateTime.fromISO(text, { zone: 'utc' })
      expect(nextTime('month', at.toMillis())).toBe(at.plus({ months: 1 }).toMillis())
      expect(nextTime('week', at.toMillis())).toBe(at.plus({ weeks: 1 }).toMillis())
      expect(nextTime('day', at.toMillis())).toBe(at.plus({ days: 1 }).toMillis())
    },
  )
})
