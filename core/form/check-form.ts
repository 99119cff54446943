import { parsePattern } from '../expression/pattern'
import type { Problem } from '../result'
import { checkCode } from './code'
import { outline, type Outline, type Placed } from './outline'
import type { Choice, Form } from './question'

/** The problem of one question: its place is its code. */
export const formProblem = (
  code: string,
  question: string,
  message: string,
  values: Problem['values'] = {},
): Problem => ({ code, message, at: `questions/${question}`, values: { question, ...values } })

/**
 * What is wrong with the outline of a form, before any expression is read: codes that cannot be or stand
 * twice (`code-form`, `code-too-long`, `code-reserved`, `code-taken`), breakdowns that are not there
 * (`form-no-axis`) or more than two (`form-axes`), a computed answer in a breakdown of its own, choices that
 * are missing or double (`form-no-choices`, `form-choice-double`), two bands of one code in a breakdown or
 * table (`form-band-double`), cascades that lead nowhere (`form-cascade`, `form-choice-under`), patterns that
 * cannot be read, empty tables, repeats and sections (`form-empty`).
 */
export function checkOutline(form: Form, flat: Outline = outline(form)): Problem[] {
  const problems: Problem[] = []
  const taken = new Set<string>()
  for (const code of [
    ...flat.frames.map(({ part }) => part.code),
    ...flat.placed.map(({ question }) => question.code),
  ]) {
    const checked = checkCode(code, taken)
    if (!checked.ok)
      problems.push(
        ...checked.problems.map(({ code: why, message, values }) => formProblem(why, code, message, values)),
      )
    taken.add(code)
  }
  for (const { code, bands } of form.axes ?? []) {
    for (const band of doubles(bands)) {
      problems.push({
        ...formProblem('form-band-double', code, `The breakdown ${code} has two bands ${band}.`, {
          band,
          axis: code,
        }),
        at: `axes/${code}`,
      })
    }
  }
  for (const { part } of flat.frames) {
    if (part.kind === 'table') {
      for (const band of doubles(part.rows))
        problems.push(
          formProblem('form-band-double', part.code, `${part.code} has two rows ${band}.`, {
            band,
            axis: part.code,
          }),
        )
    }
    const inside =
      part.kind === 'table'
        ? Math.min(part.rows.length, part.columns.length)
        : part.kind === 'note'
          ? 1
          : part.parts.length
    if (inside === 0) problems.push(formProblem('form-empty', part.code, `There is nothing in ${part.code}.`))
  }
  return [...problems, ...flat.placed.flatMap(placed => checkQuestion(placed, form, flat))]
}

function checkQuestion(placed: Placed, form: Form, flat: Outline): Problem[] {
  const { question } = placed
  const problems: Problem[] = []
  const tell = (code: string, message: string, values: Problem['values'] = {}) =>
    problems.push(formProblem(code, question.code, message, values))
  if ('axes' in question) {
    const strange = question.axes?.find(code => !form.axes?.some(axis => axis.code === code))
    if (strange !== undefined)
      tell('form-no-axis', `${question.code} is split by ${strange}, which is no breakdown here.`, {
        axis: strange,
      })
  }
  if (new Set(placed.axes).size < placed.axes.length)
    tell('form-axes', `${question.code} is split twice by one breakdown.`)
  if (placed.axes.length > 2) tell('form-axes', `${question.code} is split by more than two breakdowns.`)
  if (question.kind === 'oneOf' || question.kind === 'severalOf')
    problems.push(...checkChoices(question.code, question.choices))
  if ('cascade' in question && question.cascade !== undefined)
    problems.push(...checkCascade(placed, question.cascade, flat))
  if ('pattern' in question && question.pattern !== undefined) {
    const pattern = parsePattern(question.pattern)
    if (!pattern.ok)
      problems.push(
        ...pattern.problems.map(({ code, message, values }) =>
          formProblem(code, question.code, message, values),
        ),
      )
  }
  return problems
}

function checkChoices(question: string, choices: readonly Choice[]): Problem[] {
  if (choices.length === 0) return [formProblem('form-no-choices', question, `${question} has no choices.`)]
  return doubles(choices).map(choice =>
    formProblem('form-choice-double', question, `${question} has the choice ${choice} twice.`, { choice }),
  )
}

/** The codes that stand there already, each time again. */
function doubles(list: readonly { code: string }[]): string[] {
  const seen = new Set<string>()
  return list.flatMap(({ code }) => {
    const double = seen.has(code)
    seen.add(code)
    return double ? [code] : []
  })
}

function checkCascade({ question, repeat }: Placed, cascade: string, flat: Outline): Problem[] {
  const above = flat.placed.find(placed => placed.question.code === cascade)
  const chosen = above && (above.question.kind === 'oneOf' || above.question.kind === 'unit')
  if (!chosen || above.table || (above.repeat && above.repeat !== repeat)) {
    return [
      formProblem(
        'form-cascade',
        question.code,
        `The choices of ${question.code} depend on ${cascade}, which is no single choice that it can see.`,
        { cascade },
      ),
    ]
  }
  if (above.question.kind !== 'oneOf' || !('choices' in question)) return []
  const known = new Set(above.question.choices.map(({ code }) => code))
  return question.choices
    .filter(({ under }) => under !== undefined && !known.has(under))
    .map(({ code, under }) =>
      formProblem(
        'form-choice-under',
        question.code,
        `The choice ${code} is under ${under}, which is no choice of ${cascade}.`,
        { choice: code, under: under! },
      ),
    )
}
