import type { DiscrepancyFile, DiscrepancyLine, Thread } from '#core/contract/discrepancies'
import { groupBy } from '#core/group-by'
import { countWords } from '#core/expression/in-words'
import { LANGUAGES } from '#core/languages'
import { RANGE_PERIODS } from '#core/quality/expected-range'
import { BLANK, numberOf } from '#core/report/cell'
import { axesOf, nameCell, type Item } from '#core/report/edition'
import type { Cure } from '#core/rollup/cures'
import { shifts } from '#core/rollup/effect'
import type { Doubt } from '#core/rule/find-doubts'
import { enteredBy, filledBy, mustHold, notShared, seesRound, type Access } from '../access/access'
import { keptFigures, refreshEffects } from '../checks/effects'
import { editionOf, type ReadyEdition } from '../datasets/editions'
import { mustSeeCases } from '../cases/shared'
import { database, type Sql } from '../database'
import { lockFacilities } from '../database/locks'
import { notFound, outsideBranch } from '../refusal'
import { historiesBefore, storedCellsOf } from '../reports/cells'
import { openConflicts } from '../reports/conflicts'
import { roundRef, roundsById, type Round } from '../rounds/round'
import { districtOf, settings, type Settings } from '../settings'
import { unitNames } from '../units/latest'

/** A discrepancy as the database keeps it. */
export interface DiscrepancyRow {
  id: string
  report: number
  round: string
  unit: string
  edition: number
  reportState: DiscrepancyFile['reportState']
  source: Doubt['source']
  code: string
  strength: DiscrepancyLine['strength']
  cells: string[]
  state: DiscrepancyLine['state']
  outcome: DiscrepancyLine['outcome']
  holds: boolean
  evidence: Doubt & { cures: Cure[] }
  /** The unit as it was in the round's period; no path when the round no longer expects it. */
  unitName: string
  path: string[] | null
  /** As it was computed last (see checks/effects.ts). */
  effect: number | null
}

/** For queries: the columns of a row, of a discrepancy `d`, its report `p` and its effect `e`. */
export const DISCREPANCY_COLUMNS = `d.id, d.report, d.round, p.unit, p.edition, p.state AS "reportState", d.source, d.code, d.strength,
  d.cells, d.state, d.outcome, d.holds, d.evidence, p.unit_name AS "unitName", p.path, e.effect`
export const DISCREPANCY_TABLES =
  'discrepancy d JOIN report p ON p.id = d.report LEFT JOIN discrepancy_effect e ON e.discrepancy = d.id'

/** A discrepancy as lists show it. */
export const lineOf = (row: DiscrepancyRow, round: Round, ready: ReadyEdition): DiscrepancyLine => ({
  id: row.id,
  unit: { code: row.unit, name: row.unitName },
  round: roundRef(round),
  source: row.source,
  strength: row.strength,
  state: row.state,
  outcome: row.outcome,
  holds: row.holds,
  title: ready.titleOf(row.evidence),
  effect: row.effect,
})

/** A discrepancy with its round, and the edition that its report is in. */
export interface FoundDiscrepancy {
  row: DiscrepancyRow
  path: string[]
  round: Round
  ready: ReadyEdition
}

/** Discrepancies for a person, in the order asked for. @throws Refusal 404, 403 when one of them is not theirs */
async function findDiscrepancies(
  sql: Pick<Sql, 'query'>,
  access: Access,
  ids: readonly string[],
): Promise<FoundDiscrepancy[]> {
  const rows = await sql.query<DiscrepancyRow & { isOwn: boolean }>(
    `SELECT ${DISCREPANCY_COLUMNS}, ($2::uuid IS NULL OR ${filledBy('p', '$2')}) AS "isOwn" FROM ${DISCREPANCY_TABLES} WHERE d.id = ANY($1::uuid[])`,
    [ids, access.ownOnly ? access.id : null],
  )
  const roundOf = await roundsById(
    sql,
    rows.map(row => row.round),
  )
  const rowOf = new Map(rows.map(row => [row.id, row]))
  const found: FoundDiscrepancy[] = []
  for (const id of ids) {
    const row = rowOf.get(id)
    if (!row?.path) throw notFound('discrepancy')
    mustHold(access, row.path)
    if (!row.isOwn) throw outsideBranch()
    if (!seesRound(access, row.round)) throw notShared()
    const round = roundOf.get(row.round)!
    found.push({ row, path: row.path, round, ready: await editionOf(sql, round.dataset, row.edition) })
  }
  return found
}

