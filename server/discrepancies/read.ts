import type { DiscrepancyFile, DiscrepancyLine } from '#core/contract/discrepancies'
import { LANGUAGES } from '#core/languages'
import { RANGE_PERIODS } from '#core/quality/expected-range'
import { BLANK, numberOf } from '#core/report/cell'
import { axesOf, nameCell } from '#core/report/edition'
import type { Cure } from '#core/rollup/cures'
import { shifts, type DistrictFigures } from '#core/rollup/effect'
import type { Doubt } from '#core/rule/find-doubts'
import { titleOfDoubt } from '#core/rule/title'
import { filledBy, mustHold, unitAsked, type Access } from '../access/access'
import { editionOf, type ReadyEdition } from '../datasets/editions'
import { database, type Sql } from '../database'
import { lockFacilities } from '../database/locks'
import { figuresForEffects } from '../reports/district-figures'
import { notFound, outsideBranch } from '../refusal'
import { cellsOfReports, historyBefore } from '../reports/cells'
import { openConflicts } from '../reports/conflicts'
import { openedRounds, roundById, roundRef, type Round } from '../rounds/round'
import { districtOf, settings } from '../settings'
import { expectedUnits, expectedUnitsOf, type ExpectedUnit } from '../units/expected-units'

/** A discrepancy as the database keeps it. */
export interface DiscrepancyRow {
  id: string
  report: number
  round: string
  unit: string
  edition: number
  reportState: DiscrepancyFile['reportState']
  source: 'rule' | 'range'
  code: string
  strength: DiscrepancyLine['strength']
  cells: string[]
  state: DiscrepancyLine['state']
  outcome: DiscrepancyLine['outcome']
  holds: boolean
  evidence: Doubt & { cures: Cure[] }
}

const SELECT = `SELECT d.id, d.report, p.round, p.unit, p.edition, p.state AS "reportState", d.source, d.code, d.strength,
    d.cells, d.state, d.outcome, d.holds, d.evidence
  FROM discrepancy d JOIN report p ON p.id = d.report`

function lineOf(
  row: DiscrepancyRow,
  unit: ExpectedUnit,
  round: Round,
  ready: ReadyEdition,
  figures: DistrictFigures,
): DiscrepancyLine {
  const [largest] = row.holds ? shifts(row.evidence.cures, ready.cellByKey, figures) : []
  return {
    id: row.id,
    unit: { code: unit.code, name: unit.name },
    round: roundRef(round),
    source: row.source,
    strength: row.strength,
    state: row.state,
    outcome: row.outcome,
    holds: row.holds,
    title: titleOfDoubt(ready.edition, row.evidence),
    effect: largest?.share ?? null,
  }
}

const WEIGHT = { mustFix: 0, explain: 1, note: 2 }

/** Effect first; among equals what must be fixed, then by place, so that the order is the same each time. */
const byEffect = (one: DiscrepancyLine, other: DiscrepancyLine) =>
  (other.effect ?? -1) - (one.effect ?? -1) ||
  WEIGHT[one.strength] - WEIGHT[other.strength] ||
  one.unit.name.localeCompare(other.unit.name) ||
  one.id.localeCompare(other.id)

/** The discrepancies of some rounds within a branch. */
async function linesOfRounds(
  sql: Pick<Sql, 'query'>,
  access: Access,
  rounds: readonly Round[],
  branch: string | null,
): Promise<DiscrepancyLine[]> {
  const roundOf = new Map(rounds.map(round => [round.id, round]))
  const expected = await expectedUnitsOf(sql, rounds, branch)
  const unitAt = new Map(
    [...expected].flatMap(([round, units]) => units.map(unit => [`${round} ${unit.code}`, unit] as const)),
  )
  const rows = await sql.query<DiscrepancyRow>(
    `${SELECT} WHERE p.round = ANY($1::text[]) AND p.unit = ANY($2::text[]) AND ($3::uuid IS NULL OR ${filledBy('p', '$3')})`,
    [
      rounds.map(({ id }) => id),
      [...new Set([...unitAt.values()].map(({ code }) => code))],
      access.ownOnly ? access.id : null,
    ],
  )
  const all = await settings()
  /** By round and district: figures are read once for all doubts about them. */
  const figures = new Map<string, DistrictFigures>()
  const lines: DiscrepancyLine[] = []
  for (const row of rows) {
    // A unit that is expected in some of the rounds only.
    const unit = unitAt.get(`${row.round} ${row.unit}`)
    if (!unit) continue
    const round = roundOf.get(row.round)!
    const ready = await editionOf(sql, round.dataset, row.edition)
    const district = districtOf(unit.path, all)
    const key = `${round.id} ${district}`
    if (!figures.has(key)) figures.set(key, await figuresForEffects(sql, round, district, ready))
    lines.push(lineOf(row, unit, round, ready, figures.get(key)!))
  }
  return lines
}

/** Discrepancies of a round (else of every opened round) within a branch, largest effect on its district first. */
export async function listDiscrepancies(
  access: Access,
  asked: { round?: string; unit?: string },
): Promise<{ lines: DiscrepancyLine[] }> {
  const sql = await database()
  const branch = asked.unit || access.branch ? (await unitAsked(access, asked.unit)).code : null
  const rounds = asked.round ? [await roundById(sql, asked.round)] : await openedRounds(sql)
  return { lines: (await linesOfRounds(sql, access, rounds, branch)).sort(byEffect) }
}

