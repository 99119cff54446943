import '../support/use-memory'
import { buffer } from 'node:stream/consumers'
import { parse } from 'csv-parse/sync'
import readExcel, { readSheet } from 'read-excel-file/node'
import { v7 as uuid } from 'uuid'
import yauzl from 'yauzl'
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest'
import type { ExtractDefinition, ExtractFileLine } from '#core/contract/extracts'
import { pseudonymOf } from '#core/cases/personal'
import type { QuestionnaireResponse } from '#core/exchange/questionnaire-response'
import { MEASLES_CASES, MEASLES_CONTACTS } from '../../demo/registers/measles'
import { accessById, type Access } from '../../server/access/access'
import { closeDatabase, type Database } from '../../server/database'
import { dataDictionary } from '../../server/extracts/dictionary'
import {
  askForFile,
  downloadFile,
  extractFile,
  forgetOldExtracts,
  listExtractFiles,
  stopFile,
} from '../../server/extracts/files'
import { makeExtracts } from '../../server/extracts/make-files'
import { openExtract, previewExtract } from '../../server/extracts/open'
import {
  changeExtract,
  extractById,
  listExtracts,
  removeExtract,
  saveExtract,
} from '../../server/extracts/saved'
import { listMakers } from '../../server/extracts/makers'
import { fieldList, listSources } from '../../server/extracts/sources'
import { UNWATCHED } from '../../server/queue/turn'
import { addRegister, entryMade, takeEntries } from '../support/cases'
import { fillReport, sendReport } from '../support/facility'
import { makeInstallation, OCTOBER, personOf } from '../support/installation'
import { hasLibreOffice, OFFICE_MS, typeInLibreOffice } from '../support/libreoffice'

let sql: Database
let officer: Access
let reader: Access
const admin = personOf('administrator', null)
const [GIRL, BOY, AWAY] = [uuid(), uuid(), uuid()]
const FIRST = entryMade(GIRL, {
  case_number: 'ASH-26-0001',
  full_name: '=Ila, "Marsh"',
  sex: 'f',
  born_on: '2021-05-03',
  rash_on: '2026-10-20',
  signs: ['fever'],
})
const SECOND = entryMade(
  GIRL,
  {
    case_number: 'ASH-26-0001',
    full_name: 'Ila Marsh',
    sex: 'f',
    born_on: '2021-05-03',
    rash_on: '2026-10-19',
  },
  { corrects: FIRST.id },
)

beforeAll(async () => {
  sql = await makeInstallation()
  for (const register of [MEASLES_CASES, MEASLES_CONTACTS]) await addRegister(sql, register)
  for (const [unit, tested] of [
    ['elm', 12],
    ['oak', 0],
    ['ash', 30],
  ] as const) {
    await fillReport(personOf('clerk', unit), OCTOBER, unit, { tested, positive: 0 })
    await sendReport(personOf('clerk', unit), OCTOBER, unit)
  }
  await fillReport(personOf('clerk', 'yew'), OCTOBER, 'yew', { tested: 1 })
  await takeEntries(sql, [
    FIRST,
    SECOND,
    entryMade(
      BOY,
      { case_number: 'ASH-26-0002', full_name: 'Tavi Osk', sex: 'm', told_age: 7, rash_on: '2026-10-21' },
      { unit: 'oak' },
    ),
    entryMade(
      AWAY,
      { case_number: 'ASH-26-0003', full_name: 'Nell Fyne', sex: 'f', told_age: 3, rash_on: '2026-10-22' },
      { unit: 'ash' },
    ),
  ])
  // The job does it with what the person may see then.
  await sql.query(`UPDATE person SET branch = 'north' WHERE role IN ('officer', 'reader')`)
  officer = await accessById(personOf('officer', 'north').id)
  reader = await accessById(personOf('reader', 'north').id)
})
afterAll(closeDatabase)
afterEach(() => sql.query('DELETE FROM extract_file'))

const extract = (more: Partial<ExtractDefinition>, ...keys: string[]): ExtractDefinition => ({
  ...{ of: 'small', rows: 'report', columns: keys.map(key => ({ key })), heads: 'short', choices: 'code' },
  ...{ several: 'columns', reasons: false, filters: {}, format: 'csv', language: 'en' },
  ...more,
})
const cases = (more: Partial<ExtractDefinition>, ...keys: string[]) =>
  extract({ of: 'measles_cases', rows: 'case', ...more }, ...keys)
