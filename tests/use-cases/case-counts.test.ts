import '../support/use-memory'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { countedRegister } from '#core/cases/counted'
import { compileRegister } from '#core/cases/compile-register'
import type { EntryMade } from '#core/contract/desk'
import { readiness } from '#core/define/readiness'
import type { AnswerValue } from '#core/form/answer'
import type { CaseCount, Edition } from '#core/report/edition'
import { must } from '#core/result'
import { MEASLES_CASES } from '../../demo/registers/measles'
import { casesToCount } from '../../server/case-counts/cases-to-count'
import { caseCountFile, caseCounts } from '../../server/case-counts/compare'
import { mergePair } from '../../server/cases/pair-acts'
import { listPairs } from '../../server/cases/pair-list'
import { judgeAgain } from '../../server/checks/judge-again'
import { closeDatabase, type Database } from '../../server/database'
import { askAboutCount, settle } from '../../server/discrepancies/act'
import { countedCases } from '../../server/discrepancies/counted-cases'
import { listDiscrepancies } from '../../server/discrepancies/list'
import { discrepancyFile } from '../../server/discrepancies/read'
import { roundById } from '../../server/rounds/round'
import { addRegister, entryMade, takeEntries, type Values } from '../support/cases'
import { fillReport, sendReport } from '../support/facility'
import { addDataset, makeInstallation, personOf, SMALL } from '../support/installation'

const ROUND = 'held~2026-10'
const admin = personOf('administrator', null)
const north = personOf('officer', 'north')
const south = personOf('officer', 'south')
const words = (en: string) => ({ en, fr: en })
const count = (code: string, more: Partial<CaseCount> = {}): CaseCount => ({
  code,
  name: words(code),
  register: 'measles_cases',
  cells: ['tested'],
  place: 'care',
  date: 'rash_on',
  ...more,
})
const HELD: Edition = {
  ...SMALL,
  dataset: 'held',
  rules: [],
  counts: [countedRegister(must(compileRegister(MEASLES_CASES)))],
  caseCounts: [
    count('seen'),
    count('girls', { cells: ['seen.f'], where: 'sex = "f"' }),
    count('living', { cells: ['positive'], place: 'residence', residence: 'zone' }),
  ],
}
/** The same, where a difference is a doubt by itself. */
const RAISING: Edition = { ...HELD, dataset: 'raising', caseCounts: [count('seen', { raises: 'note' })] }
let sql: Database

const entry = (of: string, unit: string, values: Values): EntryMade => entryMade(of, values, { unit })
const take = (...entries: EntryMade[]) => takeEntries(sql, entries)
let number = 0
const sick = (unit: string, more: Record<string, AnswerValue> = {}) => {
  const of = uuid()
  number++
  return {
    of,
    made: entry(of, unit, {
      case_number: `ASH-26-${String(number).padStart(4, '0')}`,
      full_name: ['Ila Marsh', 'Tavi Quill', 'Orsel Brannoch', 'Wenna Drift', 'Kester Vale', 'Perran Osk'][
        number % 6
      ]!,
      sex: number % 2 ? 'f' : 'm',
      told_age: number,
      zone: 'quay',
      rash_on: '2026-10-12',
      ...more,
    }),
  }
}

beforeAll(async () => {
  sql = await makeInstallation()
  await addRegister(sql, MEASLES_CASES)
  await sql.transaction(tx => addDataset(tx, HELD, '2026-01-01'))
  await sql.transaction(tx => addDataset(tx, RAISING, '2026-01-01'))
})
afterAll(closeDatabase)

const rowOf = async (code: string, unit = 'elm', who = north) =>
  (await caseCounts(who, ROUND, {})).rows.find(row => row.count === code && row.unit.code === unit)

