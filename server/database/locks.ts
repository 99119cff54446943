import type { Sql } from './database'

/**
 * The locks by which pieces of work that must not run at the same time wait for one another. Each is held to
 * the end of its transaction.
 *
 * The order: settings → definitions → tree → rounds → facilities → figures, then rows (report, cell, discrepancy, case), then blocks. Who takes
 * several takes them in this order, and all of one kind in one call: then nobody waits in a circle.
 */
const KINDS = {
  migrations: 1,
  definitions: 2,
  tree: 3,
  rounds: 4,
  facilities: 5,
  figures: 6,
  jobs: 7,
  settings: 8,
  blocks: 9,
  changes: 10,
} as const
type Kind = keyof typeof KINDS

/** Names become numbers of 32 bits. Two names with one number wait for each other without need: no harm. */
async function lock(sql: Sql, kind: Kind, names: readonly string[], isShared = false): Promise<void> {
  if (!names.length) return
  // The subquery sorts and removes doubles, so that all take the same locks in the same order.
  await sql.query(
    `SELECT pg_advisory_xact_lock${isShared ? '_shared' : ''}(${KINDS[kind]}, number)
     FROM (SELECT DISTINCT hashtext(name) AS number FROM unnest($1::text[]) AS name ORDER BY number) AS sorted`,
    [names],
  )
}

/** Alone while the tables are brought up to date. */
export const lockMigrations = (sql: Sql): Promise<void> => lock(sql, 'migrations', [''])

/** Alone while a job is taken from the queue. Who takes it holds no other lock, and waits for none. */
export const lockJobs = (sql: Sql): Promise<void> => lock(sql, 'jobs', [''])

/** Alone with the time zone, the weeks and the financial year, by which rounds are made. */
export const lockSettings = (sql: Sql): Promise<void> => lock(sql, 'settings', [''])

/** Keeps them as they are. Those who make rounds do not wait for one another. */
export const holdSettings = (sql: Sql): Promise<void> => lock(sql, 'settings', [''], true)

/** Alone with the drafts and editions of these datasets, registers or lists. */
export const lockDefinitions = (sql: Sql, names: readonly string[]): Promise<void> =>
  lock(sql, 'definitions', names)

/** Alone with the tree of units, its groups and its levels. */
export const lockTree = (sql: Sql): Promise<void> => lock(sql, 'tree', [''])

/** Alone with the signatures of a round. */
export const lockRound = (sql: Sql, round: string): Promise<void> => lock(sql, 'rounds', [round])

/**
 * Alone with what is written about facilities: their reports, discrepancies and cases. Everything that writes
 * an event of a facility takes this lock first: so the numbers of its events are in the order in which they
 * are committed, and a device that has read up to a number has missed nothing below it (see
 * docs/decisions/0035).
 */
export const lockFacilities = (sql: Sql, units: readonly string[]): Promise<void> =>
  lock(sql, 'facilities', units)

/** Waits until nobody writes about these facilities, and lets nobody begin. Readers do not wait for readers. */
export const holdFacilities = (sql: Sql, units: readonly string[]): Promise<void> =>
  lock(sql, 'facilities', units, true)

/** Alone with the figures of one district in one round. */
export const lockFigures = (sql: Sql, districtRound: string): Promise<void> =>
  lock(sql, 'figures', [districtRound])

/**
 * Alone with some blocks of cases that may be one subject. Taken after the rows of the cases, and the last of
 * all.
 */
export const lockBlocks = (sql: Sql, names: readonly string[]): Promise<void> => lock(sql, 'blocks', names)

/** Alone while changes get their places. Who gives them holds no other lock. */
export const lockChanges = (sql: Sql): Promise<void> => lock(sql, 'changes', [''])
