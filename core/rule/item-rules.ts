import { LANGUAGES } from '../languages'
import { itemsOf, wordsIn, type Edition, type Item, type Words } from '../report/edition'
import type { RuleDefinition } from './definition'

/** How the codes of those rules begin that say that an item is needed. */
export const NEEDED = 'needed.'

type Say = (name: string) => Words

const NEEDED_NAME: Say = name => ({ en: `Needed: ${name}`, fr: `Nécessaire\u00a0: ${name}` })
const NEEDED_CLERK: Say = name => ({
  en: `“${name}” needs an answer. “Not known” with a reason is one too.`,
  fr: `«\u00a0${name}\u00a0» demande une réponse. «\u00a0Inconnu\u00a0» avec une raison en est une aussi.`,
})
const NEEDED_OFFICER: Say = name => ({
  en: `“${name}” was left without an answer.`,
  fr: `«\u00a0${name}\u00a0» est resté sans réponse.`,
})
const APPLIES: Say = name => ({ en: `Does not apply: ${name}`, fr: `Ne s’applique pas\u00a0: ${name}` })
const APPLIES_SAYS: Say = name => ({
  en: `“${name}” is answered, and the other answers say that it does not apply.`,
  fr: `«\u00a0${name}\u00a0» a une réponse, et les autres réponses disent que cela ne s’applique pas.`,
})
const REFUSED: Say = name => ({ en: `Not possible: ${name}`, fr: `Impossible\u00a0: ${name}` })

/** A sentence about an item in each language. */
const about = (item: Item, say: Say): Words =>
  Object.fromEntries(LANGUAGES.map(language => [language, say(wordsIn(item.name, language))[language]!]))

/**
 * That an item has a value: unknown where it has none, so that *not offered here* and *not known* of what
 * does not apply are no doubt.
 */
function hasValue({ code, kind, choices = [] }: Item): string {
  const either = (truth: string) => inBrackets(`${truth} or not ${truth}`)
  if (kind === 'yesNo') return either(code)
  if (kind === 'severalOf') return either(`includes(${code}, "${choices[0]?.code ?? ''}")`)
  return kind === 'text' || kind === 'oneOf' ? `length(${code}) >= 0` : `${code} = ${code}`
}

const inBrackets = (expression: string) => `(${expression})`

function rulesOfItem(item: Item): RuleDefinition[] {
  const { code, shownWhen, required, acceptedIf = [] } = item
  const rule = (
    kind: string,
    expression: string,
    name: Words,
    forClerk: Words,
    forOfficer: Words,
  ): RuleDefinition => ({
    code: `${kind}${code}`,
    name,
    expression,
    strength: 'mustFix',
    blanks: 'notJudged',
    forClerk,
    forOfficer,
  })
  const when = [shownWhen, typeof required === 'object' ? required.when : undefined].flatMap(one =>
    one?.trim() ? [inBrackets(one)] : [],
  )
  return [
    ...(required === undefined
      ? []
      : [
          rule(
            NEEDED,
            when.length ? `${when.join(' and ')} implies filled(${code})` : `filled(${code})`,
            about(item, NEEDED_NAME),
            about(item, NEEDED_CLERK),
            about(item, NEEDED_OFFICER),
          ),
        ]),
    ...(shownWhen?.trim()
      ? [
          rule(
            'applies.',
            `${hasValue(item)} implies ${inBrackets(shownWhen)}`,
            about(item, APPLIES),
            about(item, APPLIES_SAYS),
            about(item, APPLIES_SAYS),
          ),
        ]
      : []),
    ...acceptedIf.map(({ expression, message }, at) =>
      rule(`accepted${at + 1}.`, expression, about(item, REFUSED), message, message),
    ),
  ]
}

/**
 * What the conditions of an edition's items say, as rules: an item that is needed and has no answer, one that
 * is answered although it does not apply, and an answer that is not accepted. So they are judged while
 * typing, explained, settled and counted as every other doubt. Their codes have a dot, so that they are never
 * those of a rule that somebody wrote: `needed.last_service`.
 */
export const itemRules = (edition: Edition): RuleDefinition[] => itemsOf(edition).flatMap(rulesOfItem)

/** All that an edition is judged by: the conditions of its items, and its own rules. */
export const rulesOf = (edition: Edition): RuleDefinition[] => [...itemRules(edition), ...edition.rules]
