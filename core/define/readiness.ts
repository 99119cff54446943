import { listsOf, NOTHING, vocabularyOf } from '../expression/vocabulary'
import { compileForm } from '../form/compile-form'
import type { Form } from '../form/question'
import { formOfEdition } from '../form/form-of-edition'
import { isTypedNumber } from '../report/asked'
import { cellsOf, itemsOf, ROLL_UPS, type CaseCount, type Edition } from '../report/edition'
import type { Problem } from '../result'
import { compileRules } from '../rule/compile-rules'
import { compile } from '../expression/compile'

/** One thing that a draft lacks. `must` stands against publishing; `should` is said and may be left. */
export interface Lack {
  weight: 'must' | 'should'
  code: string
  /** What it is about: `items/deliveries`, `rules/within`, `dataset`. */
  at: string
  values?: Problem['values']
  /** Behind a mistake in an expression: what is wrong with it. */
  problem?: Problem
}

const lack = (weight: Lack['weight'], code: string, at: string, values: Problem['values'] = {}): Lack => ({
  weight,
  code,
  at,
  values,
})

/**
 * What stands between a draft and its publishing.
 * @param reporting how many units would report it now.
 * @param languages those of the installation: each label and definition should be there in each.
 * @param published the newest edition: an item that has another kind there would tear its history.
 */
export function readiness(
  draft: Edition,
  reporting: number,
  languages: readonly string[],
  published: Edition | null = null,
): Lack[] {
  const items = itemsOf(draft)
  const found: Lack[] = []
  const kindBefore = new Map((published ? itemsOf(published) : []).map(({ code, kind }) => [code, kind]))
  const form = formOfEdition(draft)
  const outlineProblems = form.ok ? [] : form.problems
  if (items.length === 0) found.push(lack('must', 'no-items', 'dataset'))
  if (reporting === 0) found.push(lack('must', 'nobody-reports', 'dataset'))
  found.push(
    ...outlineProblems.map((problem): Lack => ({
      weight: 'must',
      code: 'outline',
      at: String(problem.at ?? 'dataset').replace('questions/', 'items/'),
      values: problem.values,
      problem,
    })),
  )
  for (const item of items) {
    const at = `items/${item.code}`
    const missing = languages.filter(language => !item.name[language]?.trim())
    if (missing.length) found.push(lack('should', 'no-name-in', at, { languages: missing.join(', ') }))
    const without = languages.filter(language => !item.definition[language]?.trim())
    if (without.length === languages.length) found.push(lack('should', 'no-definition', at))
    else if (without.length)
      found.push(lack('should', 'no-definition-in', at, { languages: without.join(', ') }))
    if (item.range === null && isTypedNumber(item.kind)) found.push(lack('should', 'no-range', at))
    if (item.axes.length && !isTypedNumber(item.kind)) found.push(lack('must', 'split-kind', at))
    if (!ROLL_UPS[item.kind].includes(item.rollUp)) found.push(lack('must', 'roll-up-kind', at))
    const choices = (item.choices ?? []).filter(({ label }) => languages.some(one => !label[one]?.trim()))
    if (choices.length)
      found.push(lack('should', 'no-choice-in', at, { names: choices.map(({ code }) => code).join(', ') }))
    const before = kindBefore.get(item.code)
    if (before !== undefined && before !== item.kind)
      found.push(lack('must', 'kind-changed', at, { edition: published!.number }))
  }
  return form.ok ? [...found, ...expressionLacks(draft, form.value)] : found
}

/** The conditions of items, and how they are computed: within the report, as in a case form. */
function conditionLacks(form: Form): Lack[] {
  const compiled = compileForm(form)
  const problems = compiled.ok
    ? [...compiled.value.vocabulary.whole.names.values()].flatMap(({ code, type }) =>
        compiled.value.kindOf.get(code) === 'computed' && type !== 'number'
          ? [{ code: 'item-computes-number', message: `${code} is no number.`, values: { question: code } }]
          : [],
      )
    : compiled.problems
  return problems.map(problem => ({
    weight: 'must',
    code: 'condition',
    at: problem.values?.question ? `items/${problem.values.question}` : 'dataset',
    problem,
  }))
}

/** Rules and indicators that do not fit the items: one that names what was removed is such a one. */
function expressionLacks(draft: Edition, form: Form): Lack[] {
  const conditions = conditionLacks(form)
  if (conditions.length) return conditions
  const vocabulary = vocabularyOf(draft)
  const rules = compileRules(draft, vocabulary)
  const ofRules = rules.ok
    ? []
    : rules.problems.map((problem): Lack => ({
        weight: 'must',
        code: 'rule',
        at: `rules/${problem.values?.rule}`,
        problem,
      }))
  const ofReport = vocabularyOf(draft, NOTHING)
  const ofIndicators = draft.indicators.flatMap(({ code, numerator, denominator }) =>
    [numerator, denominator].flatMap(text => {
      const compiled = compile(text, ofReport, 'number')
      return compiled.ok
        ? []
        : compiled.problems.map((problem): Lack => ({
            weight: 'must',
            code: 'indicator',
            at: `indicators/${code}`,
            problem,
          }))
    }),
  )
  return [...ofRules, ...ofIndicators, ...(draft.caseCounts ?? []).flatMap(one => caseCountLacks(draft, one))]
}

/** What a count of cases names and is not there: cells, the register, its questions; or a mistake in its condition. */
function caseCountLacks(
  draft: Edition,
  { code, cells, register, date, place, residence, where }: CaseCount,
): Lack[] {
  const at = `caseCounts/${code}`
  const numbers = new Set(cellsOf(draft).flatMap(({ key, item }) => (isTypedNumber(item.kind) ? [key] : [])))
  const gone = cells.filter(key => !numbers.has(key))
  const names = draft.counts?.find(one => one.code === register)
  const found: Lack[] = []
  if (!cells.length) found.push(lack('must', 'count-no-cells', at))
  if (gone.length) found.push(lack('must', 'count-cells-gone', at, { cells: gone.join(', ') }))
  if (!names) return [...found, lack('must', 'count-no-register', at, { register })]
  const typeOf = (question: string | undefined) => names.questions.find(one => one.code === question)?.type
  if (typeOf(date) !== 'day') found.push(lack('must', 'count-no-date', at))
  if (place === 'residence' && typeOf(residence) !== 'text')
    found.push(lack('must', 'count-no-residence', at))
  const compiled = where === undefined ? null : compile(where, listsOf(draft).get(register)!, 'truth')
  if (compiled && !compiled.ok)
    found.push(
      ...compiled.problems.map((problem): Lack => ({ weight: 'must', code: 'count-where', at, problem })),
    )
  return found
}
