import type { Edition, Item, Words } from '../report/edition'
import { axesOf } from '../report/edition'
import type { RuleDefinition } from '../rule/definition'

/** Common checks that a rule can begin from. What they are about is common practice of the trade. */
export const RULE_STARTS = ['partWithinWhole', 'sumIs', 'stockBalances', 'notAsLast', 'withinUsual'] as const
export type RuleStart = (typeof RULE_STARTS)[number]

/** What each start asks for, by the names of its parts in the words of the interface. */
export const PARTS_OF_START: Record<RuleStart, readonly string[]> = {
  partWithinWhole: ['part', 'whole'],
  sumIs: ['part', 'otherPart', 'whole'],
  stockBalances: ['opening', 'receivedStock', 'used', 'closing'],
  notAsLast: ['value'],
  withinUsual: ['value'],
}

interface Sentences {
  name: Words
  clerk: Words
}

const SENTENCES: Record<RuleStart, (names: (language: string) => string[]) => Sentences> = {
  partWithinWhole: names => ({
    name: {
      en: `${names('en')[0]} within ${names('en')[1]}`,
      fr: `${names('fr')[0]} dans ${names('fr')[1]}`,
    },
    clerk: {
      en: `${names('en')[0]} cannot be more than ${names('en')[1]}. Please count both again.`,
      fr: `${names('fr')[0]} ne peut dépasser ${names('fr')[1]}. Veuillez recompter les deux.`,
    },
  }),
  sumIs: names => ({
    name: {
      en: `${names('en')[2]} is the sum of its parts`,
      fr: `${names('fr')[2]} est la somme de ses parties`,
    },
    clerk: {
      en: `${names('en')[0]} and ${names('en')[1]} together must make ${names('en')[2]}.`,
      fr: `${names('fr')[0]} et ${names('fr')[1]} doivent donner ensemble ${names('fr')[2]}.`,
    },
  }),
  stockBalances: names => ({
    name: { en: `Stock balances: ${names('en')[3]}`, fr: `Le stock s’équilibre : ${names('fr')[3]}` },
    clerk: {
      en: 'What was there, plus what came, minus what was used must be what is left.',
      fr: 'Ce qu’il y avait, plus les entrées, moins les sorties doit donner ce qui reste.',
    },
  }),
  notAsLast: names => ({
    name: {
      en: `${names('en')[0]} is not last period’s figure again`,
      fr: `${names('fr')[0]} n’est pas repris de la période d’avant`,
    },
    clerk: {
      en: 'This is exactly the number of the last period. Was it counted anew?',
      fr: 'C’est exactement le nombre de la période précédente. A-t-il été recompté ?',
    },
  }),
  withinUsual: names => ({
    name: {
      en: `${names('en')[0]} is not far from usual`,
      fr: `${names('fr')[0]} n’est pas loin de l’habitude`,
    },
    clerk: {
      en: 'This is less than a third or more than three times the mean of the last six periods.',
      fr: 'C’est moins du tiers ou plus du triple de la moyenne des six dernières périodes.',
    },
  }),
}

const EXPRESSIONS: Record<RuleStart, (...codes: string[]) => string> = {
  partWithinWhole: (part, whole) => `${part} <= ${whole}`,
  sumIs: (part, other, whole) => `${part} + ${other} = ${whole}`,
  stockBalances: (opening, received, used, closing) => `${closing} = ${opening} + ${received} - ${used}`,
  notAsLast: value => `${value} != previous(${value}) or ${value} < 5`,
  withinUsual: value =>
    `mean_of_last(${value}, 6) < 10 or ${value} between mean_of_last(${value}, 6) / 3 and mean_of_last(${value}, 6) * 3`,
}

/**
 * A rule from a start, ready to be changed. Where all its items have axes in common, it goes over them.
 * @param code of the new rule; @param items in the order of {@link PARTS_OF_START}.
 */
export function startRule(
  edition: Edition,
  start: RuleStart,
  code: string,
  items: readonly Item[],
): RuleDefinition {
  const shared =
    items.length > 1
      ? axesOf(edition, items[0]!)
          .map(axis => axis.code)
          .filter(axis => items.every(item => item.axes.includes(axis)))
      : []
  const { name, clerk } = SENTENCES[start](language =>
    items.map(one => one.name[language] ?? one.name.en ?? one.code),
  )
  return {
    code,
    name,
    expression: EXPRESSIONS[start](...items.map(one => one.code)),
    strength: ['partWithinWhole', 'sumIs', 'stockBalances'].includes(start) ? 'mustFix' : 'explain',
    ...(shared.length && { over: shared.length === 1 ? shared[0]! : shared }),
    blanks: 'notJudged',
    forClerk: clerk,
    forOfficer: name,
  }
}
