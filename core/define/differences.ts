import type { Edition, IndicatorDefinition, Item, Words } from '../report/edition'
import type { RuleDefinition } from '../rule/definition'

/** One difference between two editions of a dataset, to be put into words. */
export interface Difference {
  what: 'item' | 'section' | 'rule' | 'indicator' | 'timing' | 'axis'
  change: 'added' | 'removed' | 'changed' | 'moved'
  code: string
  name: Words
  /** Which parts of it changed: `name`, `definition`, `axes`, `rollUp`, `expression`, … */
  parts?: string[]
}

const same = (one: unknown, other: unknown) => JSON.stringify(one) === JSON.stringify(other)

interface Coded { code: string; name: Words }

/** What two lists of coded things differ in, in the order of the newer, then what is gone. */
function listDifferences<T extends Coded>(what: Difference['what'], before: readonly T[], after: readonly T[], parts: readonly (keyof T & string)[]): Difference[] {
  const known = new Map(before.map(one => [one.code, one]))
  const kept = new Set(after.map(({ code }) => code))
  return [
    ...after.flatMap((one): Difference[] => {
      const old = known.get(one.code)
      if (!old) return [{ what, change: 'added', code: one.code, name: one.name }]
      const changed = parts.filter(part => !same(old[part], one[part]))
      return changed.length ? [{ what, change: 'changed', code: one.code, name: one.name, parts: changed }] : []
    }),
    ...before.filter(({ code }) => !kept.has(code)).map(({ code, name }): Difference => ({ what, change: 'removed', code, name })),
  ]
}

/** The places of a longest row of rising numbers: what of a reordered list kept its order. */
function longestRising(numbers: readonly number[]): Set<number> {
  const lengths: number[] = []
  const before: number[] = []
  numbers.forEach((number, at) => {
    lengths[at] = 1
    before[at] = -1
    for (let earlier = 0; earlier < at; earlier++) {
      if (numbers[earlier]! < number && lengths[earlier]! + 1 > lengths[at]!) [lengths[at], before[at]] = [lengths[earlier]! + 1, earlier]
    }
  })
  const kept = new Set<number>()
  for (let at = lengths.indexOf(Math.max(...lengths)); at >= 0; at = before[at]!) kept.add(at)
  return kept
}

/** Items that both have, and that stand in another section or no longer in their old order. */
function movedItems(before: Edition, after: Edition): Difference[] {
  const placed = (edition: Edition) => edition.sections.flatMap(section => section.items.map(item => ({ item, section: section.code })))
  const old = new Map(placed(before).map(({ item, section }, at) => [item.code, { section, at }]))
  const inBoth = placed(after).filter(({ item }) => old.has(item.code))
  const kept = longestRising(inBoth.map(({ item }) => old.get(item.code)!.at))
  return inBoth.flatMap(({ item, section }, at): Difference[] =>
    (kept.has(at) && old.get(item.code)!.section === section ? [] : [{ what: 'item', change: 'moved', code: item.code, name: item.name }]))
}

/** What a newer edition says otherwise than an older one. */
export function differences(before: Edition, after: Edition): Difference[] {
  const items = (edition: Edition): Item[] => edition.sections.flatMap(section => section.items)
  const timing = (['opensAhead', 'dueDays', 'closeDays'] as const).filter(part => before.timing[part] !== after.timing[part])
  return [
    ...listDifferences('section', before.sections, after.sections, ['name']),
    ...listDifferences('item', items(before), items(after), ['name', 'definition', 'unitOfMeasure', 'number', 'rollUp', 'range', 'axes']),
    ...movedItems(before, after),
    ...listDifferences('axis', before.axes, after.axes, ['name', 'bands']),
    ...listDifferences<RuleDefinition>('rule', before.rules, after.rules, ['name', 'expression', 'strength', 'over', 'blanks', 'forClerk', 'forOfficer']),
    ...listDifferences<IndicatorDefinition>('indicator', before.indicators, after.indicators, ['name', 'numerator', 'denominator', 'factor', 'unitOfMeasure']),
    ...(timing.length ? [{ what: 'timing' as const, change: 'changed' as const, code: 'timing', name: after.name, parts: timing }] : []),
  ]
}
