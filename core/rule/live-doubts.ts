import type { Cell } from '../report/edition'
import type { CellMap, ColumnTable } from '../report/table'
import type { CompiledRule } from './compile-rules'
import { findDoubts, rangeKey, ruleKey, type Doubt } from './find-doubts'

/** The doubts of one report that is being typed. */
export interface LiveDoubts {
  /** All of them, in the order of {@link findDoubts}. */
  all: () => Doubt[]
  /**
   * Looks again at what reads some cells.
   * @returns the cells about which something may be doubtful now that was not, or the other way round.
   */
  look: (changed: readonly string[], report: CellMap) => Set<string>
}

/**
 * Keeps the doubts of one report while it is typed: at each key only the rules and the range that read the
 * changed cell are judged, by {@link findDoubts} itself, so that a form of five hundred cells answers as fast
 * as one of five.
 * @param begun the report as it is when the typing begins.
 * @param at a report as the table that it is judged on, with the same unit's reports of the periods before.
 * @param today the day number that `today()` gives.
 */
export function liveDoubts(
  rules: readonly CompiledRule[],
  cells: readonly Cell[],
  begun: CellMap,
  at: (report: CellMap) => ColumnTable,
  today?: number,
): LiveDoubts {
  const cellOf = new Map(cells.map(cell => [cell.key, cell]))
  const order = new Map(
    [...rules.map(ruleKey), ...cells.map(({ key }) => rangeKey(key))].map((key, at) => [key, at]),
  )
  const readers = new Map<string, CompiledRule[]>()
  for (const rule of rules) {
    for (const cell of rule.compiled.cells) {
      const those = readers.get(cell)
      if (those) those.push(rule)
      else readers.set(cell, [rule])
    }
  }
  let all = findDoubts(rules, cells, at(begun), today)[0]!
  const known = new Map(all.map(doubt => [doubt.key, doubt]))

  function look(changed: readonly string[], report: CellMap): Set<string> {
    const looked = new Set(changed.flatMap(cell => readers.get(cell) ?? []))
    const ranged = changed.flatMap(cell => cellOf.get(cell) ?? [])
    const touched = new Set<string>()
    const forget = (key: string) => {
      known.get(key)?.cells.forEach(cell => touched.add(cell))
      known.delete(key)
    }
    looked.forEach(rule => forget(ruleKey(rule)))
    ranged.forEach(({ key }) => forget(rangeKey(key)))
    for (const doubt of findDoubts([...looked], ranged, at(report), today)[0]!) {
      known.set(doubt.key, doubt)
      doubt.cells.forEach(cell => touched.add(cell))
    }
    if (touched.size)
      all = [...known.values()].sort((one, other) => order.get(one.key)! - order.get(other.key)!)
    return touched
  }
  return { all: () => all, look }
}
