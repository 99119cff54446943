import { vocabularyOf } from '../expression/vocabulary'
import type { Edition } from '../report/edition'
import { compileRuleList } from '../rule/compile-rules'

/**
 * A draft as far as it can be filled for trial: breakdowns that are there and have bands, and the rules that
 * compile.
 */
export function trialEdition(draft: Edition): Edition {
  const axes = draft.axes.filter(axis => axis.bands.length > 0)
  const known = new Set(axes.map(({ code }) => code))
  const sound: Edition = {
    ...draft,
    axes,
    indicators: [],
    sections: draft.sections
      .filter(section => section.items.length > 0)
      .map(section => ({
        ...section,
        items: section.items.map(item => ({ ...item, axes: item.axes.filter(code => known.has(code)) })),
      })),
  }
  const vocabulary = vocabularyOf(sound)
  const seen = new Set<string>()
  return {
    ...sound,
    rules: draft.rules.filter(
      rule => !seen.has(rule.code) && seen.add(rule.code) && compileRuleList([rule], vocabulary, axes).ok,
    ),
  }
}
