import type { UnitSpan } from './unit'
import type { UnitTree } from './unit-tree'

/** A stretch of days on which nothing about a unit, nor about any unit above it, changes its path. */
export interface PathedSpan extends UnitSpan {
  unit: string
  /** Codes from the top to the unit. */
  path: string[]
}

/**
 * The spans of units with their paths: each span is split where a unit above moves. What has one path stays
 * in one piece.
 */
export function pathedSpans(tree: UnitTree, codes: Iterable<string>): PathedSpan[] {
  const known = new Map<string, PathedSpan[]>()
  const of = (code: string): PathedSpan[] => {
    const found = known.get(code)
    if (found) return found
    const made = tree.history(code)!.spans.flatMap((span): PathedSpan[] => {
      if (span.parent === null) return [{ ...span, unit: code, path: [code] }]
      const pieces = of(span.parent).flatMap((above): PathedSpan[] => {
        const from = Math.max(span.from, above.from)
        const to = Math.min(span.to ?? Infinity, above.to ?? Infinity)
        return from < to
          ? [{ ...span, from, to: to === Infinity ? null : to, unit: code, path: [...above.path, code] }]
          : []
      })
      return joined(pieces.sort((one, other) => one.from - other.from))
    })
    known.set(code, made)
    return made
  }
  return [...codes].flatMap(of)
}

/** Puts neighbours together that say the same: a unit above that only changed its name splits nothing. */
function joined(pieces: PathedSpan[]): PathedSpan[] {
  return pieces.reduce<PathedSpan[]>((all, piece) => {
    const last = all.at(-1)
    if (last && last.to === piece.from && last.path.join() === piece.path.join())
      all[all.length - 1] = { ...last, to: piece.to }
    else all.push(piece)
    return all
  }, [])
}

/** The spans of one unit as they are stored, put together again where only a path changed. */
export function withoutPaths(spans: readonly UnitSpan[]): UnitSpan[] {
  return spans.reduce<UnitSpan[]>((all, { from, to, parent, name, level, kind }) => {
    const last = all.at(-1)
    if (
      last &&
      last.to === from &&
      last.parent === parent &&
      last.name === name &&
      last.level === level &&
      last.kind === kind
    )
      all[all.length - 1] = { ...last, to }
    else all.push({ from, to, parent, name, level, kind })
    return all
  }, [])
}
