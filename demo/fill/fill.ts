import { USUAL_CALENDAR } from '#core/calendar/period'
import { DEMO_NOW, DEMO_TIME_ZONE, scenario } from '../scenario'
import { registersCounted } from '#core/reconcile/count-figures'
import type { Edition } from '#core/report/edition'
import { DATASETS } from '../datasets'
import type { DemoEntry } from '../cases/entry'
import { PLANTED_IN_REGISTERS, plantedPairs } from '../cases/planted'
import { plantedCaseDoubts } from '../cases/planted-doubts'
import { PLANTED, PLANTED_ROUNDS } from '../planted'
import { FIRST_DAY } from '../places'
import { PLANTED_RECOUNTS } from '../visits'
import { REGISTER_EDITIONS } from '../registers/editions'
import type { Database, Sql } from '../../server/database'
import { openRoundsAt } from '../../server/rounds/open-rounds'
import { actOnCases } from './case-acts'
import { insertCases, insertContacts, insertDevices } from './cases'
import { insertContactsOfFacilities, insertNudges } from './contacts'
import { insertOutlines, insertPeople, insertPlaces } from './places-and-people'
import { insertReports } from './reports'
import { insertVisits } from './visits'
import { raiseDoubts, signEarlier, startConversations } from './work'

const PUBLISHED_AT = '2024-04-15T10:00:00Z'

async function insertSettings(sql: Sql, entries: readonly DemoEntry[]): Promise<void> {
  const settings = {
    installation: 'Varrow Coast',
    timeZone: DEMO_TIME_ZONE,
    districtLevel: 2,
    facilityLevel: 4,
    planted: [
      ...PLANTED.flatMap(({ round, unit, key, kind }) => (key ? [{ round, unit, key, kind }] : [])),
      ...PLANTED_RECOUNTS,
    ],
    plantedLater: [
      ...PLANTED.flatMap(({ unit, key, kind }) => (key ? [] : [{ unit, kind }])),
      ...PLANTED_IN_REGISTERS.flatMap(({ unit, kind }) =>
        kind === 'samePersonTwice' ? [] : [{ unit, kind }],
      ),
    ],
    plantedPairs: plantedPairs(entries),
    plantedCaseDoubts: plantedCaseDoubts(entries),
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
    `INSERT INTO edition (dataset, number, definition, published_at, others, counts)
     VALUES ($1, $2, $3, $4, $5, $6)`,
    [
      dataset,
      number,
      edition,
      PUBLISHED_AT,
      (edition.others ?? []).map(other => other.dataset),
      registersCounted(edition),
    ],
  )
  await sql.query('INSERT INTO assignment (dataset, branch, level, from_day) VALUES ($1, $2, 4, $3)', [
    dataset,
    branch,
    from,
  ])
}

/** The case registers in their editions. */
export async function insertRegisters(sql: Sql): Promise<void> {
  for (const { number, definition, publishedOn } of REGISTER_EDITIONS) {
    const { code, name } = definition
    await sql.query('INSERT INTO case_register (code, name) VALUES ($1, $2) ON CONFLICT DO NOTHING', [
      code,
      name,
    ])
    await sql.query(
      'INSERT INTO register_edition (register, number, definition, published_at) VALUES ($1, $2, $3, $4)',
      [code, number, definition, `${publishedOn}T10:00:00Z`],
    )
  }
}

/**
 * Puts the whole scenario into an empty database: places, people, datasets, the reports of 18 months, 60
 * weeks and 6 quarters, the cases that devices registered, and the work on them.
 * @param passwordHash of the password that all its people have.
 */
export async function fillDemo(database: Database, passwordHash: string): Promise<void> {
  const { places, people, reports, cases } = scenario()
  await database.transaction(async sql => {
    await insertSettings(sql, cases.entries)
    await insertPlaces(sql, places, FIRST_DAY)
    await insertOutlines(sql)
    await insertPeople(sql, people, passwordHash)
    for (const { edition, from } of DATASETS) await insertDataset(sql, edition, 'varrow_coast', from)
    await insertRegisters(sql)
    await openRoundsAt(sql, Date.parse(DEMO_NOW), { ...USUAL_CALENDAR, timeZone: DEMO_TIME_ZONE })
    // Cases first: those that come after the reports would have them judged again.
    await insertDevices(sql, cases.devices)
    await insertCases(sql, cases.entries)
    await insertContacts(sql)
    await actOnCases(sql, cases.entries, places)
    await insertReports(sql, reports)
    await raiseDoubts(
      sql,
      reports.filter(({ round }) => PLANTED_ROUNDS.has(round)),
    )
    await insertVisits(sql)
    await startConversations(sql)
    await signEarlier(sql)
    await insertContactsOfFacilities(sql, people)
    await insertNudges(sql)
  })
}