const rowsOf = async (access: Access, of: ExtractDefinition) => {
  const { sheets, count } = await previewExtract(access, of)
  return { head: sheets[0]!.heads.map(({ head }) => head), rows: sheets[0]!.rows, count }
}
const run = () => makeExtracts(UNWATCHED)
async function made(access: Access, ...definitions: ExtractDefinition[]): Promise<ExtractFileLine> {
  const { id } = await askForFile(access, {
    extracts: definitions.map((definition, at) => ({ name: `Part ${at + 1}`, definition })),
  })
  await run()
  return extractFile(access, id)
}
const bytesOf = async (access: Access, { id }: ExtractFileLine) =>
  buffer((await downloadFile(access, id)).stream)
const table = (bytes: Buffer) => parse(bytes, { bom: true }) as string[][]

describe('rows of reports', () => {
  it('are those of the branch that were received, with what stands in the database', async () => {
    expect(await rowsOf(officer, extract({}, '@unit', '@period', 'tested', 'seen.f'))).toEqual({
      head: ['unit', 'period', 'tested', 'seen_f'],
      rows: [
        ['elm', '2026-10', '12', ''],
        ['oak', '2026-10', '0', ''],
      ],
      count: 2,
    })
    const all = await rowsOf(
      admin,
      extract({ filters: { states: ['draft', 'sent'] } }, '@unit', '@state', '@level_2'),
    )
    expect(all.rows.map(([unit, state]) => `${unit} ${state}`).sort()).toEqual([
      'ash sent',
      'elm sent',
      'oak sent',
      'yew draft',
    ])
    expect(all.rows.find(([unit]) => unit === 'ash')![2]).toBe('south')
  })

  it('are one a cell where that is asked, of the chosen cells or all', async () => {
    const keys = ['@unit', '@cell', '@kind', '@value']
    const { rows, count } = await rowsOf(officer, extract({ rows: 'cell' }, ...keys))
    expect(rows).toEqual([
      ['elm', 'tested', 'value', '12'],
      ['elm', 'positive', 'value', '0'],
      ['oak', 'tested', 'value', '0'],
      ['oak', 'positive', 'value', '0'],
    ])
    expect(count).toBe(4)
    const some = await rowsOf(officer, extract({ rows: 'cell' }, ...keys, 'tested'))
    expect(some).toMatchObject({
      count: 2,
      rows: [
        ['elm', 'tested', 'value', '12'],
        ['oak', 'tested', 'value', '0'],
      ],
    })
  })

  it('are narrowed by unit, days and a condition', async () => {
    const units = async (filters: ExtractDefinition['filters']) =>
      (await rowsOf(admin, extract({ filters }, '@unit'))).rows.flat().sort()
    expect(await units({ unit: 'quay' })).toEqual(['elm', 'oak'])
    expect(await units({ from: '2026-11-01' })).toEqual([])
    expect(await units({ by: 'received', from: '2026-11-05', to: '2026-11-05' })).toEqual([
      'ash',
      'elm',
      'oak',
    ])
    expect(await units({ where: 'tested > 20' })).toEqual(['ash'])
    await expect(
      previewExtract(officer, extract({ filters: { unit: 'ash' } }, '@unit')),
    ).rejects.toMatchObject({ status: 403 })
    await expect(
      previewExtract(officer, extract({ filters: { where: 'tested >' } }, '@unit')),
    ).rejects.toMatchObject({
      status: 422,
      problems: [{ at: 'filters/where' }],
    })
  })
})

