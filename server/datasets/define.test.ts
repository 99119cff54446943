import '../../tests/support/use-memory'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { DraftReports } from '#core/contract/drafts'
import type { CaseRegister } from '#core/cases/register'
import { MEASLES_CASES, MEASLES_CONTACTS } from '../../demo/registers/measles'
import { fillReport } from '../../tests/support/facility'
import { makeInstallation, OCTOBER, personOf, SMALL } from '../../tests/support/installation'
import { closeDatabase, type Database } from '../database'
import { exportBundle, previewBundle, takeBundle } from '../bundles/bundle'
import { savePaper, listPapers, readPaper, removePaper } from '../definitions/papers'
import { choiceLists, saveChoiceList } from '../registers/choice-lists'
import {
  listRegisters,
  oneRegisterEdition,
  publishRegister,
  registerEditions,
  registerFile,
  saveRegister,
} from '../registers/drafts'
import { reportFile } from '../reports/file'
import { roundById } from '../rounds/round'
import { expectedUnits } from '../units/expected-units'
import { listGroups, saveGroup } from '../units/groups'
import { saveLevels } from '../units/levels'
import { listUnits } from '../units/read'
import { draftFile, publishDraft, saveDraft } from '../publishing/dataset-drafts'
import { listEditions, oneEdition } from './history'
import { pastOf } from '../reports/past'
import { saveServices, servicesOf } from '../reports/services'

const admin = personOf('administrator', null)
const officer = personOf('officer', null)
const ofNorth = personOf('officer', 'north')
const clerk = personOf('clerk', 'elm')
const plain = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T
let sql: Database
beforeAll(async () => {
  sql = await makeInstallation()
})
afterAll(closeDatabase)

describe('who reports a dataset', () => {
  const expected = async () =>
    (await expectedUnits(sql, await roundById(sql, OCTOBER), null)).map(({ code }) => code).sort()
  const publish = async (reports: DraftReports, access = officer) => {
    const { version } = await draftFile(access, 'small')
    const kept = await saveDraft(access, 'small', { version, draft: SMALL, reports })
    await publishDraft(access, 'small', kept.version)
    return kept
  }

  it('is a group, a branch, a level or single units, from a day to a day; counted once, and told against today', async () => {
    await saveGroup(admin, 'islands', {
      name: { en: 'Islands' },
      members: [
        { unit: 'ash', from: '2026-01-01', to: null },
        { unit: 'yew', from: '2026-01-01', to: '2026-10-01' },
      ],
    })
    const from = '2026-06-01'
    const kept = await publish([
      { by: 'group', group: 'islands', from, to: null },
      { by: 'unit', unit: 'oak', from, to: null },
      { by: 'unit', unit: 'ash', from, to: null },
      { by: 'unit', unit: 'yew', from, to: '2026-10-01' },
    ])
    expect(kept.reporting).toEqual({
      all: {
        count: 2,
        units: [
          { code: 'ash', name: 'ash' },
          { code: 'oak', name: 'oak' },
        ],
      },
      joins: { count: 0, units: [] },
      leaves: {
        count: 2,
        units: [
          { code: 'elm', name: 'elm' },
          { code: 'yew', name: 'yew' },
        ],
      },
      without: {
        count: 2,
        units: [
          { code: 'elm', name: 'elm' },
          { code: 'yew', name: 'yew' },
        ],
      },
    })
    expect(kept.lacks.find(({ code }) => code === 'units-without')).toMatchObject({
      weight: 'should',
      values: { count: 2, names: 'elm, yew' },
    })
    // Yew left the group, and its own line ended, on the first of October: that round does not expect it.
    expect(await expected()).toEqual(['ash', 'oak'])
    await publish([{ by: 'branch', branch: 'quay', from, to: null }])
    expect(await expected()).toEqual(['elm', 'oak', 'quay'])
    await publish([{ by: 'level', level: 4, branch: null, from, to: null }])
    expect(await expected()).toEqual(['ash', 'elm', 'oak', 'yew'])
  })

  it('is the business of those whose part of the tree holds all of it', async () => {
    const from = '2026-06-01'
    await expect(publish([{ by: 'unit', unit: 'elm', from, to: null }], ofNorth)).rejects.toMatchObject({
      code: 'not-owner',
    })
    expect((await draftFile(ofNorth, 'small')).mine).toBe(false)
    expect((await draftFile(officer, 'small')).mine).toBe(true)
    const other = (reports: DraftReports) =>
      saveDraft(ofNorth, 'other', { version: 0, draft: { ...SMALL, dataset: 'other' }, reports })
    await expect(other([{ by: 'group', group: 'islands', from, to: null }])).rejects.toMatchObject({
      code: 'outside-branch',
    })
    await expect(other([{ by: 'level', level: 4, branch: null, from, to: null }])).rejects.toMatchObject({
      code: 'outside-branch',
    })
    await expect(other([{ by: 'group', group: 'none', from, to: null }])).rejects.toMatchObject({
      code: 'no-group',
    })
    expect((await other([{ by: 'unit', unit: 'elm', from, to: null }])).reporting.all.count).toBe(1)
  })

  it('stands in the history with its edition, and any two editions are there to compare', async () => {
    expect((await listEditions('small')).map(({ number }) => number)).toEqual([4, 3, 2, 1])
    expect(await oneEdition('small', 2)).toMatchObject({ number: 2 })
    await expect(oneEdition('small', 9)).rejects.toMatchObject({ status: 404 })
    expect(
      await sql.query('SELECT reports FROM edition WHERE dataset = $1 AND number = 3', ['small']),
    ).toEqual([{ reports: [{ by: 'branch', branch: 'quay', from: '2026-06-01', to: null }] }])
  })
})

