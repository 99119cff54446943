import type { ExtractDefinition, ExtractPreview } from '#core/contract/extracts'
import { may } from '#core/contract/permission'
import type { ExtractRow, ExtractValue } from '#core/extract/columns'
import { compileCondition } from '#core/extract/condition'
import type { FormEdition } from '#core/extract/fields'
import { planExtract, type ExtractPlan } from '#core/extract/sheets'
import type { Access } from '../access/access'
import { database, type Sql } from '../database'
import { Refusal, refusedBy } from '../refusal'
import { today } from '../settings'
import { countRows } from './conditions'
import { itemOf, pagesOf } from './rows'
import { sourceFields } from './sources'

/** An extract ready to be read by a person. */
export interface OpenExtract {
  plan: ExtractPlan
  /** The forms that its rows were filled in, the newest edition of each first. */
  forms: readonly FormEdition[]
  /** Has it a condition in the expression language, which looks at each row? */
  hasCondition: boolean
  /** The rows, page by page. @param most how many are read at once, where fewer than usual are wanted */
  pages: (most?: number) => AsyncGenerator<ExtractRow[]>
  /** As `pages`, with how many rows were read for each page: a condition passes only some of them. */
  pieces: (most?: number) => AsyncGenerator<{ read: number; rows: ExtractRow[] }>
  /** How many rows there are, before a condition looks at each. */
  count: () => Promise<number>
}

/** The names of all units by their codes: answers may name any of them. */
async function unitNames(sql: Pick<Sql, 'query'>): Promise<Map<string, string>> {
  const [row] = await sql.query<{ codes: string[] | null; names: string[] | null }>(
    'SELECT array_agg(code) AS codes, array_agg(name) AS names FROM unit_latest',
  )
  return new Map((row?.codes ?? []).map((code, at) => [code, row!.names![at]!]))
}

/**
 * Finds what a definition takes for a person, with what they may see now.
 *
 * @param since only what was received after this instant
 * @throws Refusal 404 `no-source`; 403 for a unit outside the branch; 422 where the condition cannot be read
 */
export async function openExtract(
  access: Access,
  definition: ExtractDefinition,
  since: string | null = null,
): Promise<OpenExtract> {
  if (definition.format === 'fhir' && definition.rows !== 'entry')
    throw new Refusal(422, 'extract-fhir', 'Only entries as they were filled can be written as FHIR.')
  const sql = await database()
  const { fields, forms, personal } = await sourceFields(access, definition)
  const mayTakePersonal = may(access, 'extractPersonal')
  const names = await unitNames(sql)
  const unitName = (code: string) => names.get(code) ?? code
  const { heads, choices, several, reasons, language, filters, rows } = definition
  const settings = { heads, choices, several, reasons, language, unitName }
  const plan = planExtract(definition, fields, settings, mayTakePersonal)
  const closed = mayTakePersonal ? new Set<string>() : personal
  const condition = filters.where ? compileCondition(filters.where, forms, closed, await today()) : null
  if (condition && !condition.ok) throw refusedBy(422, condition.problems)
  const passes = condition?.value.holds
  const chosen = plan.fields.flatMap(({ key, question }) => (rows === 'cell' && question ? [key] : []))
  const cells = chosen.length ? new Set(chosen) : null
  const asked = { ...definition, ...(since !== null && { since }) }
  const items = new Map(
    fields
      .filter(({ key, question }) => rows === 'cell' && question && (cells?.has(key) ?? true))
      .map(field => [field.key, itemOf(field, language)] as const),
  )
  const reading = { definition: asked, items, unitName }
  async function* pieces(most?: number) {
    for await (const page of pagesOf(sql, access, reading, most)) {
      const holds = passes?.(page)
      yield { read: page.length, rows: holds ? page.filter((_, at) => holds[at]) : page }
    }
  }
  return {
    plan,
    forms,
    hasCondition: passes !== undefined,
    pieces,
    async *pages(most) {
      for await (const { rows: kept } of pieces(most)) if (kept.length) yield kept
    },
    count: () => countRows(sql, access, asked, cells && [...cells]),
  }
}

/** How many rows a preview shows. */
const SHOWN = 20
/** How many rows a preview with a condition reads: a report is read with all its cells. */
const READ_AT_MOST: Readonly<Record<ExtractDefinition['rows'], number>> = {
  ...{ report: 500, cell: 20_000 },
  ...{ case: 2_000, entry: 2_000 },
}

const textOf = (value: ExtractValue): string => (value === null ? '' : String(value))

/** The first rows, and with a condition how many of those that were read pass it. */
async function firstRows({ hasCondition, pieces }: OpenExtract, most: number) {
  const shown: ExtractRow[] = []
  let [read, passed] = [0, 0]
  for await (const piece of pieces(hasCondition ? 200 : SHOWN)) {
    shown.push(...piece.rows.slice(0, SHOWN - shown.length))
    read += piece.read
    passed += piece.rows.length
    if (hasCondition ? read >= most : shown.length >= SHOWN) break
  }
  return { shown, read, passed }
}

/**
 * The first rows of an extract as they will stand in the file, with the number of rows. A condition looks at each
 * row, which only the file does for all of them: the preview counts within the rows that it reads.
 *
 * @throws as {@link openExtract}
 */
export async function previewExtract(access: Access, definition: ExtractDefinition): Promise<ExtractPreview> {
  const open = await openExtract(access, definition)
  const { shown, read, passed } = await firstRows(open, READ_AT_MOST[definition.rows])
  const all = await open.count()
  return {
    sheets: open.plan.sheets.map(({ repeat, columns, rowsOf }) => ({
      name: repeat,
      heads: columns.map(({ head, label, field }) => ({ head, label, key: field.key })),
      rows: shown
        .flatMap(row =>
          Array.from(rowsOf(row), one => columns.map(({ read: textIn }) => textOf(textIn(one)))),
        )
        .slice(0, SHOWN),
    })),
    count: open.hasCondition ? passed : all,
    counted: open.hasCondition ? { read: Math.min(read, all), all } : null,
    leftOut: open.plan.leftOut,
  }
}
