import { DEMO_NOW, DEMO_TIME_ZONE, scenario } from '../scenario'
import type { Edition } from '#core/report/edition'
import { DATASETS } from '../datasets'
import { PLANTED, PLANTED_ROUNDS } from '../planted'
import { FIRST_DAY } from '../places'
import { MEASLES_CASES, MEASLES_CONTACTS } from '../registers/measles'
import { NEWBORNS } from '../registers/newborn'
import { WATER_VISITS } from '../registers/water-visit'
import type { Database, Sql } from '../../server/database'
import { openRoundsAt } from '../../server/rounds/open-rounds'
import { insertPeople, insertPlaces } from './places-and-people'
import { insertReports } from './reports'
import { raiseDoubts, signEarlier, startConversations } from './work'

const PUBLISHED_AT = '2024-04-15T10:00:00Z'

async function insertSettings(sql: Sql): Promise<void> {
  const settings = {
    installation: 'Varrow Coast',
    timeZone: DEMO_TIME_ZONE,
    districtLevel: 2,
    facilityLevel: 4,
    planted: PLANTED.map(({ round, unit, key, kind }) => ({ round, unit, key, kind })),
  }
  await sql.query('INSERT INTO setting (key, value) SELECT * FROM jsonb_each($1)', [settings])
}

/** A dataset as its first edition, for all facilities of a branch from a day on. */
export async function insertDataset(sql: Sql, edition: Edition, branch: string, from: string): Promise<void> {
  const { dataset, number, name, frequency } = edition
  await sql.query('INSERT INTO dataset (code, name, frequency) VALUES ($1, $2, $3)', [
    dataset,
    name,
    frequency,
  ])
  await sql.query(
    'INSERT INTO edition (dataset, number, definition, published_at, others) VALUES ($1, $2, $3, $4, $5)',
    [dataset, number, edition, PUBLISHED_AT, (edition.others ?? []).map(other => other.dataset)],
  )
  await sql.query('INSERT INTO assignment (dataset, branch, level, from_day) VALUES ($1, $2, 4, $3)', [
    dataset,
    branch,
    from,
  ])
}

/** The case registers, each as its first edition. */
export async function insertRegisters(sql: Sql): Promise<void> {
  for (const register of [MEASLES_CASES, MEASLES_CONTACTS, NEWBORNS, WATER_VISITS]) {
    await sql.query('INSERT INTO case_register (code, name) VALUES ($1, $2)', [register.code, register.name])
    await sql.query(
      'INSERT INTO register_edition (register, number, definition, published_at) VALUES ($1, 1, $2, $3)',
      [register.code, register, PUBLISHED_AT],
    )
  }
}

/**
 * Puts the whole scenario into an empty database: places, people, datasets, the reports of 18 months, 60
 * weeks and 6 quarters, and the work on them.
 * @param passwordHash of the password that all its people have.
 */
export async function fillDemo(database: Database, passwordHash: string): Promise<void> {
  const { places, people, reports } = scenario()
  await database.transaction(async sql => {
    await insertSettings(sql)
    await insertPlaces(sql, places, FIRST_DAY)
    await insertPeople(sql, people, passwordHash)
    for (const { edition, from } of DATASETS) await insertDataset(sql, edition, 'varrow_coast', from)
    await insertRegisters(sql)
    await openRoundsAt(sql, Date.parse(DEMO_NOW), DEMO_TIME_ZONE)
    await insertReports(sql, reports)
    await sql.query('ANALYZE')
    await raiseDoubts(
      sql,
      reports.filter(({ round }) => PLANTED_ROUNDS.has(round)),
    )
    await startConversations(sql)
    await signEarlier(sql)
  })
}
