import type { CaseRegister } from '#core/cases/register'
import { dependsOn } from '#core/expression/depends-on'
import { groupBy } from '#core/group-by'
import { BLANK } from '#core/report/cell'
import { same } from '#core/same'
import type { Cure } from '#core/rollup/cures'
import { effectOf, refreshEffects } from '../checks/effects'
import { editionOf } from '../datasets/editions'
import { foldKnown, KNOWN, type FoldedCase, type KnownOfCase } from '../cases/fold-known'
import { doubtsAbout } from '../cases/judge-cases'
import { newestRegisters, runnableRegisters } from '../cases/registers'
import { database, type Sql } from '../database'
import { cellsOfReports } from '../reports/cells'
import { followingFrom } from '../reports/computed-cells'
import { figuresForEffects } from '../reports/district-figures'
import { personSearchText } from '../people/search-text'
import { UNWATCHED, type JobTurn } from '../queue/turn'
import { roundById } from '../rounds/round'
import { districtOf, settings } from '../settings'
import { PLACED, searchTextOf } from '../units/latest'

/** Something that is kept, and is not what it is computed from. */
export interface Difference {
  what:
    | 'unit'
    | 'searchText'
    | 'personSearchText'
    | 'reportPlace'
    | 'answers'
    | 'cellsOfReport'
    | 'sentBy'
    | 'caseOfBlock'
    | 'following'
    | 'knownOfCase'
    | 'doubtsOfCase'
    | 'unitsOfPair'
    | 'lifeOfCase'
    | 'effect'
  /** Of the unit, report, case, discrepancy or device. */
  id: string
  kept: unknown
  computed: unknown
}

/** More than these say nothing new. */
const MOST = 1000

/** What one statement can compare: rows of what is kept beside what it is computed from, where they differ. */
const COMPARED: Partial<Record<Difference['what'], string>> = {
  unit: `SELECT u.code AS id, to_jsonb(l) - 'search_text' AS kept, to_jsonb(c) AS computed
    FROM unit u LEFT JOIN unit_latest l ON l.code = u.code
    LEFT JOIN (SELECT DISTINCT ON (unit) unit AS code, name, kind, parent, path, from_day, to_day, level FROM unit_span ORDER BY unit, from_day DESC) c ON c.code = u.code
    WHERE to_jsonb(l) - 'search_text' IS DISTINCT FROM to_jsonb(c)`,
  reportPlace: `SELECT id::text, jsonb_build_array(before, "nameBefore") AS kept, jsonb_build_array(path, name) AS computed
    FROM (${PLACED}) w WHERE before IS DISTINCT FROM path OR "nameBefore" <> name`,
  answers: `SELECT p.id::text, jsonb_build_array(p.answered, p.not_offered) AS kept, jsonb_build_array(c.answered, c.not_offered) AS computed
    FROM report p CROSS JOIN LATERAL (
      SELECT count(*) FILTER (WHERE v.kind IN ('value', 'notKnown') AND NOT v.computed) AS answered, count(*) FILTER (WHERE v.kind = 'notOffered') AS not_offered
      FROM cell_value v WHERE v.report = p.id) c WHERE (p.answered, p.not_offered) <> (c.answered, c.not_offered)`,
  cellsOfReport: `SELECT c.report::text AS id, to_jsonb(c) AS kept, NULL AS computed
    FROM (SELECT report, count(*) AS rows FROM (SELECT report FROM cell_value UNION ALL SELECT report FROM cell_event) a GROUP BY report) c
    WHERE NOT EXISTS (SELECT 1 FROM report p WHERE p.id = c.report)`,
  sentBy: `SELECT coalesce(c.device, c.person)::text AS id, to_jsonb(c) AS kept, NULL AS computed
    FROM (SELECT person, device FROM received_change UNION SELECT person, device FROM case_entry) c
    WHERE NOT EXISTS (SELECT 1 FROM person p WHERE p.id = c.person)
      OR c.device IS NOT NULL AND NOT EXISTS (SELECT 1 FROM device d WHERE d.id = c.device)`,
  caseOfBlock: `SELECT b.case_id::text AS id, to_jsonb(b) AS kept, NULL AS computed
    FROM case_block b WHERE NOT EXISTS (SELECT 1 FROM case_record c WHERE c.id = b.case_id)`,
  unitsOfPair: `SELECT p.id::text, jsonb_build_array(p.one_unit, p.other_unit) AS kept, jsonb_build_array(c.unit, d.unit) AS computed
    FROM case_pair p JOIN case_record c ON c.id = p.one JOIN case_record d ON d.id = p.other
    WHERE (p.one_unit, p.other_unit) <> (c.unit, d.unit)`,
  lifeOfCase: `SELECT c.id::text, jsonb_build_array(c.moves, c.closed_on, c.outcome) AS kept, jsonb_build_array(m.moves, e.day, e.outcome) AS computed
    FROM case_record c
    CROSS JOIN LATERAL (
      SELECT coalesce(jsonb_agg(jsonb_build_object('from', from_unit, 'to', to_unit, 'since', day) ORDER BY seq), '[]') AS moves
      FROM case_event WHERE case_id = c.id AND act = 'moved') m
    LEFT JOIN LATERAL (
      SELECT CASE act WHEN 'closed' THEN day END AS day, CASE act WHEN 'closed' THEN outcome END AS outcome
      FROM case_event WHERE case_id = c.id AND act IN ('closed', 'reopened') ORDER BY seq DESC LIMIT 1) e ON true
    WHERE (c.moves, c.closed_on, c.outcome) IS DISTINCT FROM (m.moves, e.day, e.outcome)`,
}

