import Papa from 'papaparse'

/**
 * What a spreadsheet takes for a formula (common practice): by its first character, whatever follows. A text
 * that begins as a defused one does gets an apostrophe more, so that taking one off gives each back.
 */
const FORMULA = /^'*[=+\-@\t\r]/

/** Defuses a text with a leading apostrophe. The library's own way overlooks texts with a line break. */
const defused = (cell: string | number | null) =>
  typeof cell === 'string' && FORMULA.test(cell) ? `'${cell}` : cell

/**
 * A table as RFC 4180 text: CRLF line ends, quotes doubled. Cells that a spreadsheet would run as a formula
 * are defused with a leading apostrophe.
 * @param rows the first row is the heading.
 */
export function writeCsv(rows: readonly (readonly (string | number | null)[])[]): string {
  return `${Papa.unparse(
    rows.map(row => row.map(defused)),
    { newline: '\r\n' },
  )}\r\n`
}