describe('a group of units', () => {
  it('is seen and changed within the branch only', async () => {
    expect((await listGroups(ofNorth))[0]!.members).toEqual([])
    await expect(saveGroup(ofNorth, 'islands', { name: { en: 'Mine' }, members: [] })).rejects.toMatchObject({
      code: 'outside-branch',
    })
    await expect(
      saveGroup(admin, 'islands', {
        name: {},
        members: [{ unit: 'ash', from: '2026-02-01', to: '2026-01-01' }],
      }),
    ).rejects.toMatchObject({ code: 'group-days' })
    await expect(
      saveGroup(admin, 'islands', { name: {}, members: [{ unit: 'nowhere', from: '2026-02-01', to: null }] }),
    ).rejects.toMatchObject({ code: 'no-unit' })
  })
})

describe('the levels of the tree', () => {
  const named = (count: number) => Array.from({ length: count }, (_, at) => ({ en: `Level ${at + 1}` }))
  it('are named by who sees the whole tree, and hold the units that there are', async () => {
    await saveLevels(admin, { levels: named(5), districtLevel: 2, facilityLevel: 4 })
    expect(await listUnits(admin, {})).toMatchObject({
      levels: named(5),
      districtLevel: 2,
      facilityLevel: 4,
    })
    await expect(
      saveLevels(ofNorth, { levels: named(4), districtLevel: 2, facilityLevel: 4 }),
    ).rejects.toMatchObject({ code: 'outside-branch' })
    await expect(
      saveLevels(admin, { levels: named(3), districtLevel: 2, facilityLevel: 3 }),
    ).rejects.toMatchObject({ code: 'levels-used' })
    await expect(
      saveLevels(admin, { levels: named(4), districtLevel: 4, facilityLevel: 3 }),
    ).rejects.toMatchObject({ code: 'levels-order' })
    await sql.query(
      `INSERT INTO signature (id, round, unit, amendment, signed_at, person, checksum, snapshot) VALUES ('019a0000-0000-7000-8000-000000000099', $1, 'north', 1, now(), $2, '', '')`,
      [OCTOBER, admin.id],
    )
    await expect(
      saveLevels(admin, { levels: named(4), districtLevel: 3, facilityLevel: 4 }),
    ).rejects.toMatchObject({ code: 'levels-signed' })
    await saveLevels(admin, { levels: named(4), districtLevel: 2, facilityLevel: 4 })
  })
})

