import { bad, good, type Result } from '../result'
import { checkTree } from './check-tree'
import { covers, overlap, type UnitHistory, type UnitSpan, type UnitState } from './unit'

/** So many days are kept with their children: a page asks about today and about the end of one period. */
const DAYS_KEPT = 8

/** The tree of organisation units with all its days. */
export interface UnitTree {
  /** All units, in the order in which they came. */
  units: readonly UnitHistory[]
  history(code: string): UnitHistory | undefined
  /** The unit as it was on a day; null when it was closed, or is not there at all. */
  at(code: string, day: number): UnitState | null
  /**
   * The last of the days from the first to the last, both in, on which it was open; null when it was closed
   * on all.
   */
  lastOpenDay(code: string, first: number, last: number): number | null
  /** Codes from the top down to the unit on a day; empty when it was closed. */
  path(code: string, day: number): string[]
  /** The units right below one on a day (`null`: those at the top), by name. */
  children(code: string | null, day: number): UnitState[]
  /** All units below one on a day, parents before children, without itself. */
  descendants(code: string, day: number): UnitState[]
  /** Is a unit in the branch of another on a day? A unit is in its own. */
  within(code: string, branch: string, day: number): boolean
}

/**
 * Makes a tree of units, or says all that is wrong with it: the problems of {@link checkTree}. An empty tree
 * is a tree.
 */
export function growTree(units: readonly UnitHistory[]): Result<UnitTree> {
  const problems = checkTree(units)
  if (problems.length) return bad(...problems)
  const byCode = new Map(units.map(unit => [unit.code, unit]))
  const childrenOn = new Map<number, Map<string | null, UnitState[]>>()

  const spanOn = (code: string, day: number): UnitSpan | undefined =>
    byCode.get(code)?.spans.find(span => covers(span, day))

  function childrenByParent(day: number): Map<string | null, UnitState[]> {
    const known = childrenOn.get(day)
    if (known) return known
    const found = new Map<string | null, UnitState[]>()
    for (const { code } of units) {
      const span = spanOn(code, day)
      if (!span) continue
      const siblings = found.get(span.parent)
      if (siblings) siblings.push({ ...span, code })
      else found.set(span.parent, [{ ...span, code }])
    }
    for (const siblings of found.values())
      siblings.sort((one, other) => (one.name < other.name ? -1 : one.name > other.name ? 1 : 0))
    if (childrenOn.size >= DAYS_KEPT) childrenOn.delete(childrenOn.keys().next().value!)
    childrenOn.set(day, found)
    return found
  }

  const tree: UnitTree = {
    units,
    history: code => byCode.get(code),
    at(code, day) {
      const span = spanOn(code, day)
      return span ? { ...span, code } : null
    },
    lastOpenDay(code, first, last) {
      const open = (byCode.get(code)?.spans ?? []).filter(span =>
        overlap(span, { from: first, to: last + 1 }),
      )
      return open.length
        ? Math.max(...open.map(({ to }) => (to === null ? last : Math.min(last, to - 1))))
        : null
    },
    path(code, day) {
      const path: string[] = []
      for (let at: string | null = code; at !== null;) {
        const span = spanOn(at, day)
        if (!span) return []
        path.unshift(at)
        at = span.parent
      }
      return path
    },
    children: (code, day) => childrenByParent(day).get(code) ?? [],
    descendants(code, day) {
      const found: UnitState[] = []
      const below = childrenByParent(day)
      const waiting = [...(below.get(code) ?? [])].reverse()
      for (let unit = waiting.pop(); unit; unit = waiting.pop()) {
        found.push(unit)
        waiting.push(...[...(below.get(unit.code) ?? [])].reverse())
      }
      return found
    },
    within: (code, branch, day) => tree.path(code, day).includes(branch),
  }
  return good(tree)
}

/** Some units and all that were ever below one of them, on any day. */
export function everBelow(units: readonly UnitHistory[], codes: Iterable<string>): Set<string> {
  const children = new Map<string, string[]>()
  for (const { code, spans } of units) {
    for (const { parent } of spans) {
      if (parent === null) continue
      const known = children.get(parent)
      if (known) known.push(code)
      else children.set(parent, [code])
    }
  }
  const found = new Set(codes)
  // A set hands out what is put into it while it is walked through.
  for (const code of found) children.get(code)?.forEach(child => found.add(child))
  return found
}