describe('the number of rows', () => {
  it('is that of all rows that a condition passes, where all were read', async () => {
    const all = await previewExtract(admin, cases({}, '@unit'))
    const some = await previewExtract(admin, extract({ filters: { where: 'tested > 20' } }, '@unit'))
    expect(all.counted).toBeNull()
    expect(some).toMatchObject({ count: 1, counted: { read: 3, all: 3 } })
  })

  it('says among how many it was counted, where there are more than a preview reads', async () => {
    const before = await previewExtract(admin, cases({}, '@unit'))
    const copies = await sql.query<{ id: string }>(
      `INSERT INTO case_record
         SELECT copy.* FROM (SELECT to_jsonb(c) AS of FROM case_record c
             WHERE c.id = $1) one,
           generate_series(1, 2100) AS n,
           jsonb_populate_record(NULL::case_record, one.of || jsonb_build_object('id', md5(n::text)::uuid)) copy
       RETURNING id`,
      [GIRL],
    )
    try {
      const { count, counted, sheets } = await previewExtract(
        admin,
        cases({ filters: { where: 'sex = "f"' } }, '@unit'),
      )
      expect(counted!.all).toBe(before.count + copies.length)
      expect(counted!.read).toBeGreaterThanOrEqual(2_000)
      expect(counted!.read).toBeLessThan(counted!.all)
      // All but the boy, who may be among the rows that were read.
      expect(count).toBeGreaterThanOrEqual(counted!.read - 1)
      expect(count).toBeLessThanOrEqual(counted!.read)
      expect(sheets[0]!.rows).toHaveLength(20)
    } finally {
      await sql.query('DELETE FROM case_record WHERE id = ANY($1::uuid[])', [copies.map(({ id }) => id)])
    }
  })
})

describe('entries as FHIR', () => {
  const entries = (...keys: string[]) =>
    cases({ rows: 'entry', form: 'registration', format: 'fhir' }, ...keys)
  const linesOf = async (access: Access, of: ExtractDefinition) => {
    const line = await made(access, of)
    expect([line.state, line.name.endsWith('.fhir.ndjson')]).toEqual(['ready', true])
    const text = (await bytesOf(access, line)).toString()
    return text
      .trim()
      .split('\n')
      .map(one => JSON.parse(one) as QuestionnaireResponse)
  }

  it('are a response a line, with the answers that are columns', async () => {
    const lines = await linesOf(officer, entries('@entry', 'sex', 'full_name'))
    expect(lines.map(({ id, status }) => [id, status])).toEqual([
      [FIRST.id, 'completed'],
      [SECOND.id, 'amended'],
      [expect.any(String), 'completed'],
    ])
    const stored = await sql.query<{ id: string; name: string }>(
      `SELECT id, answers -> 'full_name' ->> 'value' AS name FROM case_entry`,
    )
    for (const line of lines) {
      expect(JSON.stringify(line)).toContain(
        JSON.stringify({ valueString: stored.find(({ id }) => id === line.id)!.name }).slice(1, -1),
      )
      expect(JSON.stringify(line)).not.toContain('rash_on')
    }
  })

  it('have no personal answer for who may not take it', async () => {
    const lines = await linesOf(reader, entries('@entry', 'sex', 'full_name'))
    expect(lines.length).toBe(3)
    expect(JSON.stringify(lines)).not.toMatch(/Marsh|full_name/)
  })

  it('are refused of anything but entries', async () => {
    await expect(previewExtract(officer, extract({ format: 'fhir' }, '@unit'))).rejects.toMatchObject({
      status: 422,
      code: 'extract-fhir',
    })
  })
})

