import '../../tests/support/use-memory'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { UnitQuery, UnitSource } from '#core/contract/units'
import type { UnitHeadings } from '#core/exchange/unit-columns'
import type { UnitFields } from '#core/geography/unit-row'
import { makeInstallation, personOf } from '../../tests/support/installation'
import { branchPath, type Access } from '../access/access'
import { closeDatabase, type Database } from '../database'
import { applyUnits, listUnitChanges, undoUnits } from './change'
import { previewUnits } from './plan'
import { exportUnits, listUnits, unitFile } from './read'
import { basisOf } from './tree'

const admin = personOf('administrator', null)
const ofNorth = personOf('administrator', 'north')
const DAY = '2026-10-01'
const by = (...rows: UnitFields[]): UnitSource => ({ day: DAY, rows })
const csv = (...lines: string[]): UnitSource => ({
  day: DAY,
  file: { format: 'csv', text: ['code;name;parent;latitude;longitude', ...lines].join('\r\n') },
})
let sql: Database

const apply = async (source: UnitSource, who = admin) =>
  applyUnits(who, source, (await previewUnits(who, source)).basis)
const pathsOf = async (unit: string) =>
  (
    await sql.query<{ from_day: string; to_day: string | null; path: string }>(
      "SELECT from_day, to_day, array_to_string(path, '.') AS path FROM unit_span WHERE unit = $1 ORDER BY from_day",
      [unit],
    )
  ).map(({ from_day, to_day, path }) => [from_day, to_day, path])
const everything = async () =>
  JSON.stringify([
    await sql.query('SELECT code, latitude, longitude FROM unit ORDER BY code'),
    await sql.query(
      'SELECT unit, from_day, to_day, parent, name, level, kind, path FROM unit_span ORDER BY unit, from_day',
    ),
  ])

beforeAll(async () => {
  sql = await makeInstallation()
  await sql.query(
    `INSERT INTO report (round, unit, edition, state) VALUES ('small~2026-10', 'oak', 1, 'draft'), ('small~2026-09', 'oak', 1, 'draft')`,
  )
})

afterAll(closeDatabase)

