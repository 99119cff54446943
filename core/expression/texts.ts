import type { ColumnTable } from '../report/table'
import type { Bindings } from './bind'
import { periodsBack } from './functions'
import type { CallNode, Node } from './syntax'

/**
 * The text of a node at a row, null where it is blank. Texts are few and short, so they are read row by row.
 */
export type TextReader = (row: number) => string | null

export interface TextSeams {
  bindings: Bindings
  /** The truths of a condition inside a text, for all rows. */
  truthOf: (node: Node, table: ColumnTable) => Float64Array
}

const BLANK: TextReader = () => null

/** Reads a node that is a text: a literal, a name, or one of the functions that hand texts on. */
export function textOf(node: Node, table: ColumnTable | undefined, seams: TextSeams): TextReader {
  if (node.type === 'text') return () => node.value
  if (!table) return BLANK
  if (node.type === 'name') {
    const reference = seams.bindings.names.get(node)!
    const from = reference.source ? table.other?.(reference.source) : table
    const cell = reference.cells[0]!
    const column = from?.texts?.(cell)
    const answers = reference.name.type === 'answers' ? from?.answers?.(cell) : undefined
    // “é” is one sign or two: both are the same text.
    return row => (column?.[row] ?? answers?.[row]?.join(' ') ?? null)?.normalize('NFC') ?? null
  }
  if (node.type === 'call') return textOfCall(node, table, seams)
  throw new Error(`A ${node.type} is no text.`)
}

function textOfCall(node: CallNode, table: ColumnTable, seams: TextSeams): TextReader {
  const [first, second, third] = node.args as [Node, Node?, Node?]
  switch (node.name) {
    case 'previous':
      return textOf(first, table.back?.(periodsBack(node)), seams)
    case 'year_before':
      return textOf(first, table.yearBefore?.(), seams)
    case 'coalesce': {
      const readers = node.args.map(arg => textOf(arg, table, seams))
      return row => readers.reduce<string | null>((found, reader) => found ?? reader(row), null)
    }
    case 'if': {
      const [truths, yes, no] = [
        seams.truthOf(first, table),
        textOf(second!, table, seams),
        textOf(third!, table, seams),
      ]
      return row => (truths[row] === 1 ? yes(row) : truths[row] === 0 ? no(row) : null)
    }
    default:
      throw new Error(`${node.name} gives no text.`)
  }
}
