import { pseudonymOf } from '#core/cases/personal'
import type { ExtractDefinition } from '#core/contract/extracts'
import type { ExtractRow } from '#core/extract/columns'
import type { ExtractField } from '#core/extract/fields'
import type { Answers } from '#core/form/answer'
import type { CellMap } from '#core/report/table'
import { wordsIn } from '#core/report/edition'
import type { Access } from '../access/access'
import type { Sql } from '../database'
import { betweenParts } from '../give-way'
import { cellsOfReports } from '../reports/cells'
import { CASES, type Where } from '../cases/where'
import { receivedOf } from '../reports/place'
import { conditionsOf, ENTRIES, REPORTS } from './conditions'

/** So many reports, cases or entries are found at once. */
const PAGE = { report: 500, cell: 500, case: 250, entry: 250 } as const
/** So many reports are read with their cells at once: other requests wait for these at the most. */
const HANDFUL = 10

type About = ExtractRow['about']
/** The units above a facility, by level. */
function levelsOf(path: readonly string[], nameOf: (code: string) => string): About {
  return Object.fromEntries(path.map((code, at) => [`level_${at + 1}`, nameOf(code)]))
}

/** How rows are read: what is asked, and what names them. */
export interface RowReading {
  definition: ExtractDefinition & { since?: string }
  /** The cells that are rows, with what is said of each in every report. */
  items: ReadonlyMap<string, About>
  unitName: (code: string) => string
}

interface ReportRow extends Record<string, string | number | boolean | null | string[]> {
  id: number
  path: string[]
}

const REPORT_ABOUT = `p.id, coalesce(p.path, u.path) AS path, p.unit, coalesce(nullif(p.unit_name, ''), u.name) AS unit_name,
  r.period, r.first_day, r.last_day, p.state, p.edition, r.due_at, p.first_received_at, p.received_at,
  ${receivedOf('p')} AND coalesce(p.first_received_at < r.due_at, false) AS on_time`

/** What is said of a cell in every report. */
export const itemOf = ({ key, question }: ExtractField, language: string): About => {
  const [item, ...bands] = key.split('.')
  return {
    ...{ item: item!, item_name: wordsIn(question!.label, language) },
    ...{ cell: key, bands: bands.join('.') || null },
  }
}

/** The cells of a report as rows. Blank ones are none. */
function* cellRows(about: About, cells: CellMap, items: RowReading['items']): Iterable<ExtractRow> {
  for (const [key, item] of items) {
    const content = cells[key]
    if (!content || content.kind === 'blank') continue
    const value = content.kind === 'value' ? content.value : null
    const isNumber = typeof value === 'number'
    const answer = value === null || isNumber ? null : Array.isArray(value) ? value.join('; ') : String(value)
    yield {
      ...{ about, item, answers: cells },
      own: {
        kind: content.kind,
        value: isNumber ? value : null,
        answer,
        reason: content.kind === 'notKnown' ? content.reason : null,
      },
    }
  }
}

/** Reports of a page, after the last one of the page before. */
async function findReports(
  sql: Pick<Sql, 'query'>,
  asked: Where,
  after: number | null,
  most: number,
): Promise<ReportRow[]> {
  const where = asked.copy()
  if (after !== null)
    where.parts.push(
      `(r.last_day, p.id) > (SELECT b.last_day, a.id FROM report a JOIN round b ON b.id = a.round WHERE a.id = ${where.param(after)})`,
    )
  return sql.query<ReportRow>(
    `SELECT ${REPORT_ABOUT} FROM ${REPORTS} WHERE ${where.text} ORDER BY r.last_day, p.id LIMIT ${where.param(most)}`,
    where.values,
  )
}

async function* reportRows(
  sql: Pick<Sql, 'query'>,
  access: Access,
  reading: RowReading,
  most: number,
): AsyncGenerator<ExtractRow[]> {
  const { definition, items, unitName } = reading
  const asked = await conditionsOf(sql, access, definition)
  let found: ReportRow[] = []
  do {
    found = await findReports(sql, asked, found.at(-1)?.id ?? null, most)
    for (let from = 0; from < found.length; from += HANDFUL) {
      const some = found.slice(from, from + HANDFUL)
      const cells = await cellsOfReports(
        sql,
        some.map(({ id }) => id),
      )
      yield some.flatMap(({ id, path, ...rest }) => {
        const about = { ...(rest as About), ...levelsOf(path, unitName) }
        const answers: CellMap = cells.get(id) ?? {}
        return definition.rows === 'cell' ? [...cellRows(about, answers, items)] : [{ about, answers }]
      })
    }
  } while (found.length === most)
}

