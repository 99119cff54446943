import { axesOf, cellsOfItem, type Axis, type Cell, type Edition, type Item, type Section } from './edition'

/** How a part of a section is laid out, in paper order. */
export type Block =
  /** Items without a breakdown, one under the other. */
  | { kind: 'list'; cells: Cell[] }
  /** Items that share one axis: a row for each item, a column for each band. */
  | { kind: 'matrix'; axis: Axis; rows: { item: Item; cells: Cell[] }[] }
  /** One item with two axes: a row for each band of the first, a column for each of the second. */
  | { kind: 'grid'; item: Item; rowAxis: Axis; columnAxis: Axis; rows: Cell[][] }

/** The blocks of a section: neighbours of the same shape stand together, the order stays as on paper. */
export function layOut(edition: Edition, section: Section): Block[] {
  const blocks: Block[] = []
  for (const item of section.items) {
    const axes = axesOf(edition, item)
    const cells = cellsOfItem(edition, item)
    const last = blocks.at(-1)
    const [first, second] = axes
    if (!first) {
      if (last?.kind === 'list') last.cells.push(...cells)
      else blocks.push({ kind: 'list', cells })
    } else if (!second) {
      if (last?.kind === 'matrix' && last.axis.code === first.code) last.rows.push({ item, cells })
      else blocks.push({ kind: 'matrix', axis: first, rows: [{ item, cells }] })
    } else {
      const width = second.bands.length
      const rows = first.bands.map((_, row) => cells.slice(row * width, (row + 1) * width))
      blocks.push({ kind: 'grid', item, rowAxis: first, columnAxis: second, rows })
    }
  }
  return blocks
}
