import Papa from 'papaparse'

/**
 * A table as RFC 4180 text: CRLF line ends, quotes doubled. Cells that a spreadsheet would run as a formula are
 * defused with a leading apostrophe.
 * @param rows the first row is the heading.
 */
export function writeCsv(rows: readonly (readonly (string | number | null)[])[]): string {
  return `${Papa.unparse(rows as unknown[][], { newline: '\r\n', escapeFormulae: true })}\r\n`
}