const CASE_ABOUT = `c.unit, u.name AS unit_name, u.path, c.parent`

interface CaseRow extends Record<string, unknown> {
  /** Of an entry: its place in the order of arrival. */
  seq?: number
  path: string[]
  case: string
  answers: Answers
}

const caseRow = (
  { path, answers, seq: _, ...rest }: CaseRow,
  unitName: RowReading['unitName'],
): ExtractRow => ({
  answers,
  about: { ...(rest as About), pseudonym: pseudonymOf(rest.case), ...levelsOf(path, unitName) },
})

async function* caseRows(
  sql: Pick<Sql, 'query'>,
  access: Access,
  { definition, unitName }: RowReading,
  most: number,
): AsyncGenerator<ExtractRow[]> {
  const asked = await conditionsOf(sql, access, definition)
  let rows: CaseRow[] = []
  do {
    const where = asked.copy()
    const after = rows.at(-1)
    if (after) where.parts.push(`c.id > ${where.param(after.case)}::uuid`)
    rows = await sql.query<CaseRow>(
      `SELECT c.id AS case, ${CASE_ABOUT}, c.entries, c.last_on, c.next_visit, c.received_at, c.closed_on, c.outcome, c.known AS answers
       FROM ${CASES} WHERE ${where.text} ORDER BY c.id LIMIT ${where.param(most)}`,
      where.values,
    )
    yield rows.map(row => caseRow(row, unitName))
  } while (rows.length === most)
}

/** For queries: the case that a case `c` is part of, itself where it was merged into none. */
const ROOT = `CASE WHEN c.merged_into IS NULL THEN c.id ELSE (
  WITH RECURSIVE up (id, into_case) AS (SELECT c.id, c.merged_into
    UNION SELECT n.id, n.merged_into FROM case_record n JOIN up ON n.id = up.into_case)
  SELECT id FROM up WHERE into_case IS NULL) END`

async function* entryRows(
  sql: Pick<Sql, 'query'>,
  access: Access,
  { definition, unitName }: RowReading,
  most: number,
): AsyncGenerator<ExtractRow[]> {
  const asked = await conditionsOf(sql, access, definition)
  let rows: (CaseRow & { seq: number })[] = []
  do {
    const where = asked.copy()
    const after = rows.at(-1)
    if (after) where.parts.push(`e.seq > ${where.param(after.seq)}`)
    rows = await sql.query<CaseRow & { seq: number }>(
      `SELECT e.seq, ${ROOT} AS case, ${CASE_ABOUT}, e.id AS entry, e.corrects, later.id AS corrected_by, e.form, e.edition,
         e.happened_on, e.made_at, e.received_at, a.display_name AS by, d.name AS device, e.paper_on, e.answers
       FROM ${ENTRIES} JOIN person a ON a.id = e.person LEFT JOIN device d ON d.id = e.device
         LEFT JOIN LATERAL (SELECT x.id FROM case_entry x WHERE x.corrects = e.id ORDER BY x.seq DESC LIMIT 1) later ON true
       WHERE ${where.text} ORDER BY e.seq LIMIT ${where.param(most)}`,
      where.values,
    )
    yield rows.map(row => caseRow(row, unitName))
  } while (rows.length === most)
}

const ROWS = { report: reportRows, cell: reportRows, case: caseRows, entry: entryRows } as const

/** Reads the next piece while the one before is written, and lets others have their turn between two. */
async function* ahead<T>(source: AsyncGenerator<T>): AsyncGenerator<T> {
  const next = () => {
    const coming = source.next()
    // Nobody may wait for it: who reads may stop before.
    coming.catch(() => undefined)
    return coming
  }
  try {
    for (let coming = next(); ;) {
      const { done, value } = await coming
      if (done) return
      coming = next()
      yield value
      await betweenParts()
    }
  } finally {
    await source.return(undefined)
  }
}

/**
 * The rows of an extract, piece by piece: reports by period, cases and entries as they came. Each piece is read
 * by itself, so that nobody waits for the whole; a row that changes meanwhile stands as it was when it was read.
 *
 * @param most how many reports, cases or entries are found at once, where fewer than usual are wanted
 */
export const pagesOf = (
  sql: Pick<Sql, 'query'>,
  access: Access,
  reading: RowReading,
  most: number = PAGE[reading.definition.rows],
): AsyncGenerator<ExtractRow[]> => ahead(ROWS[reading.definition.rows](sql, access, reading, most))