describe('who filled it', () => {
  const idOf = async (kind: 'people' | 'devices', find: string) => {
    const found = (await listMakers(admin, { find }))[kind]
    expect(found.length).toBe(1)
    return found[0]!.id
  }
  const units = async (filters: ExtractDefinition['filters'], more: Partial<ExtractDefinition> = {}) => {
    const { rows, count } = await rowsOf(admin, extract({ filters, ...more }, '@unit'))
    expect(count).toBe(rows.length)
    return rows.flat().sort()
  }

  it('narrows reports, and their cells, by the person and by the device', async () => {
    const person = await sql.query<{ id: string }>(
      `SELECT DISTINCT e.person AS id FROM cell_event e JOIN report p ON p.id = e.report WHERE p.unit = 'elm'`,
    )
    const [device] = await sql.query<{ id: string }>(`SELECT id FROM device WHERE unit = 'elm'`)
    expect(person.length).toBe(1)
    expect(await units({ person: person[0]!.id })).toContain('elm')
    expect(await units({ device: device!.id })).toEqual(['elm'])
    expect(await units({ device: device!.id }, { rows: 'cell' })).toEqual(['elm', 'elm'])
    expect(await units({ device: GIRL })).toEqual([])
  })

  it('narrows cases and entries', async () => {
    const [device] = await sql.query<{ id: string }>(`SELECT id FROM device WHERE unit = 'elm'`)
    await sql.query('UPDATE case_entry SET device = $1 WHERE id = $2', [device!.id, SECOND.id])
    const of = { of: 'measles_cases' }
    expect(await units({ person: admin.id }, { ...of, rows: 'case' })).toEqual(['ash', 'elm', 'oak'])
    expect(await units({ device: device!.id }, { ...of, rows: 'case' })).toEqual(['elm'])
    expect(await units({ device: device!.id }, { ...of, rows: 'entry' })).toEqual(['elm'])
    expect(await units({ device: device!.id, person: officer.id }, { ...of, rows: 'entry' })).toEqual([])
  })

  it('is chosen by name among those of the branch only', async () => {
    const all = await listMakers(admin, {})
    const own = await listMakers(officer, {})
    expect(own.devices.map(({ unit }) => unit).sort()).toEqual(['elm', 'oak'])
    expect(all.devices.length).toBeGreaterThan(own.devices.length)
    const ash = await idOf('devices', 'ash')
    expect(await listMakers(officer, { id: ash })).toEqual({ people: [], devices: [] })
    expect((await listMakers(admin, { id: ash })).devices.map(({ unit }) => unit)).toEqual(['ash'])
  })
})

describe('rows of cases', () => {
  it('stand as they stand, or each entry as it was filled with what corrects it', async () => {
    const now = await rowsOf(officer, cases({}, '@case', 'full_name', 'rash_on', '@entries'))
    expect(now.rows).toContainEqual([GIRL, 'Ila Marsh', '2026-10-19', '1'])
    expect(now.count).toBe(2)
    const filled = await rowsOf(
      officer,
      cases({ rows: 'entry', form: 'registration' }, '@entry', '@corrects', '@corrected_by', 'full_name'),
    )
    expect(filled.rows.slice(0, 2)).toEqual([
      [FIRST.id, '', SECOND.id, '=Ila, "Marsh"'],
      [SECOND.id, FIRST.id, '', 'Ila Marsh'],
    ])
    expect(filled.count).toBe(3)
  })

  it('have no personal column for who may not take it, not in the fields, and not by a condition', async () => {
    const asked = cases({}, '@case', '@pseudonym', 'full_name', 'sex')
    const { sheets, leftOut } = await previewExtract(reader, asked)
    expect(sheets[0]!.heads.map(({ key }) => key)).toEqual(['@case', '@pseudonym', 'sex'])
    expect(sheets[0]!.rows).toContainEqual([GIRL, pseudonymOf(GIRL), 'f'])
    expect(leftOut).toEqual([{ key: 'full_name', why: 'personal' }])
    const fields = await fieldList(reader, { of: 'measles_cases', rows: 'case' })
    expect(fields.fields.some(({ isPersonal }) => isPersonal)).toBe(false)
    expect(fields.names.map(({ code }) => code)).not.toContain('full_name')
    await expect(
      previewExtract(reader, { ...asked, filters: { where: 'full_name = "Tavi Osk"' } }),
    ).rejects.toMatchObject({ problems: [{ code: 'extract-where-personal' }] })
    const file = await made(reader, cases({}, '@case', 'full_name', 'sex'))
    expect(table(await bytesOf(reader, file))[0]).toEqual(['case', 'sex'])
    await expect(
      askForFile(reader, { extracts: [{ name: 'Names', definition: cases({}, 'full_name') }] }),
    ).rejects.toMatchObject({ code: 'extract-empty' })
  })

  it('are those that are shared with a reader', async () => {
    const girls = {
      ...reader,
      sharing: { datasets: [], registers: [{ register: 'measles_cases', where: 'sex=f' }] },
    }
    expect((await rowsOf(girls, cases({}, '@case'))).rows).toEqual([[GIRL]])
    expect((await rowsOf(girls, cases({ rows: 'entry' }, '@case'))).count).toBe(2)
    expect((await listSources(girls)).map(({ of }) => of)).toEqual(['measles_cases'])
    for (const closed of [extract({}, '@unit'), extract({ of: 'measles_contacts', rows: 'case' }, '@case')])
      await expect(previewExtract(girls, closed)).rejects.toMatchObject({ status: 404 })
  })
})