describe('what a facility does not offer', () => {
  it('is answered so before anybody types, and what was said of earlier days stays', async () => {
    await saveServices(officer, 'small', 'elm', { from: '2026-09-01', items: ['seen', 'positive'] })
    await saveServices(officer, 'small', 'elm', { from: '2026-10-01', items: ['seen'] })
    expect((await servicesOf(officer, 'small', 'elm')).notOffered).toEqual([
      { item: 'positive', from: '2026-09-01', to: '2026-10-01' },
      { item: 'seen', from: '2026-09-01', to: null },
    ])
    const awaited = await reportFile(clerk, OCTOBER, 'elm')
    expect(awaited.cells).toEqual(
      ['seen.f', 'seen.m'].map(cell => ({ cell, version: 1, content: { kind: 'notOffered' } })),
    )
    const outcomes = await fillReport(clerk, OCTOBER, 'elm', {
      tested: 4,
      // Somebody saw a patient after all: made on the version that the file told.
      'seen.f': { value: 1, base: 1 },
    })
    expect(outcomes.map(({ outcome }) => outcome)).toEqual(['received', 'received'])
    expect(
      (await reportFile(clerk, OCTOBER, 'elm')).cells.map(({ cell, content }) => [cell, content.kind]).sort(),
    ).toEqual([
      ['seen.f', 'value'],
      ['seen.m', 'notOffered'],
      ['tested', 'value'],
    ])
    expect((await reportFile(clerk, 'small~2026-08', 'elm')).cells).toEqual([])
    await expect(
      saveServices(officer, 'small', 'elm', { from: '2026-08-01', items: [] }),
    ).rejects.toMatchObject({ code: 'services-later' })
    await expect(servicesOf(ofNorth, 'small', 'yew')).rejects.toMatchObject({ code: 'outside-branch' })
  })
})

describe('the past for trying a rule', () => {
  it('comes as columns of what is asked, of the reports that were received, in the branch', async () => {
    await sql.query(`UPDATE report SET state = 'sent' WHERE round = $1`, [OCTOBER])
    const past = await pastOf(officer, 'small', {
      cells: ['tested', 'seen.m', 'gone'],
      rounds: 2,
      lookBack: [1],
    })
    expect(past).toEqual({
      periods: [
        { period: '2026-10', lastDay: '2026-10-31' },
        { period: '2026-09', lastDay: '2026-09-30' },
        { period: '2026-08', lastDay: '2026-08-31' },
      ].map((one, at) => ({ ...one, period: past.periods[at]!.period, lastDay: past.periods[at]!.lastDay })),
      judged: 2,
      units: [{ code: 'elm', name: 'elm', path: ['coast', 'north', 'quay', 'elm'] }],
      received: past.periods.map(({ period }) => (period === '2026-10' ? 1 : 0)),
      numbers: {
        tested: past.periods.map(({ period }) => (period === '2026-10' ? 4 : null)),
        'seen.m': [null, null, null],
        gone: [null, null, null],
      },
      notKnown: {},
      notOffered: { 'seen.m': [past.periods.findIndex(({ period }) => period === '2026-10')] },
    })
    expect(
      (await pastOf(personOf('officer', 'south'), 'small', { cells: [], rounds: 1, lookBack: [0] })).units,
    ).toEqual([])
    await expect(pastOf(officer, 'nothing', { cells: [], rounds: 1, lookBack: [0] })).rejects.toMatchObject({
      status: 404,
    })
    await expect(
      pastOf(ofNorth, 'small', { cells: [], rounds: 1, lookBack: [0], unit: 'yew' }),
    ).rejects.toMatchObject({ code: 'outside-branch' })
  })
})

