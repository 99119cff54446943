import { numberOf } from '#core/report/cell'
import { cellsOf } from '#core/report/edition'
import type { CellMap } from '#core/report/table'
import { recheck } from '../../server/checks/recheck'
import type { Database, Sql } from '../../server/database'
import { columnsOf } from '../../server/reports/cells'
import { reportPlace } from '../../server/reports/place'
import { countAnswers } from '../../server/reports/write-cells'
import { placeReports } from '../../server/units/latest'
import { PERSON_ID } from '../fill/places-and-people'
import { EVERYTHING } from '../fill/work'
import { MONTHLY_SUMMARY } from '../monthly/edition'
import { characterOf, figuresOf, type Character } from '../monthly/figures'
import type { Kind, Place } from '../places'
import { randomFrom, type Random } from '../random'

const CELLS = cellsOf(MONTHLY_SUMMARY).map(({ key }) => key)
/** Of so many reports one has a slip of the pen, and so many of them are missing in the newest month. */
const SLIPS = 20
const MISSING = 8

interface Filled {
  unit: string
  cells: CellMap
  state: 'accepted' | 'sent' | 'draft'
  hasSlip: boolean
}

/**
 * The reports of one month: the same for the same month and facilities, whatever was filled before. The newest
 * month is as on its seventh day: most are in, some are missing or drafts.
 */
function monthOf(facilities: readonly Place[], month: number, isNewest: boolean): Filled[] {
  const random = randomFrom(41_296 + month)
  return facilities.flatMap((place, at): Filled[] => {
    const character = characterFor(place, at)
    const cells = { ...figuresOf(character, month, new Map(), random) }
    const hasSlip = (at + month) % SLIPS === 0
    const slip = numberOf(cells['new_visits.a15plus.f'])
    // A digit too many.
    if (hasSlip && slip !== null) cells['new_visits.a15plus.f'] = { kind: 'value', value: (slip + 1) * 10 }
    const isMissing = isNewest ? (at + month) % MISSING === 0 : random.share() < 0.01
    if (isMissing) return []
    return [{ unit: place.code, cells, state: stateOf(at, isNewest, hasSlip), hasSlip }]
  })
}

const stateOf = (at: number, isNewest: boolean, hasSlip: boolean): Filled['state'] =>
  !isNewest ? 'accepted' : at % 30 === 1 ? 'draft' : hasSlip || at % 2 ? 'sent' : 'accepted'

const characterFor = (place: Place, at: number): Character =>
  characterOf(place.kind as Kind, randomFrom(900 + at) satisfies Random)

/** What each facility might report in the newest month instead, without a slip: by its code. For the bench. */
export function otherFigures(facilities: readonly Place[], month: number): Map<string, CellMap> {
  const random = randomFrom(77_003)
  return new Map(
    facilities.map((place, at) => [place.code, figuresOf(characterFor(place, at), month, new Map(), random)]),
  )
}

/** Writes one month's reports, cells and events in a few statements. */
async function insertMonth(sql: Sql, round: string, reports: readonly Filled[]): Promise<void> {
  await sql.query(
    `INSERT INTO report (round, unit, edition, state, first_received_at, received_at)
     SELECT $1, g.unit, $2, g.state, CASE WHEN g.state <> 'draft' THEN at END, CASE WHEN g.state <> 'draft' THEN at END
     FROM round r, unnest($3::text[], $4::text[]) WITH ORDINALITY AS g (unit, state, place),
       LATERAL (SELECT r.due_at - make_interval(mins => (g.place * 7 % 7000)::int) AS at) t WHERE r.id = $1`,
    [round, MONTHLY_SUMMARY.number, reports.map(({ unit }) => unit), reports.map(({ state }) => state)],
  )
  // Pieces: one statement with a million values would need all of them in memory twice.
  for (let from = 0; from < reports.length; from += 250)
    await insertCells(sql, round, reports.slice(from, from + 250))
  await sql.query(
    `INSERT INTO cell_event (id, report, cell, at, person, origin, old, new)
     SELECT md5(v.report || ' ' || v.cell)::uuid, v.report, v.cell, coalesce(p.received_at, r.opens_at), ${PERSON_ID("'clerk.' || p.unit")}, 'desk',
       '{"kind":"blank"}', CASE WHEN v.kind = 'value' THEN jsonb_build_object('kind', 'value', 'value', v.value) ELSE jsonb_build_object('kind', v.kind) END
     FROM report p JOIN round r ON r.id = p.round JOIN cell_value v ON v.report = p.id WHERE p.round = $1`,
    [round],
  )
  await sql.query(
    `INSERT INTO report_event (report, at, person, from_state, to_state)
     SELECT p.id, p.received_at, ${PERSON_ID("'clerk.' || p.unit")}, 'draft', 'sent' FROM report p WHERE p.round = $1 AND p.state <> 'draft'`,
    [round],
  )
  await placeReports(sql, 'p.round = $1', [round])
  await countAnswers(sql, 'p.round = $1', [round])
}

async function insertCells(sql: Sql, round: string, reports: readonly Filled[]): Promise<void> {
  const columns = reports.flatMap(({ cells }) =>
    CELLS.map(cell => columnsOf(cells[cell] ?? { kind: 'blank' })),
  )
  await sql.query(
    `INSERT INTO cell_value (report, cell, kind, value)
     SELECT p.id, g.cell, g.kind, g.value
     FROM unnest($2::text[], $3::text[], $4::text[], $5::float8[]) AS g (unit, cell, kind, value) JOIN report p ON p.round = $1 AND p.unit = g.unit
     WHERE g.kind <> 'blank'`,
    [
      round,
      reports.flatMap(({ unit }) => CELLS.map(() => unit)),
      reports.flatMap(() => CELLS),
      columns.map(({ kind }) => kind),
      columns.map(({ value }) => value ?? null),
    ],
  )
}

/** Finds the doubts about the reports with a slip, as the server does. Those of earlier months are settled. */
async function raiseDoubts(database: Database, round: string, units: string[], isNewest: boolean) {
  await database.transaction(async sql => {
    for (const unit of units) {
      const place = await reportPlace(sql, EVERYTHING, round, unit)
      if (place.report?.state !== 'draft') await recheck(sql, [{ ...place, report: place.report! }], null)
    }
    if (!isNewest)
      await sql.query(
        `UPDATE discrepancy d SET state = 'settled', outcome = 'explained' FROM report p WHERE p.id = d.report AND p.round = $1`,
        [round],
      )
  })
}

/** One month, whole or not at all. */
export async function fillMonth(
  database: Database,
  facilities: readonly Place[],
  round: string,
  month: number,
  isNewest: boolean,
): Promise<void> {
  const reports = monthOf(facilities, month, isNewest)
  await database.transaction(sql => insertMonth(sql, round, reports))
  await raiseDoubts(
    database,
    round,
    reports.filter(({ hasSlip }) => hasSlip).map(({ unit }) => unit),
    isNewest,
  )
}
