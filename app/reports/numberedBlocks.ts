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