describe('rows that are read page by page', () => {
  it.each<[string, ExtractDefinition]>([
    ['reports', extract({ filters: { states: ['draft', 'sent'] } }, '@unit')],
    ['cells', extract({ rows: 'cell' }, '@unit', '@cell')],
    ['cases', cases({}, '@case')],
    ['entries', cases({ rows: 'entry' }, '@entry')],
  ])('are the same %s, whatever a page has', async (_, definition) => {
    const read = async (most?: number) => {
      const { plan, pages } = await openExtract(admin, definition)
      const rows: unknown[] = []
      for await (const page of pages(most))
        rows.push(...page.map(row => plan.sheets[0]!.columns.map(column => column.read(row))))
      return rows
    }
    const whole = await read()
    expect(whole.length).toBeGreaterThan(2)
    for (const most of [1, 2, 3]) expect(await read(most)).toEqual(whole)
  })
})

describe('a file', () => {
  it('is made by the job, is the same as the database, and is counted each time it is fetched', async () => {
    const file = await made(officer, extract({}, '@unit', 'tested'))
    expect(file).toMatchObject({
      state: 'ready',
      rows: 2,
      name: 'Part 1 2026-11-05.csv',
      downloads: 0,
      problem: null,
    })
    const bytes = await bytesOf(officer, file)
    expect(bytes.length).toBe(file.bytes)
    const stored = await sql.query<{ unit: string; value: number }>(
      `SELECT p.unit, v.value FROM cell_value v JOIN report p ON p.id = v.report JOIN unit_latest u ON u.code = p.unit
       WHERE v.cell = 'tested' AND p.state = 'sent' AND u.path @> '{north}' ORDER BY p.id`,
    )
    expect(table(bytes)).toEqual([
      ['unit', 'tested'],
      ...stored.map(({ unit, value }) => [unit, String(value)]),
    ])
    expect((await extractFile(officer, file.id)).downloads).toBe(1)
  })

  it('has typed cells, a frozen head and a dictionary as a workbook, read back by another library', async () => {
    const definition = cases(
      { format: 'xlsx', filters: { unit: 'elm' } },
      'full_name',
      'rash_on',
      '@received_at',
      '@entries',
      'signs',
    )
    const bytes = await bytesOf(officer, await made(officer, definition))
    const [head, girl] = (await readSheet(bytes, 'Rows')) as unknown[][]
    expect(head!.slice(0, 4)).toEqual(['full_name', 'rash_on', 'received_at', 'entries'])
    expect(girl!.slice(0, 2)).toEqual(['Ila Marsh', new Date('2026-10-19')])
    expect(girl![2]).toBeInstanceOf(Date)
    expect(girl![3]).toBe(1)
    const sheets = await readExcel(bytes)
    expect(sheets.map(({ sheet }) => sheet)).toEqual(['Rows', 'Columns'])
    const dictionary = (await readSheet(bytes, 'Columns')) as string[][]
    expect(dictionary.find(([column]) => column === 'rash_on')!.slice(0, 4)).toEqual([
      'rash_on',
      'Day of the rash',
      'illness.rash_on',
      'date',
    ])
  })

  it.skipIf(!hasLibreOffice)(
    'says the same in LibreOffice: days as days, numbers as numbers',
    async () => {
      const definition = cases(
        { format: 'xlsx', filters: { unit: 'elm' } },
        'full_name',
        'rash_on',
        '@entries',
      )
      const bytes = await bytesOf(officer, await made(officer, definition))
      const { csv } = typeInLibreOffice(bytes, 'Rows', { D2: '=ISNUMBER(B2)' })
      const [head, girl] = parse(csv) as string[][]
      expect(head!.slice(0, 3)).toEqual(['full_name', 'rash_on', 'entries'])
      expect(girl!.slice(0, 3)).toEqual(['Ila Marsh', '2026-10-19', '1'])
      expect(girl!.slice(3)).toEqual(['TRUE'])
    },
    OFFICE_MS,
  )

  it('of several extracts is a zip with each in its own format, and two of one name apart', async () => {
    const file = await made(officer, extract({}, '@unit'), cases({ format: 'jsonl' }, '@case', 'sex'))
    expect(file.name).toBe('extracts 2026-11-05.zip')
    const inside = await unzip(await bytesOf(officer, file))
    expect([...inside.keys()]).toEqual(['Part 1.csv', 'Part 2.jsonl'])
    expect(
      inside
        .get('Part 2.jsonl')!
        .trim()
        .split('\n')
        .map(line => JSON.parse(line) as object),
    ).toContainEqual({ case: GIRL, sex: 'f' })
    expect(file.rows).toBe(4)
  })

  it('belongs to who asked for it, for a week, and stays in the log', async () => {
    const file = await made(officer, cases({}, 'full_name'))
    for (const other of [admin, reader])
      await expect(downloadFile(other, file.id)).rejects.toMatchObject({ code: 'extract-not-yours' })
    await sql.query(`UPDATE extract_file SET expires_at = '2026-11-05T11:59:00Z'`)
    await expect(downloadFile(officer, file.id)).rejects.toMatchObject({
      status: 410,
      code: 'extract-expired',
    })
    expect(await forgetOldExtracts(sql)).toBe(1)
    expect(await sql.query('SELECT 1 FROM extract_part')).toEqual([])
    expect((await listExtractFiles(admin, { whose: 'all' })).lines).toMatchObject([
      {
        by: 'The officer',
        rows: 2,
        state: 'expired',
        extracts: [{ name: 'Part 1', of: 'measles_cases', personal: true }],
      },
    ])
    await expect(listExtractFiles(reader, { whose: 'all' })).rejects.toMatchObject({ status: 403 })
    const other = { ...officer, id: uuid(), branch: 'south' }
    expect((await listExtractFiles(other, { whose: 'all' })).lines).toEqual([])
  })

  it('that was stopped is not made; nothing of it is kept', async () => {
    const { id } = await askForFile(officer, { extracts: [{ name: 'A', definition: extract({}, '@unit') }] })
    expect(await stopFile(officer, id)).toMatchObject({ state: 'stopped' })
    await run()
    expect(await extractFile(officer, id)).toMatchObject({ state: 'stopped', bytes: 0 })
    await expect(stopFile(officer, id)).rejects.toMatchObject({ code: 'file-state' })
    await expect(downloadFile(officer, id)).rejects.toMatchObject({ code: 'file-state' })
  })

  it('is refused where ten of the person wait already', async () => {
    const ask = () => askForFile(officer, { extracts: [{ name: 'A', definition: extract({}, '@unit') }] })
    for (let at = 0; at < 10; at++) await ask()
    await expect(ask()).rejects.toMatchObject({ status: 409, code: 'extract-many' })
    await stopFile(officer, (await listExtractFiles(officer, {})).lines[0]!.id)
    await ask()
  })

  it('whose turn died is made anew by the next one, and nothing is twice in it', async () => {
    const definition = extract({}, '@unit')
    const { id } = await askForFile(officer, { extracts: ['A', 'B'].map(name => ({ name, definition })) })
    const dies = new AbortController()
    await expect(
      makeExtracts({ signal: dies.signal, progress: () => dies.abort(new Error('died')) }),
    ).rejects.toThrow('died')
    expect(await extractFile(officer, id)).toMatchObject({ state: 'waiting' })
    await run()
    const file = await extractFile(officer, id)
    expect(file).toMatchObject({ state: 'ready', rows: 4 })
    expect([...(await unzip(await bytesOf(officer, file))).keys()]).toEqual(['A.csv', 'B.csv'])
  })

  it('of a person who lost the right meanwhile fails, and says why', async () => {
    const { id } = await askForFile(reader, { extracts: [{ name: 'A', definition: extract({}, '@unit') }] })
    await sql.query(`UPDATE person SET without = '{extract}' WHERE id = $1`, [reader.id])
    await run()
    expect(await extractFile(reader, id)).toMatchObject({
      state: 'failed',
      problem: 'no-permission',
      bytes: 0,
    })
    await sql.query(`UPDATE person SET without = '{}' WHERE id = $1`, [reader.id])
  })
})

