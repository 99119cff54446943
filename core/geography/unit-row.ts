import { isVisible } from '../contract/wire'
import { parseDay } from '../calendar/day'
import { codeFromLabel } from '../form/code'
import { bad, good, type Problem, type Result } from '../result'
import type { UnitPosition } from './unit'
import { checkUnitCode } from './unit-code'

/** One unit as a file, or a person, says that it should be. What is not said stays as it is. */
export interface UnitRow {
  /** Where it stands: the line of a CSV file, the place of a feature or resource, counted from 1. */
  line: number
  code: string
  name: string
  /** Code of the unit above; null at the top. */
  parent: string | null
  level?: number
  kind?: string
  position?: UnitPosition
  /** Day numbers. */
  opened?: number
  /** The first day on which it is closed. */
  closed?: number
}

/** A row that cannot be read, with why. */
export interface RefusedRow {
  line: number
  code: string
  name: string
  problems: Problem[]
}

/** What a file holds. A file that cannot be read at all is a {@link Result} that is bad. */
export interface UnitRows {
  rows: UnitRow[]
  refused: RefusedRow[]
  /**
   * What else stands in the file and has no place here: columns, properties, kinds of resources, each once.
   */
  passedOver: string[]
}

/** The columns of a row, in the order in which they are written; the first three must be there. */
export const UNIT_COLUMNS = [
  'code',
  'name',
  'parent',
  'level',
  'kind',
  'latitude',
  'longitude',
  'opened',
  'closed',
] as const
export type UnitColumn = (typeof UNIT_COLUMNS)[number]
export const NEEDED_COLUMNS: readonly UnitColumn[] = ['name', 'parent']

/** The fields of one row as text; empty and missing are the same. */
export type UnitFields = Partial<Record<UnitColumn, string>>

export const LONGEST_NAME = 120

const problem = (code: string, message: string, values: Problem['values'] = {}): Problem => ({
  code,
  message,
  values,
})

/** A number of degrees, also with a decimal comma. */
function degrees(text: string, most: number): number | null {
  const value = Number(text.replace(',', '.'))
  return text.trim() !== '' && Number.isFinite(value) && Math.abs(value) <= most ? value : null
}

/**
 * Reads one row. Errors: `unit-no-name`, `unit-name-long`, `unit-code`, `unit-level-number`, `unit-position`
 * (outside the world, or half of one), and those of days, each with the column as `values.column`.
 */
export function readUnitRow(line: number, fields: UnitFields): Result<UnitRow> {
  const text = (column: UnitColumn) => fields[column]?.trim() || undefined
  const problems: Problem[] = []
  const name = text('name')
  if (!name || !isVisible(name))
    problems.push(problem('unit-no-name', 'There is no name.', { column: 'name' }))
  else if (name.length > LONGEST_NAME)
    problems.push(
      problem('unit-name-long', `The name is longer than ${LONGEST_NAME} characters.`, {
        column: 'name',
        most: LONGEST_NAME,
      }),
    )
  const code = text('code') ?? codeFromLabel(name ?? '', [])
  const checked = checkUnitCode(code)
  if (!checked.ok) problems.push(...checked.problems)

  const level = text('level')
  if (level !== undefined && !/^[1-9]$/.test(level))
    problems.push(
      problem('unit-level-number', `“${level}” is no level: a number from 1 to 9.`, {
        column: 'level',
        text: level,
      }),
    )
  const [latitude, longitude] = [text('latitude'), text('longitude')]
  const position =
    latitude || longitude
      ? { latitude: degrees(latitude ?? '', 90), longitude: degrees(longitude ?? '', 180) }
      : undefined
  if (position && (position.latitude === null || position.longitude === null)) {
    problems.push(
      problem('unit-position', 'Latitude is from −90 to 90 and longitude from −180 to 180, both or none.', {
        column: 'latitude',
      }),
    )
  }
  const days: Partial<Record<'opened' | 'closed', number>> = {}
  for (const column of ['opened', 'closed'] as const) {
    const day = text(column)
    if (day === undefined) continue
    const parsed = parseDay(day)
    if (parsed.ok) days[column] = parsed.value
    else problems.push(problem(parsed.problems[0]!.code, parsed.problems[0]!.message, { column, text: day }))
  }
  if (problems.length) return bad(...problems)
  return good({
    line,
    code,
    name: name!,
    parent: text('parent') ?? null,
    ...(level !== undefined && { level: Number(level) }),
    ...(text('kind') && { kind: text('kind')! }),
    ...(position && { position: position as UnitPosition }),
    ...days,
  })
}

/** More names than that nobody reads. */
const MOST_PASSED_OVER = 50

const doubleRow = (code: string, other: number) =>
  problem('unit-double-row', `Line ${other} has the code ${code} too.`, { code, other })

/**
 * Reads many rows: each by itself, and the second of two with one code, in whatever case, is refused
 * (`unit-double-row`).
 */
export function readUnitRows(
  all: readonly { line: number; fields: UnitFields }[],
  passedOver: Iterable<string> = [],
): UnitRows {
  const rows: UnitRow[] = []
  const refused: RefusedRow[] = []
  const lineOf = new Map<string, number>()
  for (const { line, fields } of all) {
    const row = readUnitRow(line, fields)
    const asGiven = { line, code: fields.code?.trim() ?? '', name: fields.name?.trim() ?? '' }
    if (!row.ok) refused.push({ ...asGiven, problems: row.problems })
    else if (lineOf.has(row.value.code.toLowerCase()))
      refused.push({
        ...asGiven,
        code: row.value.code,
        problems: [doubleRow(row.value.code, lineOf.get(row.value.code.toLowerCase())!)],
      })
    else {
      lineOf.set(row.value.code.toLowerCase(), line)
      rows.push(row.value)
    }
  }
  return { rows, refused, passedOver: [...new Set(passedOver)].slice(0, MOST_PASSED_OVER) }
}