async function searchTexts(sql: Pick<Sql, 'query'>): Promise<Difference[]> {
  const rows = await sql.query<{ code: string; name: string; text: string }>(
    'SELECT code, name, search_text AS text FROM unit_latest ORDER BY code',
  )
  return rows
    .filter(row => row.text !== searchTextOf(row))
    .map(row => ({ what: 'searchText', id: row.code, kept: row.text, computed: searchTextOf(row) }))
}

async function personSearchTexts(sql: Pick<Sql, 'query'>): Promise<Difference[]> {
  const rows = await sql.query<{ id: string; displayName: string; userName: string; text: string }>(
    'SELECT id, display_name AS "displayName", user_name AS "userName", search_text AS text FROM person ORDER BY id',
  )
  return rows
    .filter(row => row.text !== personSearchText(row))
    .map(row => ({ what: 'personSearchText', id: row.id, kept: row.text, computed: personSearchText(row) }))
}

/** Cases as they are kept beside what is folded from their entries. */
function foldDifferences(kept: readonly KnownOfCase[], folded: readonly FoldedCase[]): Difference[] {
  const computed = new Map(folded.map(({ kept: one }) => [one.id, one]))
  return kept
    .filter(one => !same(one, computed.get(one.id)))
    .map(one => ({ what: 'knownOfCase', id: one.id, kept: one, computed: computed.get(one.id) ?? null }))
}

/** The doubts that are kept of some cases beside those that are found now. */
async function doubtDifferences(
  sql: Pick<Sql, 'query'>,
  folded: readonly FoldedCase[],
  registers: ReadonlyMap<string, CaseRegister>,
): Promise<Difference[]> {
  const rows = await sql.query<{ case: string; key: string }>(
    'SELECT case_id AS "case", doubt_key AS key FROM discrepancy WHERE case_id = ANY($1::uuid[]) AND holds',
    [folded.map(({ kept }) => kept.id)],
  )
  const keptOf = groupBy(rows, row => row.case)
  const runnable = runnableRegisters(registers)
  const differences: Difference[] = []
  for (const [code, cases] of groupBy(folded, ({ register }) => register)) {
    const register = runnable.get(code)
    if (!register) continue
    const found = await doubtsAbout(sql, register, cases)
    // What depends on the day was judged on the day when the last entry came.
    const ofAnyDay = new Set(
      register.rules
        .filter(({ compiled }) => !dependsOn(compiled).today)
        .map(({ rule }) => `rule:${rule.code}`),
    )
    const isOfAnyDay = (key: string) => ofAnyDay.has(key.split(':').slice(0, 2).join(':'))
    for (const [at, { kept }] of cases.entries()) {
      const before = (keptOf.get(kept.id) ?? [])
        .map(({ key }) => key)
        .filter(isOfAnyDay)
        .sort()
      const now = found[at]!.map(({ key }) => key)
        .filter(isOfAnyDay)
        .sort()
      if (!same(before, now))
        differences.push({ what: 'doubtsOfCase', id: kept.id, kept: before, computed: now })
    }
  }
  return differences
}

/** What is known of cases, and the doubts about them. */
async function knownOfCases(sql: Pick<Sql, 'query'>): Promise<Difference[]> {
  const registers = await newestRegisters(sql)
  const differences: Difference[] = []
  for (let after = '00000000-0000-0000-0000-000000000000'; ;) {
    const kept = await sql.query<KnownOfCase>(
      `SELECT ${KNOWN} FROM case_record c WHERE c.id > $1 AND NOT c.to_fold AND c.merged_into IS NULL ORDER BY c.id LIMIT ${AT_ONCE}`,
      [after],
    )
    if (!kept.length) return differences
    const ids = kept.map(({ id }) => id)
    const folded = await foldKnown(sql, ids, registers)
    differences.push(...foldDifferences(kept, folded), ...(await doubtDifferences(sql, folded, registers)))
    after = ids.at(-1)!
  }
}

/** So many reports or cases are computed at once. */
const AT_ONCE = 200