/** One of them. @throws Refusal 404, 403 */
export const findDiscrepancy = async (
  sql: Pick<Sql, 'query'>,
  access: Access,
  id: string,
): Promise<FoundDiscrepancy> => (await findDiscrepancies(sql, access, [id]))[0]!

/** The facilities whose reports or cases some discrepancies are about. */
export async function facilitiesOfDiscrepancies(
  sql: Pick<Sql, 'query'>,
  ids: readonly string[],
): Promise<string[]> {
  const rows = await sql.query<{ unit: string }>(
    `SELECT coalesce(p.unit, c.unit) AS unit FROM discrepancy d LEFT JOIN report p ON p.id = d.report
     LEFT JOIN case_record c ON c.id = d.case_id WHERE d.id = ANY($1::uuid[])`,
    [ids],
  )
  return rows.map(({ unit }) => unit)
}

/** A discrepancy about a report or a case, as far as every act on it needs it. */
export interface LockedDiscrepancy extends Pick<DiscrepancyRow, 'id' | 'state' | 'holds'> {
  /** null for one about a case. */
  report: number | null
}

/**
 * A discrepancy about a report or a case, alone with its facility for the rest of the transaction: of several
 * who settle it, one does.
 * @throws Refusal 404, 403
 */
export async function lockedDiscrepancy(tx: Sql, access: Access, id: string): Promise<LockedDiscrepancy> {
  await lockFacilities(tx, await facilitiesOfDiscrepancies(tx, [id]))
  const [row] = await tx.query<
    LockedDiscrepancy & { path: string[] | null; isOwn: boolean; round: string | null; case: string | null }
  >(
    `SELECT d.id, d.state, d.holds, d.report, p.round, d.case_id AS "case", coalesce(p.path, u.path) AS path,
       ($2::uuid IS NULL OR (d.report IS NOT NULL AND ${filledBy('p', '$2')})
         OR (d.case_id IS NOT NULL AND ${enteredBy('c', '$2')})) AS "isOwn"
     FROM discrepancy d LEFT JOIN report p ON p.id = d.report
       LEFT JOIN case_record c ON c.id = d.case_id LEFT JOIN unit_latest u ON u.code = c.unit WHERE d.id = $1`,
    [id, access.ownOnly ? access.id : null],
  )
  if (!row?.path) throw notFound('discrepancy')
  mustHold(access, row.path)
  if (!row.isOwn) throw outsideBranch()
  const { path: _path, isOwn: _own, round, case: about, ...discrepancy } = row
  if (round !== null && !seesRound(access, round)) throw notShared()
  if (about !== null) await mustSeeCases(tx, access, [about])
  return discrepancy
}

/** What the counts of cases are called that a doubt speaks of. */
function countsNamed({ edition }: ReadyEdition, { explanation }: Doubt): DiscrepancyFile['counts'] {
  const parts = [...(explanation?.left.parts ?? []), ...(explanation?.right?.parts ?? [])]
  const texts = parts.flatMap(part => (typeof part === 'string' ? [] : (part.count ?? [])))
  return Object.fromEntries(texts.map(text => [text, countWords(edition, text)]))
}

/** Names of the items and bands that a doubt speaks of. */
function itemsNamed(ready: ReadyEdition, evidence: Doubt): DiscrepancyFile['items'] {
  const parts = [...(evidence.explanation?.left.parts ?? []), ...(evidence.explanation?.right?.parts ?? [])]
  const terms = parts.flatMap(part => (typeof part === 'string' || part.source ? [] : [part.item]))
  const others = parts.flatMap(part => (typeof part === 'string' || !part.source ? [] : [part]))
  const codes = new Set([...terms, ...evidence.cells.map(cell => ready.cellByKey.get(cell)!.item.code)])
  const items = ready.edition.sections.flatMap(section => section.items).filter(({ code }) => codes.has(code))
  const namedItems = others.flatMap(({ source, item }) => {
    const { named } = ready.others.find(other => other.named.dataset === source) ?? {}
    const found = named?.items.find(({ code }) => code === item)
    return named && found ? [{ key: `${source}.${item}`, of: named, item: found as Item }] : []
  })
  return Object.fromEntries(
    [...items.map(item => ({ key: item.code, of: ready.edition, item })), ...namedItems].map(
      ({ key, of, item }) => {
        // By the code alone, and with its axis: two axes may have a band of one code.
        const bands = axesOf(of, item).flatMap(axis =>
          axis.bands.flatMap(
            band =>
              [
                [band.code, band.name],
                [`${axis.code}.${band.code}`, band.name],
              ] as const,
          ),
        )
        return [key, { item, bands: Object.fromEntries(bands) }]
      },
    ),
  )
}

