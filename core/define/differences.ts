import type { CaseCount, Edition, IndicatorDefinition, Item, Words } from '../report/edition'
import type { RuleDefinition } from '../rule/definition'
import { same } from '../same'

/** One difference between two editions of a dataset, to be put into words. */
export interface Difference {
  what: 'dataset' | 'item' | 'section' | 'rule' | 'indicator' | 'caseCount' | 'timing' | 'axis'
  change: 'added' | 'removed' | 'changed' | 'moved'
  code: string
  name: Words
  /** Which parts of it changed: `name`, `definition`, `axes`, `rollUp`, `expression`, … */
  parts?: string[]
}

interface Coded {
  code: string
  name: Words
}
/** The codes of what has changed, by its kind: a difference without `what` narrowed to a dataset's. */
interface Told<What> {
  what: What
  change: Difference['change']
  code: string
  name: Words
  parts?: string[]
}

/** What two lists of coded things differ in, in the order of the newer, then what is gone. */
export function listDifferences<T extends Coded, What extends string>(
  what: What,
  before: readonly T[],
  after: readonly T[],
  parts: readonly (keyof T & string)[],
): Told<What>[] {
  const known = new Map(before.map(one => [one.code, one]))
  const codesAfter = new Set(after.map(({ code }) => code))
  return [
    ...after.flatMap((one): Told<What>[] => {
      const old = known.get(one.code)
      if (!old) return [{ what, change: 'added', code: one.code, name: one.name }]
      const changed = parts.filter(part => !same(old[part], one[part]))
      return changed.length
        ? [{ what, change: 'changed', code: one.code, name: one.name, parts: changed }]
        : []
    }),
    ...before
      .filter(({ code }) => !codesAfter.has(code))
      .map(({ code, name }): Told<What> => ({ what, change: 'removed', code, name })),
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
      if (numbers[earlier]! < number && lengths[earlier]! + 1 > lengths[at]!)
        [lengths[at], before[at]] = [lengths[earlier]! + 1, earlier]
    }
  })
  const row = new Set<number>()
  for (let at = lengths.indexOf(Math.max(...lengths)); at >= 0; at = before[at]!) row.add(at)
  return row
}

/** What both have, and what stands in another section or no longer in its old order. */
export function movedAmong<T extends Coded & { section: string }>(
  before: readonly T[],
  after: readonly T[],
): T[] {
  const old = new Map(before.map(({ code, section }, at) => [code, { section, at }]))
  const inBoth = after.filter(({ code }) => old.has(code))
  const inOrder = longestRising(inBoth.map(({ code }) => old.get(code)!.at))
  return inBoth.filter(({ code, section }, at) => !(inOrder.has(at) && old.get(code)!.section === section))
}

/** What a newer edition says otherwise than an older one. */
export function differences(before: Edition, after: Edition): Difference[] {
  const placed = (edition: Edition) =>
    edition.sections.flatMap(section =>
      section.items.map(({ code, name }) => ({ code, name, section: section.code })),
    )
  const items = (edition: Edition): Item[] => edition.sections.flatMap(section => section.items)
  const timing = (['opensAhead', 'dueDays', 'closeDays'] as const).filter(
    part => before.timing[part] !== after.timing[part],
  )
  const own = (['name', 'frequency'] as const).filter(part => !same(before[part], after[part]))
  return [
    ...(own.length
      ? [
          {
            what: 'dataset' as const,
            change: 'changed' as const,
            code: after.dataset,
            name: after.name,
            parts: own,
          },
        ]
      : []),
    ...listDifferences('section', before.sections, after.sections, ['name']),
    ...listDifferences('item', items(before), items(after), [
      'name',
      'definition',
      'unitOfMeasure',
      'kind',
      'rollUp',
      'range',
      'axes',
      'least',
      'most',
      'choices',
      'longest',
      'pattern',
      'expression',
      'shownWhen',
      'required',
      'acceptedIf',
    ]),
    ...movedAmong(placed(before), placed(after)).map(({ code, name }): Difference => ({
      what: 'item',
      change: 'moved',
      code,
      name,
    })),
    ...listDifferences('axis', before.axes, after.axes, ['name', 'bands']),
    ...listDifferences<RuleDefinition, 'rule'>('rule', before.rules, after.rules, [
      'name',
      'expression',
      'strength',
      'over',
      'branch',
      'from',
      'blanks',
      'forClerk',
      'forOfficer',
    ]),
    ...listDifferences<IndicatorDefinition, 'indicator'>('indicator', before.indicators, after.indicators, [
      'name',
      'numerator',
      'denominator',
      'factor',
      'unitOfMeasure',
    ]),
    ...listDifferences<CaseCount, 'caseCount'>('caseCount', before.caseCounts ?? [], after.caseCounts ?? [], [
      'name',
      'register',
      'cells',
      'where',
      'place',
      'residence',
      'date',
      'raises',
    ]),
    ...(timing.length
      ? [
          {
            what: 'timing' as const,
            change: 'changed' as const,
            code: 'timing',
            name: after.name,
            parts: timing,
          },
        ]
      : []),
  ]
}
