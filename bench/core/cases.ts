import { PGlite } from '@electric-sql/pglite'
import { printDay } from '#core/calendar/day'
import { foldCases, type Entry } from '#core/cases/fold'
import { inTurns, measurement, type Measurement } from '../measure'
import { randomWhole } from './data'

const ENTRIES = 100_000
const FOR_EACH = 4
const QUESTIONS = 10
/** Of the questions of a register, so many does one form answer. */
const ANSWERED = 6
const WORK = 'folding 100,000 entries into 25,000 cases'
const SECOND = 1_000
const FIRST_DAY = 20_000

/** Forms of cases in the order in which they were received, some days after each other. */
function entriesMade(): Entry[] {
  const random = randomWhole(16)
  return Array.from({ length: ENTRIES }, (_, at) => {
    const day = FIRST_DAY + random(0, 500)
    return {
      id: `e${at}`,
      case: `c${at % (ENTRIES / FOR_EACH)}`,
      form: 'visit',
      answers: Object.fromEntries(
        Array.from({ length: ANSWERED }, () => [
          `q${random(0, QUESTIONS - 1)}`,
          { kind: 'value' as const, value: random(0, 1_000) },
        ]),
      ),
      happenedAt: day * 86_400_000,
      receivedAt: at,
    }
  })
}

/** What is known of each case: from its forms, beside what SQL says that was answered last. */
export async function cases(): Promise<Measurement[]> {
  const entries = entriesMade()
  const database = await PGlite.create()
  await database.exec('CREATE TABLE entry (of text, seq int, happened date, answers jsonb)')
  await database.query(
    'INSERT INTO entry SELECT * FROM unnest($1::text[], $2::int[], $3::date[], $4::jsonb[])',
    [
      entries.map(entry => entry.case),
      entries.map((_, at) => at),
      entries.map(({ happenedAt }) => printDay(happenedAt / 86_400_000)),
      entries.map(({ answers }) => answers),
    ],
  )
  const { ours, sql } = await inTurns(
    {
      ours: () => foldCases(entries),
      sql: () =>
        database.query(
          `SELECT of, jsonb_object_agg(key, value) FROM (
             SELECT DISTINCT ON (of, key) of, key, value FROM entry, jsonb_each(answers)
             ORDER BY of, key, happened DESC, seq DESC) latest GROUP BY of`,
        ),
    },
    3,
  )
  await database.close()
  return [
    measurement(WORK, ours, SECOND, 'one second', 'ms', 1),
    measurement(WORK, ours, sql, 'one statement in PGlite, without corrections', 'ms', 1),
  ]
}
