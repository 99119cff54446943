import type { Words } from '../report/edition'
import type { BinaryOperator } from './syntax'

/**
 * How the language sounds in plain words. {1} and {2} are the two sides. They belong to the language as its
 * functions do, and are needed where there is no interface: on paper, in exports, in the report that is
 * signed.
 */
const words = (en: string, fr: string): Words => ({ en, fr })

export const OPERATOR_PHRASES: Record<BinaryOperator, Words> = {
  '+': words('{1} plus {2}', '{1} plus {2}'),
  '-': words('{1} less {2}', '{1} moins {2}'),
  '*': words('{1} times {2}', '{1} fois {2}'),
  '/': words('{1} divided by {2}', '{1} divisé par {2}'),
  '=': words('{1} is equal to {2}', '{1} est égal à {2}'),
  '!=': words('{1} is not {2}', '{1} n’est pas {2}'),
  '<': words('{1} is less than {2}', '{1} est inférieur à {2}'),
  '<=': words('{1} is at most {2}', '{1} est au plus {2}'),
  '>': words('{1} is more than {2}', '{1} est supérieur à {2}'),
  '>=': words('{1} is at least {2}', '{1} est au moins {2}'),
  and: words('{1}, and {2}', '{1}, et {2}'),
  or: words('{1}, or {2}', '{1}, ou {2}'),
  implies: words('if {1}, then {2}', 'si {1}, alors {2}'),
}

/** Days are not less or more, but before and after; texts and answers just are. */
export const DAY_PHRASES: Partial<Record<BinaryOperator, Words>> = {
  '=': words('{1} is {2}', '{1} est {2}'),
  '<': words('{1} is before {2}', '{1} est avant {2}'),
  '<=': words('{1} is not after {2}', '{1} n’est pas après {2}'),
  '>': words('{1} is after {2}', '{1} est après {2}'),
  '>=': words('{1} is not before {2}', '{1} n’est pas avant {2}'),
}

export const PHRASES = {
  not: words('it is not so that {1}', 'il n’est pas vrai que {1}'),
  minus: words('minus {1}', 'moins {1}'),
  between: words('{1} is from {2} to {3}', '{1} est compris entre {2} et {3}'),
  in: words('{1} is {2}', '{1} est {2}'),
  is: words('{1} is {2}', '{1} est {2}'),
  count: words('the number of {1}', 'le nombre de {1}'),
  countWhere: words('the number of {1} where {2}', 'le nombre de {1} où {2}'),
  of: words('{1} ({2})', '{1} ({2})'),
  yes: words('yes', 'oui'),
  no: words('no', 'non'),
  and: words(' and ', ' et '),
  or: words(' or ', ' ou '),
} as const

/** Puts texts into the places of a phrase. */
export const fill = (phrase: string, ...texts: string[]): string =>
  phrase.replace(/\{(\d)\}/g, (_, place: string) => texts[Number(place) - 1] ?? '')
