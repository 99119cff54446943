import { fold } from '../form/code'
import { NEEDED_COLUMNS, UNIT_COLUMNS, type UnitColumn } from '../geography/unit-row'

/** Which heading of a file holds which of our columns. */
export type UnitHeadings = Partial<Record<UnitColumn, string>>

/** What was decided about headings before, folded: the column, or null for one that is to be left out. */
export type HeadingMemory = Readonly<Record<string, UnitColumn | null>>

/** The columns of a file beside ours. */
export interface ColumnMatch {
  /** As they stand in the file, each once. */
  headings: string[]
  columns: UnitHeadings
  /** Columns that must be there and are not matched. */
  missing: UnitColumn[]
}

/**
 * What lists of facilities call these columns, folded (common practice without source; English and French).
 */
const USUAL: Record<UnitColumn, readonly string[]> = {
  code: ['facility code', 'unit code', 'id', 'identifier', 'code etablissement', 'identifiant'],
  name: [
    'facility',
    'facility name',
    'unit',
    'unit name',
    'nom',
    'etablissement',
    'nom de l’etablissement',
    "nom de l'etablissement",
  ],
  parent: ['parent code', 'belongs to', 'unit above', 'appartient a', 'rattachement', 'code parent'],
  level: ['niveau'],
  kind: ['type', 'facility type', 'kind of facility', 'type d’etablissement', "type d'etablissement"],
  latitude: ['lat', 'y'],
  longitude: ['lon', 'long', 'lng', 'x'],
  opened: ['open since', 'opening date', 'date of opening', 'date d’ouverture', "date d'ouverture"],
  closed: ['closing date', 'date of closing', 'date de fermeture'],
}

/** Headings that differ in case, accents, underscores or spaces only are one. */
export const foldHeading = (heading: string): string =>
  fold(heading)
    .replace(/[\s_]+/g, ' ')
    .trim()

/**
 * Matches the headings of a file with our columns: as it was decided before, else by our own names, else by
 * usual words.
 * @example matchColumns(['Facility name', 'Zone'], { zone: 'parent' }).columns // { name: 'Facility name', parent: 'Zone' }
 */
export function matchColumns(all: readonly string[], memory: HeadingMemory = {}): ColumnMatch {
  const headings = [...new Set(all.map(heading => heading.trim()).filter(Boolean))]
  const free = headings.filter(heading => memory[foldHeading(heading)] === undefined)
  const columns: UnitHeadings = {}
  for (const column of UNIT_COLUMNS) {
    const found =
      headings.find(heading => memory[foldHeading(heading)] === column) ??
      free.find(heading => foldHeading(heading) === column) ??
      free.find(heading => USUAL[column].includes(foldHeading(heading)))
    if (found !== undefined) columns[column] = found
  }
  return matchOf(headings, columns)
}

/**
 * The headings of a file beside the columns that a person chose; a heading that the file does not have counts
 * as none.
 */
export function matchOf(headings: string[], chosen: UnitHeadings): ColumnMatch {
  const columns = Object.fromEntries(
    Object.entries(chosen).filter(([, heading]) => headings.includes(heading)),
  ) as UnitHeadings
  return { headings, columns, missing: NEEDED_COLUMNS.filter(column => columns[column] === undefined) }
}

/** What to remember of a file whose columns were matched by hand: its other headings stay left out. */
export const memoryOf = ({ headings, columns }: ColumnMatch): Record<string, UnitColumn | null> => ({
  ...Object.fromEntries(headings.map(heading => [foldHeading(heading), null])),
  ...Object.fromEntries(
    Object.entries(columns).map(([column, heading]) => [foldHeading(heading), column as UnitColumn]),
  ),
})