describe('changing the tree', () => {
  it('shows first, line by line, what it would do and touch', async () => {
    const preview = await previewUnits(
      admin,
      csv('oak;Oak Hill;mill', 'fir;Fir;quay;41,5;-29,5', 'elm;elm;quay', 'x y;Bad;quay', 'yew;yew;nowhere'),
    )
    expect(preview.lines.map(({ line, code, verdict }) => [line, code, verdict])).toEqual([
      [2, 'oak', 'moved'],
      [3, 'fir', 'new'],
      [4, 'elm', 'unchanged'],
      [5, 'x y', 'refused'],
      [6, 'yew', 'refused'],
    ])
    expect(preview.counts).toEqual({ moved: 1, new: 1, unchanged: 1, refused: 2 })
    expect(preview.touched).toEqual({ reports: 1, signed: 0 })
    expect((await listUnits(admin, {})).units.some(({ code }) => code === 'fir')).toBe(false)
  })

  it('moves a unit to another level, keeps its level of before, and takes that back', async () => {
    const before = await everything()
    const id = await apply(by({ code: 'yew', name: 'yew', parent: 'south' }))
    expect((await unitFile(admin, 'yew')).spans.map(({ level }) => level)).toEqual([4, 3])
    expect((await listUnits(admin, {})).units.find(({ code }) => code === 'yew')?.level).toBeDefined()
    await undoUnits(admin, id)
    expect(await everything()).toBe(before)
  })

  it('moves a branch from a day on: what is below goes along, and before that day all is as it was', async () => {
    const before = await everything()
    const id = await apply(by({ code: 'quay', name: 'Quay Zone', parent: 'south' }))
    expect(await pathsOf('oak')).toEqual([
      ['2020-01-01', DAY, 'coast.north.quay.oak'],
      [DAY, null, 'coast.south.quay.oak'],
    ])
    expect(await unitFile(admin, 'oak')).toMatchObject({
      path: [{ code: 'coast' }, { code: 'south' }, { code: 'quay', name: 'Quay Zone' }, { code: 'oak' }],
      spans: [{ from: '2020-01-01', to: null }],
      reports: 2,
    })
    expect((await listUnitChanges())[0]).toMatchObject({
      id,
      source: 'hand',
      counts: { moved: 1 },
      undoable: true,
    })
    await undoUnits(admin, id)
    expect(await everything()).toBe(before)
    expect((await listUnitChanges())[0]).toMatchObject({
      undone: { by: 'The administrator' },
      undoable: false,
    })
  })

  it('takes a whole import back in one act, and closes what is in use instead of deleting it', async () => {
    const before = await everything()
    const id = await apply(csv('fir;Fir;quay;41.5;-29.5', 'elm;Elm Tree;quay;;'))
    expect((await listUnits(admin, {})).units.find(({ code }) => code === 'fir')).toMatchObject({
      level: 4,
      latitude: 41.5,
      open: true,
    })
    await undoUnits(admin, id)
    expect(await everything()).toBe(before)
    await expect(undoUnits(admin, id)).rejects.toMatchObject({ code: 'units-undone' })

    const again = await apply(csv('fir;Fir;quay;;'))
    await sql.query(
      `INSERT INTO report (round, unit, edition, state) VALUES ('small~2026-10', 'fir', 1, 'draft')`,
    )
    await expect(undoUnits(admin, again)).rejects.toMatchObject({ code: 'units-in-use' })
    await apply({ day: DAY, rows: [{ code: 'fir', name: 'Fir', parent: 'quay', closed: '2026-10-15' }] })
    expect(
      (await listUnits(admin, { day: '2026-10-14' })).units.find(({ code }) => code === 'fir')!.open,
    ).toBe(true)
    expect((await listUnits(admin, {})).units.find(({ code }) => code === 'fir')!.open).toBe(false)
    await expect(undoUnits(admin, again)).rejects.toMatchObject({ code: 'units-changed-since' })
  })

  it('refuses what was previewed on another tree, what changes nothing, and a file that cannot be read', async () => {
    const source = by({ code: 'ash', name: 'Ash Two', parent: 'mill' })
    const { basis } = await previewUnits(admin, source)
    await apply(by({ code: 'yew', name: 'Yew Two', parent: 'mill' }))
    await expect(applyUnits(admin, source, basis)).rejects.toMatchObject({
      status: 409,
      code: 'units-changed',
    })
    await expect(apply(by({ code: 'yew', name: 'Yew Two', parent: 'mill' }))).rejects.toMatchObject({
      code: 'units-nothing',
    })
    await expect(apply(by({ code: 'yew', name: 'Yew', parent: 'yew' }))).rejects.toMatchObject({
      code: 'units-nothing',
    })
    await expect(
      previewUnits(admin, { day: DAY, file: { format: 'geojson', text: '{' } }),
    ).rejects.toMatchObject({ status: 422, code: 'file-not-json' })
    await expect(
      previewUnits(admin, { day: DAY, file: { format: 'csv', text: 'name,parent\n' } }),
    ).rejects.toMatchObject({ code: 'file-empty' })
    await expect(previewUnits(admin, { day: DAY })).rejects.toMatchObject({ code: 'schema' })
    await expect(undoUnits(admin, '019a0000-0000-7000-8000-000000000001')).rejects.toMatchObject({
      status: 404,
    })
  })

  it('keeps nothing of an act that fails', async () => {
    const before = await everything()
    await expect(
      sql.transaction(async () => {
        throw new Error('power cut')
      }),
    ).rejects.toThrow('power cut')
    expect(await everything()).toBe(before)
  })
})

describe('the units in pages', () => {
  const codes = async (access: Access, asked: UnitQuery) => {
    const { units, more } = await listUnits(access, asked)
    return [units.map(({ code }) => code), more]
  }

  it('come in the order of the whole tree, each once', async () => {
    const whole = (await listUnits(admin, {})).units.map(({ code }) => code)
    const found: string[] = []
    for (let more = true; more;) {
      const page = await listUnits(admin, { most: 4, after: found.at(-1) })
      expect(page.units.length).toBeLessThanOrEqual(4)
      found.push(...page.units.map(({ code }) => code))
      more = page.more
    }
    expect(found).toEqual(whole)
    expect(await codes(admin, { most: 4, after: whole.at(-1) })).toEqual([[], false])
  })

  it('are refused after a unit of another branch', async () => {
    expect(await codes(ofNorth, { most: 2, after: 'quay' })).toEqual([['elm', 'fir'], true])
    await expect(listUnits(ofNorth, { after: 'ash' })).rejects.toMatchObject({ status: 404 })
  })
})

