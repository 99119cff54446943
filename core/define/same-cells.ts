import { cellsOf, type Edition } from '../report/edition'

/**
 * Do two editions ask for the same cells, with the same kinds of answers? Then a report that was filled in
 * one can be judged by the other: only names, rules, ranges or their order differ.
 */
export function sameCells(one: Edition, other: Edition): boolean {
  const kinds = (edition: Edition) => new Map(cellsOf(edition).map(({ key, item }) => [key, item.kind]))
  const [mine, theirs] = [kinds(one), kinds(other)]
  return mine.size === theirs.size && [...mine].every(([key, kind]) => theirs.get(key) === kind)
}