/** What was said and done about some discrepancies, by discrepancy. */
export async function threadsOf(
  sql: Pick<Sql, 'query'>,
  ids: readonly string[],
): Promise<Map<string, Thread>> {
  const rows = await sql.query<Thread[number] & { discrepancy: string }>(
    `SELECT e.discrepancy, e.at, p.display_name AS by, e.act, e.text FROM discrepancy_event e LEFT JOIN person p ON p.id = e.person
     WHERE e.discrepancy = ANY($1::uuid[]) ORDER BY e.seq`,
    [ids],
  )
  return new Map(
    [...groupBy(rows, row => row.discrepancy)].map(([id, events]) => [
      id,
      events.map(({ discrepancy: _, ...event }) => event),
    ]),
  )
}

/** The rule that a discrepancy was found by. */
const ruleOf = ({ row, ready }: FoundDiscrepancy) =>
  row.source === 'rule' ? ready.rules.find(({ rule: { code } }) => code === row.code)!.rule : undefined

/**
 * Discrepancies with their evidence, the last 13 periods of their cells, their threads, and their effects as
 * they were computed last: see {@link refreshEffects}. However many there are, the database is asked the same
 * few times.
 * @param known the settings, where the caller has read them
 */
export async function readDiscrepancies(
  access: Access,
  ids: readonly string[],
  known?: Settings,
): Promise<DiscrepancyFile[]> {
  const sql = await database()
  const [found, all] = await Promise.all([findDiscrepancies(sql, access, ids), known ?? settings()])
  const places = found.map(({ row, path, round }) => ({
    round: round.id,
    district: districtOf(path, all),
    edition: row.edition,
  }))
  const doubtedOf = found.map(({ row, ready }) => row.cells.map(key => ready.cellByKey.get(key)!))
  const reports = [...new Set(found.map(({ row }) => row.report))]
  const [figuresOf, nameOf, histories, stored, conflicts, threads] = await Promise.all([
    keptFigures(sql, places),
    unitNames(
      sql,
      places.map(({ district }) => district),
    ),
    historiesBefore(
      sql,
      found.map(({ row, round }, at) => ({
        round,
        unit: row.unit,
        of: { cells: doubtedOf[at]!, lookBack: [RANGE_PERIODS] },
      })),
      access.ownOnly ? access.id : null,
    ),
    storedCellsOf(sql, reports),
    openConflicts(sql, reports),
    threadsOf(sql, ids),
  ])
  return found.map((one, at) => {
    const { row, round, ready } = one
    const place = places[at]!
    const history = histories[at]!
    const now = new Map((stored.get(row.report) ?? []).map(cell => [cell.cell, cell]))
    const rule = ruleOf(one)
    const { range, cures, ...rest } = row.evidence
    return {
      line: lineOf(row, round, ready),
      district: { code: place.district, name: nameOf(place.district) },
      reportState: row.reportState,
      doubt: { ...rest, ...(range && { range }) },
      sentence: rule?.forOfficer ?? {},
      forClerk: rule?.forClerk ?? {},
      items: itemsNamed(ready, row.evidence),
      counts: countsNamed(ready, row.evidence),
      cells: doubtedOf[at]!.map(cell => {
        const { key } = cell
        const { content = BLANK, version = 0 } = now.get(key) ?? {}
        return {
          cell: key,
          name: Object.fromEntries(LANGUAGES.map(language => [language, nameCell(cell, language)])),
          item: cell.item,
          content,
          version,
          trend: [...history.numbers[key]!.toReversed(), numberOf(content)],
          conflicts: conflicts(row.report).filter(conflict => conflict.cell === key),
        }
      }),
      periods: [...history.periods.toReversed(), round.period],
      range: range ? { low: range.low, high: range.high } : null,
      shifts: row.holds ? shifts(cures, ready.cellByKey, figuresOf(place)) : [],
      thread: threads.get(row.id) ?? [],
    }
  })
}

/** One of them, with its effect as the figures stand. */
export async function discrepancyFile(access: Access, id: string): Promise<DiscrepancyFile> {
  const { row } = await findDiscrepancy(await database(), access, id)
  await refreshEffects(row.unit)
  return (await readDiscrepancies(access, [id]))[0]!
}
