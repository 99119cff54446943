import { USUAL_CALENDAR } from '#core/calendar/period'
import { Hash } from '@adonisjs/hash'
import { Scrypt } from '@adonisjs/hash/drivers/scrypt'
import { periodsBetween } from '#core/calendar/period'
import { parsePeriod, printPeriod } from '#core/calendar/period-text'
import { must } from '#core/result'
import { closeDatabase, database, type Sql } from '../../server/database'
import { foldWaitingCases } from '../../server/cases/known'
import { refreshEffects } from '../../server/checks/effects'
import { placeChanges } from '../../server/machines/feed'
import { UNWATCHED } from '../../server/queue/turn'
import { openRoundsAt } from '../../server/rounds/open-rounds'
import { insertDataset, insertRegisters } from '../fill/fill'
import { insertPeople, insertPlaces } from '../fill/places-and-people'
import { MONTHLY_SUMMARY } from '../monthly/edition'
import { DEMO_PASSWORD } from '../people'
import { DEMO_NOW, DEMO_TIME_ZONE } from '../scenario'
import { AT_ONCE, CASES, FOLDED_AT_ONCE, insertCases } from './cases'
import { PROVINCE_SUMMARY } from './edition'
import { FACILITIES, province, provincePeople, REGION } from './province'
import { fillMonth } from './reports'

/**
 * Fills the database of DATABASE_URL or LANTERN_DATA with a province of LANTERN_FACILITIES facilities (1,000),
 * 24 months of reports and 100 cases for each. What was filled before an interruption stays.
 */
const FIRST_MONTH = '2024-11'
const LAST_MONTH = '2026-10'
const KEY = 'largeDemo'

interface Progress {
  facilities: number
  months: number
  cases: number
}

const started = performance.now()
const say = (text: string) =>
  console.log(`${((performance.now() - started) / 1000).toFixed(0).padStart(4)} s  ${text}`)

const sql = await database()
const facilities = Number(process.env.LANTERN_FACILITIES ?? FACILITIES)
const places = province(facilities)
const clinics = places.filter(({ level }) => level === 4)

const save = (tx: Pick<Sql, 'query'>, progress: Progress) =>
  tx.query(
    'INSERT INTO setting (key, value) VALUES ($1, $2) ON CONFLICT (key) DO UPDATE SET value = EXCLUDED.value',
    [KEY, progress],
  )

async function begin(): Promise<Progress> {
  const [row] = await sql.query<{ value: Progress }>('SELECT value FROM setting WHERE key = $1', [KEY])
  if (row) {
    if (row.value.facilities !== facilities)
      throw new Error(`This database was begun with ${row.value.facilities} facilities.`)
    return row.value
  }
  const [unit] = await sql.query('SELECT 1 FROM unit LIMIT 1')
  if (unit) throw new Error('This database is not empty: nothing was filled in.')
  const progress: Progress = { facilities, months: 0, cases: 0 }
  // As the server hashes passwords: nuxt-auth-utils with its defaults.
  const hash = await new Hash(new Scrypt({})).make(DEMO_PASSWORD)
  await sql.transaction(async tx => {
    await tx.query('INSERT INTO setting (key, value) SELECT * FROM jsonb_each($1)', [
      { installation: 'West Reach', timeZone: DEMO_TIME_ZONE, districtLevel: 2, facilityLevel: 4 },
    ])
    await insertPlaces(tx, places, '2020-01-01')
    await insertPeople(tx, provincePeople(places), hash)
    await insertDataset(tx, PROVINCE_SUMMARY, REGION, `${FIRST_MONTH}-01`)
    await insertRegisters(tx)
    await openRoundsAt(tx, Date.parse(DEMO_NOW), { ...USUAL_CALENDAR, timeZone: DEMO_TIME_ZONE })
    await save(tx, progress)
  })
  return progress
}

const progress = await begin()
const months = periodsBetween(must(parsePeriod(FIRST_MONTH)), must(parsePeriod(LAST_MONTH)))
for (const [at, period] of months.entries()) {
  if (at < progress.months) continue
  await fillMonth(
    sql,
    clinics,
    `${MONTHLY_SUMMARY.dataset}~${printPeriod(period)}`,
    at,
    at === months.length - 1,
  )
  progress.months = at + 1
  await save(sql, progress)
  // The planner needs to know how large the tables have become.
  if (at % 6 === 0)
    // As the night's job does it.
    await sql.query('VACUUM ANALYZE')
  say(`${printPeriod(period)}: the reports of ${clinics.length} facilities`)
}
const wanted = (CASES * facilities) / FACILITIES
while (progress.cases < wanted) {
  const count = Math.min(AT_ONCE, wanted - progress.cases)
  await sql.transaction(async tx => {
    await insertCases(tx, clinics, progress.cases, count)
    await save(tx, { ...progress, cases: progress.cases + count })
  })
  progress.cases += count
}
// The planner knows only the empty tables of before: without it, every part would be looked for in all entries.
await sql.query('ANALYZE')
await foldWaitingCases(UNWATCHED, FOLDED_AT_ONCE[sql.engine])
say(`${wanted} cases`)
// As the jobs do it: the first who opens a list or follows the changes would wait for what all months left to do.
await refreshEffects(null)
await placeChanges(sql)
await sql.query('VACUUM ANALYZE')
await closeDatabase()
say('The province is filled.')
