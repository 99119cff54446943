import type { Cell } from '#core/report/edition'
import type { Block } from '#core/report/layout'

/** So many lines are drawn, and laid out, as one. */
export const STRETCH = 10

/** A line with its number in its block. */
interface NumberedLine<T> {
  line: T
  at: number
}

const inStretches = <T>(lines: readonly T[]): NumberedLine<T>[][] =>
  Array.from({ length: Math.ceil(lines.length / STRETCH) }, (_, stretch) =>
    lines
      .slice(stretch * STRETCH, (stretch + 1) * STRETCH)
      .map((line, at) => ({ line, at: stretch * STRETCH + at })),
  )

/** How many lines a block has. */
export const linesOf = (block: Block): number =>
  block.kind === 'list' ? block.cells.length : block.rows.length

/**
 * The blocks of a section, each with the number of its first line in the section, so that arrows can walk
 * through all of it, and its lines in stretches.
 */
export function numberBlocks(blocks: readonly Block[]) {
  let row = 0
  return blocks.map(block => {
    const first = row
    row += linesOf(block)
    if (block.kind === 'list') return { ...block, first, stretches: inStretches(block.cells) }
    if (block.kind === 'matrix') return { ...block, first, stretches: inStretches(block.rows) }
    return { ...block, first }
  })
}
export type NumberedBlock = ReturnType<typeof numberBlocks>[number]

/** The cells of a line of a block, from left to right. */
function cellsOfLine(block: Block, line: number): readonly Cell[] {
  if (block.kind === 'list') return block.cells.slice(line, line + 1)
  if (block.kind === 'matrix') return block.rows[line]?.cells ?? []
  return block.rows[line] ?? []
}

/**
 * The cell at a place of a section, whether its line is drawn by now or not.
 *
 * @param row the number of its line in the section, from 0
 * @param column from 0
 * @returns null where no cell is
 */
export function cellAt(blocks: readonly NumberedBlock[], row: number, column: number): Cell | null {
  const block = blocks.find(each => row >= each.first && row < each.first + linesOf(each))
  return (block && cellsOfLine(block, row - block.first)[column]) ?? null
}

/** The row of each cell in its section, by its key. */
export const rowsOfCells = (blocks: readonly NumberedBlock[]): ReadonlyMap<string, number> =>
  new Map(
    blocks.flatMap(block =>
      Array.from({ length: linesOf(block) }, (_, line) => line).flatMap(line =>
        cellsOfLine(block, line).map(({ key }) => [key, block.first + line] as const),
      ),
    ),
  )
