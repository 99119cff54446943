import type { Words } from '../report/edition'
import type { CallNode } from './syntax'
import type { ValueType } from './vocabulary'

/**
 * What a function takes in one place: a type; `any`; `ordered`, a number or a day, all such places alike;
 * `same`, anything, all such places alike.
 */
export type Parameter = ValueType | 'any' | 'ordered' | 'same'

/** What must be written out in one place, because it is settled before anything runs. */
export type Literal = 'periods' | 'digits' | 'day' | 'pattern'

/**
 * What becomes of the units of measure: all values share one and it stays; the first one's stays; a unit of
 * its own; or none.
 */
export type MeasureRule = 'shared' | 'first' | 'none' | { gives: string }

export interface Signature {
  takes: readonly Parameter[]
  gives: ValueType | 'same'
  /** How many arguments may be left out at the end. */
  optional?: number
  /** The last parameter may be repeated. */
  rest?: boolean
  literal?: { place: number; kind: Literal }
  /** Its first value is that of earlier periods, not of this one. */
  looksBack?: boolean
  measure: MeasureRule
  /**
   * In plain words: {1} and {2} are its values, {all} is all of them. With one value left out: `saysShort`.
   */
  says: Words
  saysShort?: Words
  does: Words
  /** One worked line, run by the tests and printed in docs/expressions.md. */
  example: string
}

/** How many periods back a function may look. */
export const FARTHEST_BACK = 60

const words = (en: string, fr: string): Words => ({ en, fr })
const BACK = { place: 1, kind: 'periods' } as const

/**
 * All functions of the language. `count` and `date` are written like functions too; `count` has a form of its
 * own.
 */