describe('a case register', () => {
  const measles = plain(MEASLES_CASES) as CaseRegister

  it('is kept on its version only, published as an edition for ever, and followed by the next', async () => {
    expect(
      (
        await saveRegister(officer, 'measles_cases', { version: 0, draft: { ...measles, forms: [] } })
      ).lacks.some(({ code }) => code === 'no-registration'),
    ).toBe(true)
    await expect(publishRegister(officer, 'measles_cases', 1)).rejects.toMatchObject({
      code: 'draft-not-ready',
    })
    await expect(saveRegister(admin, 'measles_cases', { version: 0, draft: measles })).rejects.toMatchObject({
      status: 409,
      code: 'draft-changed',
      problems: [{ values: { by: 'The officer' } }],
    })
    const { version } = await saveRegister(officer, 'measles_cases', { version: 1, draft: measles })
    expect(await publishRegister(officer, 'measles_cases', version)).toBe(1)
    const next = await registerFile(officer, 'measles_cases')
    expect(next).toMatchObject({ number: 2, version: 0, saved: null, differences: [] })
    expect((await registerEditions('measles_cases')).map(({ number }) => number)).toEqual([1])
    expect(await oneRegisterEdition('measles_cases', 1)).toEqual(measles)
    await expect(oneRegisterEdition('measles_cases', 2)).rejects.toMatchObject({ status: 404 })
    const changed = await saveRegister(officer, 'measles_cases', {
      version: 0,
      draft: { ...measles, line: ['full_name'] },
    })
    expect(changed.differences).toMatchObject([{ what: 'register', parts: ['line'] }])
    // A rule of a dataset may count its cases; the edition keeps what it needs to know of the register.
    const counting = {
      ...SMALL.rules[0]!,
      code: 'counting',
      expression: 'positive = count(measles_cases where classification = "confirmed")',
    }
    const dataset = await saveDraft(officer, 'counted', {
      version: 0,
      draft: { ...SMALL, dataset: 'counted', rules: [counting] },
      reports: [{ by: 'unit', unit: 'elm', from: '2026-06-01', to: null }],
    })
    expect(dataset.lacks.filter(({ weight }) => weight === 'must')).toEqual([])
    expect(dataset.draft.counts?.map(({ code }) => code)).toEqual(['measles_cases'])
    await expect(registerFile(officer, 'nothing')).rejects.toMatchObject({ status: 404 })
    await expect(publishRegister(officer, 'nothing', 1)).rejects.toMatchObject({ status: 404 })
  })

  it('of a child knows the names of its parent as that was published', async () => {
    const file = await saveRegister(officer, 'measles_contacts', {
      version: 0,
      draft: plain(MEASLES_CONTACTS) as CaseRegister,
    })
    expect(file.lacks.filter(({ weight }) => weight === 'must')).toEqual([])
    expect(file.parent?.code).toBe('measles_cases')
    expect(await listRegisters()).toMatchObject([
      { register: 'measles_cases', edition: 1, draft: { by: 'The officer' } },
      { register: 'measles_contacts', edition: null },
    ])
  })
})

describe('shared lists of choices', () => {
  const choice = (code: string, under?: string) => ({ code, label: { en: code }, ...(under && { under }) })
  it('are kept by version, tell who takes from them, and refuse what cannot be', async () => {
    await saveChoiceList(officer, 'regions', {
      version: 0,
      list: { code: 'regions', name: { en: 'Regions' }, choices: [choice('coast')] },
    })
    await saveChoiceList(officer, 'towns', {
      version: 0,
      list: { code: 'towns', name: { en: 'Towns' }, parent: 'regions', choices: [choice('quay', 'coast')] },
    })
    await expect(
      saveChoiceList(admin, 'towns', { version: 0, list: { code: 'towns', name: {}, choices: [] } }),
    ).rejects.toMatchObject({ code: 'draft-changed' })
    await expect(
      saveChoiceList(officer, 'towns', {
        version: 1,
        list: { code: 'towns', name: {}, parent: 'regions', choices: [choice('far', 'hills')] },
      }),
    ).rejects.toMatchObject({
      code: 'choice-under',
      problems: [{ values: { choice: 'far', under: 'hills' } }],
    })
    await expect(
      saveChoiceList(officer, 'towns', {
        version: 1,
        list: { code: 'towns', name: {}, choices: [choice('a'), choice('a')] },
      }),
    ).rejects.toMatchObject({ code: 'choice-double' })
    expect(
      (await choiceLists()).map(({ list, version, usedBy }) => [list.code, version, usedBy.length]),
    ).toEqual([
      ['regions', 1, 0],
      ['towns', 1, 0],
    ])
  })
})

describe('scanned paper', () => {
  const PNG = 'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAQAAAC1HAwCAAAAC0lEQVR42mNk+A8AAQUBAScY42YAAAAASUVORK5CYII='
  it('is a picture by its bytes, whatever it says it is', async () => {
    const at = { kind: 'dataset' as const, code: 'small' }
    const id = await savePaper(officer, at, PNG)
    expect(await listPapers(at)).toMatchObject([
      { id, by: 'The officer', bytes: Buffer.from(PNG, 'base64').length },
    ])
    const page = await readPaper({ ...at, id })
    expect([page.type, Buffer.from(page.bytes).toString('base64')]).toEqual(['image/png', PNG])
    await expect(readPaper({ ...at, code: 'other', id })).rejects.toMatchObject({ status: 404 })
    await expect(
      savePaper(officer, at, Buffer.from('<script>alert(1)</script>').toString('base64')),
    ).rejects.toMatchObject({ code: 'paper-no-picture' })
    await expect(
      savePaper(
        officer,
        at,
        Buffer.concat([Buffer.from([0xff, 0xd8, 0xff]), Buffer.alloc(4_000_000)]).toString('base64'),
      ),
    ).rejects.toMatchObject({ code: 'paper-large' })
    await removePaper(officer, { ...at, id })
    await expect(removePaper(officer, { ...at, id })).rejects.toMatchObject({ status: 404 })
  })
})