/** A discrepancy's row and place, for a person. @throws Refusal 404, 403 */
export async function findDiscrepancy(sql: Pick<Sql, 'query'>, access: Access, id: string) {
  const [row] = await sql.query<DiscrepancyRow>(`${SELECT} WHERE d.id = $1`, [id])
  if (!row) throw notFound('discrepancy')
  const round = await roundById(sql, row.round)
  const unit = (await expectedUnits(sql, round, row.unit)).find(({ code }) => code === row.unit)
  if (!unit) throw notFound('discrepancy')
  mustHold(access, unit.path)
  if (
    access.ownOnly &&
    !(
      await sql.query(`SELECT 1 FROM report p WHERE p.id = $1 AND ${filledBy('p', '$2')}`, [
        row.report,
        access.id,
      ])
    ).length
  )
    throw outsideBranch()
  return { row, round, unit, ready: await editionOf(sql, round.dataset, row.edition) }
}

/** The same, alone with its facility for the rest of the transaction: of several who settle it, one does. */
export async function lockedDiscrepancy(tx: Sql, access: Access, id: string) {
  const [place] = await tx.query<{ unit: string }>(
    'SELECT p.unit FROM discrepancy d JOIN report p ON p.id = d.report WHERE d.id = $1',
    [id],
  )
  if (place) await lockFacilities(tx, [place.unit])
  return findDiscrepancy(tx, access, id)
}

/** Names of the items and bands that a doubt speaks of. */
function itemsNamed(ready: ReadyEdition, evidence: Doubt): DiscrepancyFile['items'] {
  const parts = [...(evidence.explanation?.left.parts ?? []), ...(evidence.explanation?.right?.parts ?? [])]
  const terms = parts.flatMap(part => (typeof part === 'string' ? [] : [part.item]))
  const codes = new Set([...terms, ...evidence.cells.map(cell => ready.cellByKey.get(cell)!.item.code)])
  const items = ready.edition.sections.flatMap(section => section.items).filter(({ code }) => codes.has(code))
  return Object.fromEntries(
    items.map(item => {
      // By the code alone, and with its axis: two axes may have a band of one code.
      const bands = axesOf(ready.edition, item).flatMap(axis =>
        axis.bands.flatMap(
          band =>
            [
              [band.code, band.name],
              [`${axis.code}.${band.code}`, band.name],
            ] as const,
        ),
      )
      return [item.code, { item, bands: Object.fromEntries(bands) }]
    }),
  )
}

/** One discrepancy with its evidence, the last 13 periods of its cells, its effect and its thread. */
export async function discrepancyFile(access: Access, id: string): Promise<DiscrepancyFile> {
  const sql = await database()
  const { row, round, unit, ready } = await findDiscrepancy(sql, access, id)
  const district = districtOf(unit.path, await settings())
  const figures = await figuresForEffects(sql, round, district, ready)
  const [districtUnit] = await sql.query<{ name: string }>('SELECT name FROM unit_latest WHERE code = $1', [
    district,
  ])
  const doubted = row.cells.map(key => ready.cellByKey.get(key)!)
  const history = await historyBefore(
    sql,
    round,
    unit.code,
    { cells: doubted, lookBack: [RANGE_PERIODS] },
    access.ownOnly ? access.id : null,
  )
  const now = (await cellsOfReports(sql, [row.report])).get(row.report) ?? {}
  const versions = new Map(
    (
      await sql.query<{ cell: string; version: number }>(
        'SELECT cell, version FROM cell_value WHERE report = $1',
        [row.report],
      )
    ).map(({ cell, version }) => [cell, version]),
  )
  const thread = await sql.query<DiscrepancyFile['thread'][number]>(
    `SELECT e.at, p.display_name AS by, e.act, e.text FROM discrepancy_event e LEFT JOIN person p ON p.id = e.person
     WHERE e.discrepancy = $1 ORDER BY e.seq`,
    [id],
  )
  const conflicts = await openConflicts(sql, row.report)
  const rule =
    row.source === 'rule' ? ready.rules.find(({ rule: { code } }) => code === row.code)!.rule : undefined
  const { range, cures, ...rest } = row.evidence
  return {
    line: lineOf(row, unit, round, ready, figures),
    district: { code: district, name: districtUnit?.name ?? district },
    reportState: row.reportState,
    doubt: { ...rest, ...(range && { range }) },
    sentence: rule?.forOfficer ?? {},
    forClerk: rule?.forClerk ?? {},
    items: itemsNamed(ready, row.evidence),
    cells: doubted.map(cell => {
      const { key } = cell
      const trend = [...history.numbers[key]!.toReversed(), numberOf(now[key])]
      const name = Object.fromEntries(LANGUAGES.map(language => [language, nameCell(cell, language)]))
      return {
        cell: key,
        name,
        number: cell.item.number,
        content: now[key] ?? BLANK,
        version: versions.get(key) ?? 0,
        trend,
        conflicts: conflicts.filter(one => one.cell === key),
      }
    }),
    periods: [...history.periods.toReversed(), round.period],
    range: range ? { low: range.low, high: range.high } : null,
    shifts: row.holds ? shifts(cures, ready.cellByKey, figures) : [],
    thread,
  }
}