/**
 * What follows from the answers of the reports of one edition. Where that depends on the day, it is of the
 * day on which the report was changed last, and cannot be compared.
 */
async function followingOf(sql: Pick<Sql, 'query'>, dataset: string, number: number): Promise<Difference[]> {
  const ready = await editionOf(sql, dataset, number)
  const { form } = ready
  if (!form || JSON.stringify(ready.edition.sections).includes('today(')) return []
  const reports = await sql.query<{ id: number; notApplying: number }>(
    'SELECT p.id, p.not_applying AS "notApplying" FROM report p JOIN round r ON r.id = p.round WHERE r.dataset = $1 AND p.edition = $2 ORDER BY p.id',
    [dataset, number],
  )
  const differences: Difference[] = []
  for (let from = 0; from < reports.length; from += AT_ONCE) {
    const some = reports.slice(from, from + AT_ONCE)
    const cells = await cellsOfReports(
      sql,
      some.map(({ id }) => id),
    )
    for (const { id, notApplying } of some) {
      const report = cells.get(id) ?? {}
      const computed = followingFrom({ ...ready, form }, report, 0)
      const kept = {
        computed: Object.fromEntries(Object.keys(computed.computed).map(key => [key, report[key] ?? BLANK])),
        notApplying,
      }
      if (!same(kept, computed)) differences.push({ what: 'following', id: String(id), kept, computed })
    }
  }
  return differences
}

/** Two computations of one number add the same numbers up, perhaps in another order. */
const isSame = (kept: number | null, computed: number | null): boolean =>
  kept === null || computed === null ? kept === computed : Math.abs(kept - computed) < 1e-9

/** The effects of all discrepancies of one round, on the figures as they stand. */
async function effectsOf(sql: Pick<Sql, 'query'>, id: string): Promise<Difference[]> {
  const round = await roundById(sql, id)
  const all = await settings(sql)
  const rows = await sql.query<{
    id: string
    edition: number
    path: string[]
    holds: boolean
    cures: Cure[] | null
    effect: number | null
  }>(
    `SELECT d.id, p.edition, p.path, d.holds, d.evidence -> 'cures' AS cures, e.effect FROM discrepancy d
     JOIN report p ON p.id = d.report LEFT JOIN discrepancy_effect e ON e.discrepancy = d.id WHERE d.round = $1 AND p.path IS NOT NULL`,
    [id],
  )
  const figures = new Map<string, Awaited<ReturnType<typeof figuresForEffects>>>()
  const differences: Difference[] = []
  for (const { id: discrepancy, edition, path, holds, cures, effect } of rows) {
    const ready = await editionOf(sql, round.dataset, edition)
    const district = districtOf(path, all)
    const key = `${district} ${edition}`
    if (!figures.has(key)) figures.set(key, await figuresForEffects(sql, round, district, ready))
    const computed = effectOf({ holds, cures }, ready, figures.get(key)!)
    if (!isSame(effect, computed))
      differences.push({ what: 'effect', id: discrepancy, kept: effect, computed })
  }
  return differences
}

/**
 * Computes anew everything that is kept because it is asked for often, and compares. Nothing is changed, but
 * for effects that wait to be computed.
 *
 * @returns what differs: nothing, unless there is a mistake in this program or somebody wrote into the tables
 */
export async function verify({ signal, progress }: JobTurn = UNWATCHED): Promise<Difference[]> {
  const sql = await database()
  await refreshEffects(null)
  const rounds = await sql.query<{ id: string }>(
    'SELECT DISTINCT round AS id FROM discrepancy WHERE round IS NOT NULL ORDER BY 1',
  )
  const editions = await sql.query<{ dataset: string; number: number }>(
    'SELECT dataset, number FROM edition ORDER BY 1, 2',
  )
  const parts = [
    ...Object.entries(COMPARED).map(([what, text]) => async (): Promise<Difference[]> => {
      const rows = await sql.query<Omit<Difference, 'what'>>(`${text} LIMIT ${MOST}`)
      return rows.map(row => ({ ...row, what: what as Difference['what'] }))
    }),
    () => searchTexts(sql),
    () => personSearchTexts(sql),
    () => knownOfCases(sql),
    ...editions.map(
      ({ dataset, number }) =>
        () =>
          followingOf(sql, dataset, number),
    ),
    ...rounds.map(
      ({ id }) =>
        () =>
          effectsOf(sql, id),
    ),
  ]
  const differences: Difference[] = []
  for (const [at, part] of parts.entries()) {
    signal.throwIfAborted()
    progress(at, parts.length)
    differences.push(...(await part()))
  }
  progress(parts.length)
  return differences
}

/** A difference as a line. */
export const differenceText = ({ what, id, kept, computed }: Difference): string =>
  `${what} of ${id}: ${JSON.stringify(kept)} is kept, ${JSON.stringify(computed)} is computed`