describe('a saved extract', () => {
  const save = (access: Access, shared: boolean) =>
    saveExtract(access, {
      name: 'Monthly',
      definition: extract({}, '@unit'),
      shared,
      repeats: null,
      onlyNew: false,
    })

  it('is seen by its owner, and by others where it is shared; its owner changes it, once from each reading', async () => {
    const own = await save(officer, false)
    await expect(extractById(reader, own.id)).rejects.toMatchObject({ code: 'extract-not-yours' })
    const shared = await changeExtract(officer, own.id, {
      ...own,
      name: 'Ours',
      shared: true,
      version: own.version,
    })
    expect(await extractById(reader, own.id)).toMatchObject({ name: 'Ours', mine: false, version: 2 })
    expect((await listExtracts(reader, {})).lines.map(({ name }) => name)).toEqual(['Ours'])
    await expect(changeExtract(reader, own.id, { ...shared, version: 2 })).rejects.toMatchObject({
      code: 'extract-not-yours',
    })
    await expect(changeExtract(officer, own.id, { ...shared, version: 1 })).rejects.toMatchObject({
      code: 'extract-changed',
    })
    await expect(removeExtract(reader, own.id)).rejects.toMatchObject({ status: 403 })
    await removeExtract(officer, own.id)
    expect((await listExtracts(officer, {})).lines).toEqual([])
  })

  it('is taken out with only what came since the person last took it', async () => {
    const definition = cases({ rows: 'entry', form: 'registration' }, '@entry')
    const { id } = await saveExtract(officer, {
      ...{ name: 'New entries', definition, shared: false, repeats: null, onlyNew: false },
    })
    const rows = async (access: Access, onlyNew: boolean) => {
      const line = await askForFile(access, { extracts: [{ name: 'New', definition, saved: id, onlyNew }] })
      await run()
      const { rows: count } = await extractFile(access, line.id)
      await sql.query('UPDATE extract_file SET at = $2 WHERE id = $1', [line.id, '2026-11-05T13:00:00Z'])
      return count
    }
    // Never before: all of them.
    expect(await rows(officer, true)).toBe(3)
    expect(await rows(officer, true)).toBe(0)
    await sql.query('UPDATE case_entry SET received_at = $2 WHERE id = $1', [
      SECOND.id,
      '2026-11-05T14:00:00Z',
    ])
    expect(await rows(officer, true)).toBe(1)
    expect(await rows(officer, false)).toBe(3)
    // What somebody else took out says nothing of what this person has.
    expect(await rows(admin, true)).toBe(4)
  })
})