describe('a branch', () => {
  it('bounds what is seen, changed and taken out', async () => {
    expect((await listUnits(ofNorth, {})).units.map(({ code }) => code)).toEqual([
      'coast',
      'north',
      'quay',
      'elm',
      'fir',
      'oak',
    ])
    await expect(
      previewUnits(ofNorth, by({ code: 'ash', name: 'Other', parent: 'mill' })),
    ).rejects.toMatchObject({ code: 'outside-branch' })
    await expect(
      previewUnits(ofNorth, by({ code: 'oak', name: 'oak', parent: 'mill' })),
    ).rejects.toMatchObject({ code: 'outside-branch' })
    expect((await previewUnits(ofNorth, by({ code: 'oak', name: 'Oak', parent: 'quay' }))).counts).toEqual({
      renamed: 1,
    })
    await expect(unitFile(ofNorth, 'ash')).rejects.toMatchObject({ code: 'outside-branch' })
    await expect(unitFile(ofNorth, 'nowhere')).rejects.toMatchObject({ status: 404 })
    expect((await exportUnits(ofNorth, 'csv', undefined)).text).not.toContain('south')
  })
})

describe('what users met, 15: codes and columns as the country writes them', () => {
  const file = (columns?: UnitHeadings): UnitSource => ({
    day: DAY,
    file: {
      format: 'csv',
      text: 'No;Facility;Zone\nHF-22/a;Gull Point;quay\n1001.5;Gull Annex;HF-22/a\n',
      ...(columns && { columns }),
    },
  })

  it('a file with other headings shows them first, is matched by hand, and the next file is understood', async () => {
    const before = await previewUnits(admin, file())
    expect(before).toMatchObject({
      lines: [],
      counts: {},
      columns: { headings: ['No', 'Facility', 'Zone'], columns: { name: 'Facility' }, missing: ['parent'] },
    })
    await expect(applyUnits(admin, file(), before.basis)).rejects.toMatchObject({
      status: 422,
      code: 'csv-no-column',
    })

    const matched = file({ code: 'No', name: 'Facility', parent: 'Zone' })
    expect((await previewUnits(admin, matched)).counts).toEqual({ new: 2 })
    const id = await apply(matched)
    expect(await previewUnits(admin, file())).toMatchObject({
      counts: { unchanged: 2 },
      columns: { columns: { code: 'No', parent: 'Zone' }, missing: [] },
    })
    expect(await pathsOf('1001.5')).toEqual([[DAY, null, 'coast.north.quay.HF-22/a.1001.5']])
    expect((await unitFile(ofNorth, 'HF-22/a')).path.at(-1)).toEqual({ code: 'HF-22/a', name: 'Gull Point' })
    expect((await listUnits(ofNorth, {})).units.map(({ code }) => code)).toEqual(
      expect.arrayContaining(['HF-22/a', '1001.5']),
    )
    await undoUnits(admin, id)
  })

  it('a branch holds its own units only, also where a code is the beginning of another', async () => {
    await apply(
      by({ code: '10', name: 'Ten', parent: 'north' }, { code: '100', name: 'Hundred', parent: 'south' }),
    )
    const inside = (code: string) =>
      sql.query<{ code: string }>('SELECT code FROM unit_latest WHERE path @> $1::text[]', [branchPath(code)])
    expect((await inside('10')).map(({ code }) => code)).toEqual(['10'])
    await expect(unitFile(personOf('officer', '10'), '100')).rejects.toMatchObject({ status: 403 })
  })

  it('the database refuses what is no code, and two codes that differ in capitals', async () => {
    const insert = (code: string) => sql.query('INSERT INTO unit (code) VALUES ($1)', [code])
    for (const code of ['', '..', '-1', 'a b', 'x'.repeat(41), 'ELM'])
      await expect(insert(code)).rejects.toThrow()
  })
})

describe('ten thousand units', () => {
  it('come in, are listed and go out', async () => {
    const lines = Array.from(
      { length: 10_000 },
      (_, at) => `f${at};Facility ${at};${at < 100 ? 'coast' : `f${at % 100}`};${41 + at / 20_000};-29`,
    )
    const source = csv(...lines)
    const preview = await previewUnits(admin, source)
    expect(preview.counts).toEqual({ new: 10_000 })
    await applyUnits(admin, source, await basisOf(sql))
    expect((await listUnits(admin, {})).units.length).toBeGreaterThan(10_000)
    // A program gets a page also when it asks for none.
    const page = await listUnits({ ...admin, role: 'machine' }, {})
    expect([page.units.length, page.more]).toEqual([1000, true])
    expect(JSON.parse((await exportUnits(admin, 'geojson', undefined)).text).features.length).toBeGreaterThan(
      10_000,
    )
  })
})