describe('one file of everything', () => {
  it('leaves, and enters as drafts: what is the same, what differs, what is in the way, what is refused', async () => {
    const text = await exportBundle(admin)
    const lines = await previewBundle(admin, text)
    expect(lines.map(({ what, code, verdict }) => `${what} ${code} ${verdict}`)).toEqual([
      'list regions same',
      'list towns same',
      'group islands same',
      'register measles_cases draftInTheWay',
      'dataset small same',
    ])
    const bundle = JSON.parse(text) as {
      datasets: { edition: typeof SMALL; reports: unknown[] }[]
      registers: unknown[]
      lists: { code: string; choices: unknown[] }[]
      groups: unknown[]
    }
    bundle.datasets[0]!.edition.name.en = 'Renamed'
    bundle.datasets.push({
      edition: { ...SMALL, dataset: 'brought' },
      reports: [
        { by: 'unit', unit: 'elsewhere', from: '2026-01-01', to: null },
        { by: 'unit', unit: 'elm', from: '2026-01-01', to: null },
      ],
    })
    bundle.registers.push({ code: 'broken' }, { ...MEASLES_CONTACTS, code: 'brought_contacts' })
    bundle.lists[0]!.choices = []
    const changed = JSON.stringify(bundle)
    const seen = await previewBundle(admin, changed)
    expect(seen.map(({ what, code, verdict, lost }) => `${what} ${code} ${verdict} ${lost.join()}`)).toEqual([
      'list regions changed ',
      'list towns same ',
      'group islands same ',
      'register measles_cases draftInTheWay ',
      'register broken refused ',
      'register brought_contacts new ',
      'dataset small changed ',
      'dataset brought new reports: elsewhere',
    ])
    expect(seen.find(({ code }) => code === 'broken')!.problem).toContain('body/name')
    const taken = await takeBundle(
      admin,
      changed,
      seen.map(({ what, code }) => ({ what, code })),
      true,
    )
    // The list below one that lost its choices is refused, and holds up nothing else.
    expect(taken.filter(({ verdict }) => verdict === 'refused').map(({ code }) => code)).toEqual([
      'towns',
      'broken',
    ])
    expect(taken.filter(({ verdict }) => verdict === 'taken').map(({ code }) => code)).toEqual([
      'regions',
      'islands',
      'brought_contacts',
      'small',
      'brought',
    ])
    expect(await draftFile(officer, 'small')).toMatchObject({
      version: 1,
      draft: { name: { en: 'Renamed' } },
    })
    expect((await draftFile(officer, 'brought')).reports).toEqual([
      { by: 'unit', unit: 'elm', from: '2026-01-01', to: null },
    ])
    expect((await oneEdition('small', 4)).name.en).toBe('Small')
  })

  it('takes only what is wanted and allowed, and is refused whole when it is none', async () => {
    const text = JSON.stringify({
      format: 'eastward-lantern-definitions',
      version: 1,
      groups: [
        {
          code: 'hills',
          name: { en: 'Hills' },
          members: [
            { unit: 'ash', from: '2026-01-01', to: null },
            { unit: 'gone', from: '2026-01-01', to: null },
          ],
        },
      ],
    })
    expect(await takeBundle(officer, text, [], true)).toMatchObject([
      { verdict: 'new', lost: ['members: gone'] },
    ])
    expect(await takeBundle(officer, text, [{ what: 'group', code: 'hills' }], false)).toMatchObject([
      { verdict: 'refused' },
    ])
    await expect(previewBundle(officer, '{}')).rejects.toMatchObject({ status: 422, code: 'bundle-not-one' })
  })
})
