import '../support/use-memory'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { countedRegister } from '#core/cases/counted'
import { compileRegister } from '#core/cases/compile-register'
import type { AnswerValue } from '#core/form/answer'
import type { Edition } from '#core/report/edition'
import { must } from '#core/result'
import type { RuleDefinition } from '#core/rule/definition'
import { MEASLES_CASES } from '../../demo/registers/measles'
import { mergePair, undoPair } from '../../server/cases/pair-acts'
import { listPairs } from '../../server/cases/pair-list'
import { isToJudge, judgeAgain } from '../../server/checks/judge-again'
import { closeDatabase, type Database } from '../../server/database'
import { ask, settle } from '../../server/discrepancies/act'
import { countedCases } from '../../server/discrepancies/counted-cases'
import { listDiscrepancies } from '../../server/discrepancies/list'
import { discrepancyFile } from '../../server/discrepancies/read'
import { reportFile } from '../../server/reports/file'
import { pastOf } from '../../server/reports/past'
import { addRegister, entryMade, filled, takeEntries } from '../support/cases'
import { fillReport, sendReport } from '../support/facility'
import { visits } from '../support/visits'
import { addDataset, makeInstallation, personOf, SMALL } from '../support/installation'

const ROUND = 'counting~2026-10'
const GIRLS = 'count(measles_cases where sex = "f")'
const officer = personOf('officer', 'north')
const clerk = personOf('clerk', 'elm')
const words = (en: string) => ({ en, fr: en })
const rule: RuleDefinition = {
  code: 'girls_within',
  name: words('Fewer tested than girls in the register'),
  expression: `tested >= ${GIRLS}`,
  strength: 'explain',
  blanks: 'notJudged',
  forClerk: words('The register has more.'),
  forOfficer: words('The register has more.'),
}
const COUNTING: Edition = {
  ...SMALL,
  dataset: 'counting',
  rules: [rule],
  counts: [countedRegister(must(compileRegister(MEASLES_CASES)))],
}
/** A rule that counts cases whose day may be known in part. */
const VISITING: Edition = {
  ...COUNTING,
  dataset: 'visiting',
  rules: [{ ...rule, expression: 'tested >= count(home_visits)' }],
  counts: [countedRegister(must(compileRegister(visits())))],
}
let sql: Database
let number = 0
/** A girl with measles, her rash on a day of October. */
function sick(unit: string, more: Record<string, AnswerValue> = {}) {
  const of = uuid()
  number++
  const values = {
    case_number: `ELM-26-${String(number).padStart(4, '0')}`,
    full_name: ['Ila Marsh', 'Tavi Quill', 'Orsel Brannoch', 'Wenna Drift'][number % 4]!,
    sex: 'f',
    told_age: number,
    zone: 'quay',
    rash_on: '2026-10-12',
    ...more,
  }
  return entryMade(of, values, { unit })
}
const doubts = async () =>
  (await listDiscrepancies(officer, { round: ROUND, filter: 'unsettled' })).lines.filter(({ holds }) => holds)
const onlyDoubt = async () => (await doubts())[0]!.id
const figure = async () => (await reportFile(clerk, ROUND, 'elm')).counts?.numbers[GIRLS]?.[0]

beforeAll(async () => {
  sql = await makeInstallation()
  await addRegister(sql, MEASLES_CASES)
  await addRegister(sql, visits())
  await sql.transaction(tx => addDataset(tx, COUNTING, '2026-01-01'))
  await sql.transaction(tx => addDataset(tx, VISITING, '2026-01-01'))
})
afterAll(closeDatabase)