describe('the dictionary', () => {
  it('explains each column of a dataset and a register, also to who may not take personal answers', async () => {
    expect(
      (await dataDictionary(reader, { of: 'small', language: 'fr' })).lines.map(({ short }) => short),
    ).toEqual(['tested', 'positive', 'seen_f', 'seen_m'])
    const measles = await dataDictionary(reader, { of: 'measles_cases', language: 'en' })
    expect(measles.lines.find(({ short }) => short === 'full_name')).toMatchObject({
      label: 'Name',
      kind: 'text',
    })
    await expect(dataDictionary(reader, { of: 'gone', language: 'en' })).rejects.toMatchObject({
      status: 404,
    })
  })
})

/** The files of a zip, as yauzl reads them. */
const unzip = (bytes: Buffer) =>
  new Promise<Map<string, string>>((resolve, reject) => {
    const found = new Map<string, string>()
    yauzl.fromBuffer(bytes, { lazyEntries: true }, (error, zip) => {
      if (error) return reject(error)
      zip.on('entry', (entry: yauzl.Entry) =>
        zip.openReadStream(entry, (failed, stream) => {
          if (failed) return reject(failed)
          void buffer(stream).then(text => {
            found.set(entry.fileName, text.toString())
            zip.readEntry()
          })
        }),
      )
      zip.on('end', () => resolve(found))
      zip.readEntry()
    })
  })
