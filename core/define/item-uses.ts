import { compile } from '../expression/compile'
import { dependsOn } from '../expression/depends-on'
import { vocabularyOf } from '../expression/vocabulary'
import { itemsOf, type Edition, type Item, type Words } from '../report/edition'

/** What looks like a code: an expression that has a mistake still names what it would use. */
const CODES = /[a-z][a-z0-9_]*/g

/**
 * The names of the other items, rules, case counts and indicators that use an item, asked before the item is removed or
 * renamed.
 *
 * @example usesOfItem(edition, 'deliveries') // [{ en: 'More births than deliveries' }]
 */
export function usesOfItem(edition: Edition, code: string): Words[] {
  const vocabulary = vocabularyOf(edition)
  const isIn = (text: string): boolean => {
    const compiled = compile(text, vocabulary)
    const items = compiled.ok ? dependsOn(compiled.value).items : (text.match(CODES) ?? [])
    return items.includes(code)
  }
  const expressionsOf = ({ shownWhen, expression, required, acceptedIf = [] }: Item) =>
    [
      shownWhen,
      expression,
      typeof required === 'object' ? required.when : undefined,
      ...acceptedIf.map(one => one.expression),
    ].filter(text => text !== undefined)
  return [
    ...itemsOf(edition).filter(item => item.code !== code && expressionsOf(item).some(isIn)),
    ...edition.rules.filter(({ expression }) => isIn(expression)),
    ...(edition.caseCounts ?? []).filter(({ cells }) => cells.some(key => key.split('.')[0] === code)),
    ...edition.indicators.filter(({ numerator, denominator }) => isIn(numerator) || isIn(denominator)),
  ].map(({ name }) => name)
}