export const FUNCTIONS: Readonly<Record<string, Signature>> = {
  abs: {
    takes: ['number'],
    gives: 'number',
    measure: 'first',
    example: 'abs(3 - 5)',
    says: words('{1} without its sign', '{1} sans son signe'),
    does: words('The distance from zero.', 'La distance à zéro.'),
  },
  round: {
    takes: ['number', 'number'],
    gives: 'number',
    optional: 1,
    literal: { place: 1, kind: 'digits' },
    measure: 'first',
    example: 'round(2.345, 1)',
    says: words('{1} rounded to {2} decimals', '{1} arrondi à {2} décimales'),
    saysShort: words('{1} rounded', '{1} arrondi'),
    does: words(
      'The nearest whole number, or number with so many decimals; halves go away from zero.',
      'Le nombre entier (ou à tant de décimales) le plus proche ; les demis s’éloignent de zéro.',
    ),
  },
  floor: {
    takes: ['number'],
    gives: 'number',
    measure: 'first',
    example: 'floor(7 / 2)',
    says: words('{1} rounded down', '{1} arrondi vers le bas'),
    does: words('The largest whole number that is not above.', 'Le plus grand entier qui ne dépasse pas.'),
  },
  min: {
    takes: ['ordered'],
    gives: 'same',
    rest: true,
    measure: 'shared',
    example: 'min(4, 2, 9)',
    says: words('the least of {all}', 'le plus petit de {all}'),
    does: words(
      'The least of some numbers or days; blank when one is blank.',
      'Le plus petit de nombres ou de jours ; vide si l’un est vide.',
    ),
  },
  max: {
    takes: ['ordered'],
    gives: 'same',
    rest: true,
    measure: 'shared',
    example: 'max(4, 2, 9)',
    says: words('the largest of {all}', 'le plus grand de {all}'),
    does: words(
      'The largest of some numbers or days; blank when one is blank.',
      'Le plus grand de nombres ou de jours ; vide si l’un est vide.',
    ),
  },
  sum: {
    takes: ['number'],
    gives: 'number',
    rest: true,
    measure: 'shared',
    example: 'sum(1, 2, 3)',
    says: words('the sum of {all}', 'la somme de {all}'),
    does: words(
      'The same as a row of +: blank when one is blank.',
      'Comme une suite de + : vide si l’un est vide.',
    ),
  },
  coalesce: {
    takes: ['same'],
    gives: 'same',
    rest: true,
    measure: 'shared',
    example: 'coalesce(not_yet, 5)',
    says: words('the first of {all} that is known', 'le premier connu de {all}'),
    does: words('The first value that is not blank.', 'La première valeur qui n’est pas vide.'),
  },
  filled: {
    takes: ['any'],
    gives: 'truth',
    measure: 'none',
    example: 'filled(not_yet)',
    says: words('{1} is answered', '{1} a une réponse'),
    does: words(
      'Has somebody answered? “Not known” and “not offered here” are answers. Never unknown.',
      'Quelqu’un a-t-il répondu ? « Inconnu » et « non offert ici » sont des réponses. Jamais inconnu.',
    ),
  },
  if: {
    takes: ['truth', 'same', 'same'],
    gives: 'same',
    measure: 'shared',
    example: 'if(deliveries > 50, 1, 0)',
    says: words('{2} if {1}, else {3}', '{2} si {1}, sinon {3}'),
    does: words(
      'One of two values; blank when the condition is unknown.',
      'L’une de deux valeurs ; vide si la condition est inconnue.',
    ),
  },
  previous: {
    takes: ['any', 'number'],
    gives: 'same',
    optional: 1,
    literal: BACK,
    looksBack: true,
    measure: 'first',
    example: 'previous(deliveries)',
    says: words('{1} of {2} periods before', '{1} d’il y a {2} périodes'),
    saysShort: words('{1} of the period before', '{1} de la période précédente'),
    does: words(
      'The value one period before, or so many periods before.',
      'La valeur de la période précédente, ou d’il y a tant de périodes.',
    ),
  },
  mean_of_last: {
    takes: ['number', 'number'],
    gives: 'number',
    literal: BACK,
    looksBack: true,
    measure: 'first',
    example: 'mean_of_last(deliveries, 3)',
    says: words(
      'the mean of {1} over the {2} periods before',
      'la moyenne de {1} sur les {2} périodes précédentes',
    ),
    does: words(
      'The mean of the known values of so many periods before this one; blank when none is known.',
      'La moyenne des valeurs connues de tant de périodes précédentes ; vide si aucune n’est connue.',
    ),
  },
  sum_of_last: {
    takes: ['number', 'number'],
    gives: 'number',
    literal: BACK,
    looksBack: true,
    measure: 'first',
    example: 'sum_of_last(deliveries, 3)',
    says: words(
      'the sum of {1} over the {2} periods before',
      'la somme de {1} sur les {2} périodes précédentes',
    ),
    does: words(
      'The sum over so many periods before this one; blank when one of them is blank.',
      'La somme de tant de périodes précédentes ; vide si l’une est vide.',
    ),
  },
  year_before: {
    takes: ['any'],
    gives: 'same',
    looksBack: true,
    measure: 'first',
    example: 'year_before(deliveries)',
    says: words('{1} of the same period a year before', '{1} de la même période un an avant'),
    does: words(
      'The value of the same period one year before, as the calendar has it: the same quarter, the week of the same number. A week 53 or a 29 February mostly has none.',
      'La valeur de la même période un an avant, selon le calendrier : le même trimestre, la semaine du même numéro. Une semaine 53 ou un 29 février n’en a souvent pas.',
    ),
  },
  days_between: {
    takes: ['day', 'day'],
    gives: 'number',
    measure: { gives: 'days' },
    example: 'days_between(date("2026-09-28"), seen_on)',
    says: words('the days from {1} to {2}', 'les jours de {1} à {2}'),
    does: words(
      'Days from the first day to the second; below zero when the second is earlier.',
      'Jours du premier jour au second ; négatif si le second est plus tôt.',
    ),
  },
  months_between: {
    takes: ['day', 'day'],
    gives: 'number',
    measure: { gives: 'months' },
    example: 'months_between(date("2026-01-31"), date("2026-02-28"))',
    says: words('the completed months from {1} to {2}', 'les mois révolus de {1} à {2}'),
    does: words(
      'Completed months from the first day to the second.',
      'Mois révolus du premier jour au second.',
    ),
  },
  years_between: {
    takes: ['day', 'day'],
    gives: 'number',
    measure: { gives: 'years' },
    example: 'years_between(date("2021-10-06"), seen_on)',
    says: words('the completed years from {1} to {2}', 'les années révolues de {1} à {2}'),
    does: words(
      'Completed years from the first day to the second, as an age is counted.',
      'Années révolues du premier jour au second, comme un âge.',
    ),
  },
  date: {
    takes: ['text'],
    gives: 'day',
    literal: { place: 0, kind: 'day' },
    measure: 'none',
    example: 'date("2026-10-05")',
    says: words('{1}', '{1}'),
    does: words('A day, written as ISO 8601 writes it.', 'Un jour, écrit selon ISO 8601.'),
  },
  today: {
    takes: [],
    gives: 'day',
    measure: 'none',
    example: 'today()',
    says: words('today', 'aujourd’hui'),
    does: words('The day on which the expression runs.', 'Le jour où l’expression est calculée.'),
  },
  period_start: {
    takes: [],
    gives: 'day',
    measure: 'none',
    example: 'period_start()',
    says: words('the first day of the period', 'le premier jour de la période'),
    does: words('The first day of the report’s period.', 'Le premier jour de la période du rapport.'),
  },
  period_end: {
    takes: [],
    gives: 'day',
    measure: 'none',
    example: 'days_between(period_start(), period_end()) + 1',
    says: words('the last day of the period', 'le dernier jour de la période'),
    does: words('The last day of the report’s period.', 'Le dernier jour de la période du rapport.'),
  },
  length: {
    takes: ['text'],
    gives: 'number',
    measure: 'none',
    example: 'length(village)',
    says: words('the number of characters of {1}', 'le nombre de caractères de {1}'),
    does: words('How many characters a text has.', 'Combien de caractères a un texte.'),
  },
  matches: {
    takes: ['text', 'text'],
    gives: 'truth',
    literal: { place: 1, kind: 'pattern' },
    measure: 'none',
    example: 'matches(village, "[A-Z][a-z]+")',
    says: words('{1} has the form {2}', '{1} a la forme {2}'),
    does: words(
      'Does the whole text have the form of a pattern? Signs: . [a-z] [^a-z] \\d \\w \\s ( ) | * + ? {2,4}. Takes time in proportion to the text.',
      'Le texte entier a-t-il la forme d’un motif ? Signes : . [a-z] [^a-z] \\d \\w \\s ( ) | * + ? {2,4}. Le temps reste proportionnel au texte.',
    ),
  },
  includes: {
    takes: ['answers', 'text'],
    gives: 'truth',
    measure: 'none',
    example: 'includes(symptoms, "fever")',
    says: words('{1} include {2}', '{1} comprend {2}'),
    does: words(
      'Is a choice among those that were chosen?',
      'Un choix est-il parmi ceux qui ont été faits ?',
    ),
  },
  plain: {
    takes: ['number'],
    gives: 'number',
    measure: 'none',
    example: 'plain(doses_used) >= plain(deliveries)',
    says: words('{1}', '{1}'),
    does: words(
      'The number without its unit of measure, to compare unlike things on purpose.',
      'Le nombre sans son unité de mesure, pour comparer exprès des choses différentes.',
    ),
  },
}

/** How many periods back a call of `previous` or its like looks: what is written out, or one. */
export const periodsBack = ({ args }: CallNode): number => (args[1]?.type === 'number' ? args[1].value : 1)

/** The signature of a function, or undefined for a word that is none (`toString` is none). */
export const signatureOf = (name: string): Signature | undefined =>
  Object.hasOwn(FUNCTIONS, name) ? FUNCTIONS[name] : undefined