describe('a rule that counts cases, at the district', () => {
  const cases = [sick('elm'), sick('elm')]

  it('sends the count with the report, of its own unit and period only', async () => {
    await takeEntries(sql, [
      ...cases,
      sick('oak'),
      sick('elm', { rash_on: '2026-09-30' }),
      sick('elm', { sex: 'm' }),
    ])
    expect(await figure()).toBe(2)
    // It was not sent yet: there is nothing to judge.
    expect(await isToJudge()).toBe(false)
  })

  it('is judged when the report is sent', async () => {
    await fillReport(clerk, ROUND, 'elm', { tested: 2, positive: 0 })
    await sendReport(clerk, ROUND, 'elm')
    expect(await doubts()).toEqual([])
  })

  it('is judged again when a case comes later, and says how it counts', async () => {
    await takeEntries(sql, [sick('elm')])
    expect(await isToJudge()).toBe(true)
    expect((await judgeAgain()).numbers).toMatchObject({ judged: 1, failed: 0 })
    const file = await discrepancyFile(officer, await onlyDoubt())
    expect(file.doubt.explanation).toMatchObject({ left: { value: 2 }, right: { value: 3 }, by: 1 })
    expect(file.counts![GIRLS]!.en).toMatch(/^the number of .* where .* is “.*”$/)
  })

  it('opens to the cases that it counts, and is closed to another branch', async () => {
    const id = await onlyDoubt()
    const { counts } = await countedCases(officer, id)
    expect(counts).toMatchObject([{ text: GIRLS, total: 3 }])
    expect(counts[0]!.lines.map(line => line.id)).toEqual(
      expect.arrayContaining(cases.map(entry => entry.case)),
    )
    await expect(countedCases(personOf('officer', 'south'), id)).rejects.toMatchObject({ status: 403 })
  })

  it('lapses when another case comes, because what was explained is another number now', async () => {
    const id = await onlyDoubt()
    await ask(officer, id, 'Which one is not in the report?')
    await settle(officer, id, 'dismissed', 'The third child is of Oak.', [])
    expect(await doubts()).toEqual([])
    await takeEntries(sql, [sick('elm')])
    await judgeAgain()
    expect(await doubts()).toMatchObject([{ id, state: 'lapsed' }])
  })

  it('holds again when a new entry says that two of them are no such cases', async () => {
    const [first, second] = cases
    await takeEntries(sql, [
      ...[first!, second!].map(entry => ({
        ...entry,
        id: uuid(),
        answers: { ...entry.answers, ...filled({ sex: 'm' }) },
        corrects: entry.id,
      })),
    ])
    expect(await figure()).toBe(2)
    await judgeAgain()
    expect(await doubts()).toEqual([])
  })

  it('counts two that are merged once, and twice when they are taken apart', async () => {
    const twin = { full_name: 'Sorrel Hyde', sex: 'f', told_age: 30, case_number: 'ELM-26-0900' }
    const [one, other] = [sick('elm', twin), sick('elm', { ...twin, case_number: 'ELM-26-0901' })]
    await takeEntries(sql, [one, other])
    await judgeAgain()
    expect(await figure()).toBe(4)
    const [pair] = (await listPairs(personOf('administrator', null), { case: one.case })).lines
    await mergePair(officer, pair!.id, one.case)
    expect(await figure()).toBe(3)
    await judgeAgain()
    expect((await discrepancyFile(officer, await onlyDoubt())).doubt.explanation).toMatchObject({ by: 1 })
    await undoPair(officer, pair!.id)
    await judgeAgain()
    expect((await discrepancyFile(officer, await onlyDoubt())).doubt.explanation).toMatchObject({ by: 2 })
  })

  it('agrees with plain SQL over what is known', async () => {
    const [row] = await sql.query<{ count: number }>(
      `SELECT count(*)::int AS count FROM case_record WHERE unit = 'elm' AND merged_into IS NULL
         AND known -> 'sex' ->> 'value' = 'f'
         AND known -> 'rash_on' ->> 'value' BETWEEN '2026-10-01' AND '2026-10-31'`,
    )
    expect(await figure()).toBe(row!.count)
  })
})

describe('a case of which only the month, or the year, is known', () => {
  it('counts where its day is taken to be, as on a device', async () => {
    const visit = (visited_on: string) =>
      entryMade(uuid(), { visited_name: 'Ila Marsh', visited_on }, { register: 'home_visits', form: 'visit' })
    await takeEntries(sql, ['2026-10', '2026-07-01', '2026', '2025'].map(visit))
    const of = async (period: string) =>
      (await reportFile(clerk, `visiting~${period}`, 'elm')).counts!.numbers['count(home_visits)']![0]
    expect(await of('2026-10')).toBe(1)
    // A year alone stands for its first of July.
    expect(await of('2026-07')).toBe(2)
    expect(await of('2026-09')).toBe(0)
  })
})

describe('trying such a rule on the past', () => {
  it('has the counts of each facility and round', async () => {
    const past = await pastOf(officer, 'counting', {
      cells: ['tested'],
      counts: [GIRLS, 'count(nothing)'],
      rounds: 3,
      lookBack: [1],
    })
    const column = past.counts![GIRLS]!
    const of = (unit: string, period: string) =>
      column[
        past.periods.findIndex(one => one.period === period) * past.units.length +
          past.units.findIndex(({ code }) => code === unit)
      ]
    expect(of('elm', '2026-10')).toBe(await figure())
    expect(of('elm', '2026-09')).toBe(1)
    expect(past.counts).not.toHaveProperty('count(nothing)')
  })
})
