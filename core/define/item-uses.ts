import { compile } from '../expression/compile'
import { dependsOn } from '../expression/depends-on'
import { vocabularyOf } from '../expression/vocabulary'
import type { Edition, Words } from '../report/edition'

/** What looks like a code: an expression that has a mistake still names what it would use. */
const CODES = /[a-z][a-z0-9_]*/g

/**
 * The names of the rules and indicators that use an item, asked before the item is removed or renamed.
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
  return [
    ...edition.rules.filter(({ expression }) => isIn(expression)),
    ...edition.indicators.filter(({ numerator, denominator }) => isIn(numerator) || isIn(denominator)),
  ].map(({ name }) => name)
}
