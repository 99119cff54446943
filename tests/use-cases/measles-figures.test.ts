import '../support/use-memory'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { countedRegister } from '#core/cases/counted'
import { compileRegister } from '#core/cases/compile-register'
import { printDay } from '#core/calendar/day'
import type { Edition } from '#core/report/edition'
import type { Doubt } from '#core/rule/find-doubts'
import { must } from '#core/result'
import { randomFrom } from '../../demo/random'
import { MEASLES_CASES } from '../../demo/registers/measles'
import { closeDatabase, type Database } from '../../server/database'
import { reportFile } from '../../server/reports/file'
import { addRegister, entryMade, takeEntries, type Values } from '../support/cases'
import { fillReport, sendReport } from '../support/facility'
import { addDataset, makeInstallation, personOf, SMALL } from '../support/installation'

/**
 * The figures by which the surveillance of measles is judged: investigated within 48 hours of the notification,
 * an adequate specimen (taken within 28 days after the rash), and discarded cases (for their rate). WHO surveillance standards, from memory.
 */
const COUNTS = {
  notified: 'count(measles_cases)',
  investigated: 'count(measles_cases where days_between(notified_on, home_visited_on) between 0 and 2)',
  adequate: 'count(measles_cases where days_between(rash_on, taken_on) between 0 and 28)',
  discarded: 'count(measles_cases where classification = "discarded")',
}

/** Discarded cases in 100,000 people: at the least 2 in a year, by the same standards. */
const DISCARDED_RATE = `100000 * ${COUNTS.discarded} / tested`

const words = (en: string) => ({ en, fr: en })
const noteRule = (code: string, expression: string) => ({
  ...{ code, name: words(code), strength: 'note' as const, blanks: 'notJudged' as const },
  ...{ forClerk: words(code), forOfficer: words(code), expression },
})
const FIGURES: Edition = {
  ...SMALL,
  dataset: 'figures',
  rules: [
    ...Object.entries(COUNTS).map(([code, expression]) => noteRule(code, `tested >= ${expression}`)),
    noteRule('discarded_rate', `${DISCARDED_RATE} >= 2`),
  ],
  counts: [countedRegister(must(compileRegister(MEASLES_CASES)))],
}
let sql: Database
const OCTOBER = Math.floor(Date.parse('2026-10-01') / 86_400_000)

beforeAll(async () => {
  sql = await makeInstallation()
  await addRegister(sql, MEASLES_CASES)
  await sql.transaction(tx => addDataset(tx, FIGURES, '2026-01-01'))
  const random = randomFrom(28)
  const entries = Array.from({ length: 120 }, (_, at) => {
    const of = uuid()
    const rash = OCTOBER + random.whole(-10, 40)
    const notified = rash + random.whole(0, 4)
    const form = (code: string, values: Values) => entryMade(of, values, { form: code })
    const registration = form('registration', {
      case_number: `ELM-26-${String(at).padStart(4, '0')}`,
      rash_on: printDay(rash),
      notified_on: printDay(notified),
    })
    const specimen = form('specimen', {
      specimen_number: `S${at}`,
      taken_on: printDay(rash + random.whole(-1, 40)),
      classification: ['confirmed', 'discarded', 'probable'][random.whole(0, 2)]!,
    })
    const visit = form('home_visit', { home_visited_on: printDay(notified + random.whole(0, 5)) })
    return [
      registration,
      ...(random.share() < 0.7 ? [specimen] : []),
      ...(random.share() < 0.6 ? [visit] : []),
    ]
  }).flat()
  await takeEntries(sql, entries)
})
afterAll(closeDatabase)

/** The people of the facility's area: here the item of the small dataset holds their number. */
const POPULATION = 2_400_000

describe('the figures of measles surveillance', () => {
  it('say when too few cases are discarded for the people who live there, by the rate of SQL', async () => {
    const clerk = personOf('clerk', 'elm')
    await fillReport(clerk, 'figures~2026-10', 'elm', { tested: POPULATION })
    await sendReport(clerk, 'figures~2026-10', 'elm')
    const [doubt] = await sql.query<{ evidence: Pick<Doubt, 'explanation'> }>(
      `SELECT evidence FROM discrepancy WHERE code = 'discarded_rate'`,
    )
    const [expected] = await sql.query<{ rate: number }>(
      `SELECT 100000 * count(*)::float8 / $1 AS rate FROM (
         SELECT max(e.answers #>> '{rash_on,value}')::date AS rash, max(e.answers #>> '{classification,value}') AS class
         FROM case_entry e GROUP BY e.case_id) c
       WHERE class = 'discarded' AND rash BETWEEN '2026-10-01' AND '2026-10-31'`,
      [POPULATION],
    )
    expect(expected!.rate).toBeGreaterThan(0)
    expect(doubt!.evidence.explanation!.left!.value).toBeCloseTo(expected!.rate, 12)
  })

  it('are those of SQL over the forms as they were filled', async () => {
    const { counts } = await reportFile(personOf('clerk', 'elm'), 'figures~2026-10', 'elm')
    const counted = Object.fromEntries(
      Object.entries(COUNTS).map(([code, text]) => [code, counts!.numbers[text]![0]]),
    )
    const day = (form: string, question: string) =>
      `(max(e.answers #>> '{${question},value}') FILTER (WHERE e.form = '${form}'))::date`
    const [expected] = await sql.query<Record<keyof typeof COUNTS, number>>(
      `SELECT count(*)::int AS notified,
         count(*) FILTER (WHERE visited - notified BETWEEN 0 AND 2)::int AS investigated,
         count(*) FILTER (WHERE taken - rash BETWEEN 0 AND 28)::int AS adequate,
         count(*) FILTER (WHERE class = 'discarded')::int AS discarded
       FROM (
         SELECT ${day('registration', 'rash_on')} AS rash,
           ${day('registration', 'notified_on')} AS notified,
           ${day('specimen', 'taken_on')} AS taken,
           ${day('home_visit', 'home_visited_on')} AS visited,
           max(e.answers #>> '{classification,value}') AS class
         FROM case_entry e GROUP BY e.case_id) c
       WHERE rash BETWEEN '2026-10-01' AND '2026-10-31'`,
    )
    expect(counted).toEqual(expected)
    for (const figure of Object.values(expected!)) expect(figure).toBeGreaterThan(5)
    expect(expected!.adequate).toBeLessThan(expected!.notified)
  })
})