describe('a round against its registers', () => {
  const [first, second, late] = [sick('elm'), sick('elm'), sick('elm')]
  const elsewhere = sick('oak')
  const wrongMonth = sick('elm', { rash_on: '2026-09-30' })

  it('agrees, or one of the two is higher; only reports that are in are held', async () => {
    await take(first.made, second.made, elsewhere.made, wrongMonth.made)
    expect((await caseCounts(north, ROUND, {})).rows).toEqual([])
    await fillReport(personOf('clerk', 'elm'), ROUND, 'elm', {
      tested: 2,
      positive: 3,
      'seen.f': 2,
      'seen.m': 0,
    })
    await sendReport(personOf('clerk', 'elm'), ROUND, 'elm')
    expect(await rowOf('seen')).toMatchObject({ verdict: 'equal', reported: 2, registered: 2 })
    expect(await rowOf('girls')).toMatchObject({ verdict: 'reportHigher', reported: 2, registered: 1 })
  })

  it('a case that came after the report makes the difference, and is told', async () => {
    await take(late.made)
    expect(await rowOf('seen')).toMatchObject({
      verdict: 'registerHigher',
      registered: 3,
      agreedWhenSent: true,
    })
    const file = await caseCountFile(north, ROUND, 'seen', 'elm')
    expect(file.counted.map(({ line, before }) => [line.id, before]).sort()).toEqual(
      [
        [first.of, true],
        [second.of, true],
        [late.of, false],
      ].sort(),
    )
    expect(file.near.map(({ line, why, day }) => [line.id, why, day])).toEqual([
      [wrongMonth.of, 'otherPeriod', '2026-09-30'],
    ])
    const girls = await caseCountFile(north, ROUND, 'girls', 'elm')
    expect(girls.near.map(({ why }) => why)).toContain('condition')
  })

  it('agrees with plain SQL over the entries', async () => {
    const [plain] = await sql.query<{ count: number }>(
      `SELECT count(DISTINCT e.case_id)::int AS count FROM case_entry e JOIN case_record c ON c.id = e.case_id
       WHERE c.unit = 'elm' AND e.answers -> 'rash_on' ->> 'value' BETWEEN '2026-10-01' AND '2026-10-31'`,
    )
    expect(plain!.count).toBe(3)
    expect((await rowOf('seen'))!.registered).toBe(plain!.count)
  })

  it('counts two that were merged once', async () => {
    const values = { full_name: 'Sorrel Hyde', sex: 'f', told_age: 30, zone: 'quay', rash_on: '2026-10-20' }
    const [one, other] = [sick('elm', values), sick('elm', values)]
    await take(one.made, other.made)
    expect((await rowOf('seen'))!.registered).toBe(5)
    const [pair] = (await listPairs(admin, { case: one.of })).lines
    await mergePair(north, pair!.id, one.of)
    expect((await rowOf('seen'))!.registered).toBe(4)
  })

  it('is asked about, though it raises no doubt by itself, and goes when a new number agrees', async () => {
    const { discrepancy } = await askAboutCount(north, ROUND, 'seen', 'elm', 'The register has four.')
    const file = await discrepancyFile(north, discrepancy)
    expect(file.line).toMatchObject({ source: 'cases', state: 'asked', strength: 'explain' })
    expect(file.doubt.explanation).toMatchObject({
      left: { value: 2 },
      relation: '<',
      right: { value: 4 },
      by: 2,
    })
    expect((await caseCountFile(north, ROUND, 'seen', 'elm')).discrepancy).toBe(discrepancy)
    expect((await countedCases(north, discrepancy)).counts).toMatchObject([{ total: 4 }])
    await settle(north, discrepancy, 'corrected', 'The page of the 20th was left out.', [
      { cell: 'tested', content: { kind: 'value', value: 4 }, base: file.cells[0]!.version },
    ])
    expect(await rowOf('seen')).toMatchObject({ verdict: 'equal', reported: 4 })
    expect((await discrepancyFile(north, discrepancy)).line).toMatchObject({
      state: 'settled',
      outcome: 'corrected',
      holds: false,
    })
    await expect(askAboutCount(north, ROUND, 'seen', 'elm', 'Again?')).rejects.toMatchObject({
      status: 409,
      code: 'count-agrees',
    })
  })

  it('cannot be asked about where there is no count, no report, or no right', async () => {
    await expect(askAboutCount(north, ROUND, 'nothing', 'elm', 'Why?')).rejects.toMatchObject({ status: 404 })
    await expect(askAboutCount(north, ROUND, 'seen', 'oak', 'Why?')).rejects.toMatchObject({ status: 404 })
    await expect(askAboutCount(south, ROUND, 'seen', 'elm', 'Why?')).rejects.toMatchObject({ status: 403 })
  })

  it('raises a doubt by itself where the dataset says so, and again when a case comes', async () => {
    const round = 'raising~2026-10'
    await fillReport(personOf('clerk', 'elm'), round, 'elm', { tested: 4, positive: 0 })
    await sendReport(personOf('clerk', 'elm'), round, 'elm')
    const found = async () =>
      (await listDiscrepancies(north, { round, filter: 'unsettled' })).lines.filter(({ holds }) => holds)
    expect(await found()).toEqual([])
    await take(sick('elm').made)
    await judgeAgain()
    expect(await found()).toMatchObject([
      { source: 'cases', strength: 'note', title: { en: 'seen: the register says another number' } },
    ])
  })

  it('by residence counts who lives there, also when another district saw them, whose answers are not shown', async () => {
    await fillReport(personOf('clerk', 'oak'), ROUND, 'oak', {
      tested: 0,
      positive: 0,
      'seen.f': 0,
      'seen.m': 0,
    })
    await sendReport(personOf('clerk', 'oak'), ROUND, 'oak')
    const away = sick('ash', { zone: 'oak' })
    await take(away.made)
    expect(await rowOf('living', 'oak')).toMatchObject({
      verdict: 'registerHigher',
      reported: 0,
      registered: 1,
    })
    const file = await caseCountFile(north, ROUND, 'living', 'oak')
    expect(file.counted).toMatchObject([{ line: { id: away.of, answers: {} } }])
    expect(
      Object.keys((await caseCountFile(admin, ROUND, 'living', 'oak')).counted[0]!.line.answers),
    ).toContain('full_name')
  })

  it.each(HELD.caseCounts!.map(one => [one.code, one] as const))(
    'finds the same cases for %s among those of its days as among those of its facilities',
    async (_, held) => {
      const [shared, inPart, other] = [sick('ash'), sick('elm'), sick('elm', { rash_on: '2025-10-12' })]
      await take(shared.made, inPart.made, other.made)
      await sql.query(`UPDATE case_record SET shared_with = '{oak}' WHERE id = $1`, [shared.of])
      await sql.query(
        `UPDATE case_record SET known = jsonb_set(known, '{rash_on,value}', '"2026-10"') WHERE id = $1`,
        [inPart.of],
      )
      const round = await roundById(sql, ROUND)
      for (const branch of ['north', 'elm', 'oak', 'ash']) {
        const find = async (reports: number) =>
          (await casesToCount(sql, held, { round, branch, reports, nearDays: 0 })).map(({ id }) => id).sort()
        const [found, byDay] = [await find(1), await find(1_000)]
        expect(byDay).toEqual(found)
        expect(found).not.toContain(other.of)
        if (branch === 'elm') expect(found).toContain(inPart.of)
        if (branch === 'oak') expect(found).toContain(shared.of)
      }
    },
  )

  it('is closed beyond the border, and says what is not there', async () => {
    await expect(caseCounts(south, ROUND, { unit: 'north' })).rejects.toMatchObject({
      code: 'outside-branch',
    })
    await expect(caseCountFile(south, ROUND, 'seen', 'elm')).rejects.toMatchObject({ code: 'outside-branch' })
    await expect(caseCountFile(north, ROUND, 'gone', 'elm')).rejects.toMatchObject({ status: 404 })
    expect((await caseCounts(north, 'small~2026-10', {})).counts).toEqual([])
  })
})

describe('a count of cases in a draft', () => {
  it('lacks what it names and is not there', () => {
    const lacksOf = (more: Partial<CaseCount>) =>
      readiness({ ...HELD, caseCounts: [count('seen', more)] }, 4, ['en', 'fr'])
        .filter(({ at }) => at === 'caseCounts/seen')
        .map(({ code }) => code)
    expect(lacksOf({})).toEqual([])
    expect(lacksOf({ cells: [] })).toEqual(['count-no-cells'])
    expect(lacksOf({ cells: ['tested', 'gone'] })).toEqual(['count-cells-gone'])
    expect(lacksOf({ register: 'gone' })).toEqual(['count-no-register'])
    expect(lacksOf({ date: 'sex' })).toEqual(['count-no-date'])
    expect(lacksOf({ place: 'residence' })).toEqual(['count-no-residence'])
    expect(lacksOf({ where: 'sex = 4' })).toEqual(['count-where'])
  })
})
