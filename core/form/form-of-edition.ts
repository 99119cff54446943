import type { Edition, Item } from '../report/edition'
import { good, type Result } from '../result'
import { checkOutline } from './check-form'
import type { AnswerQuestion, Form } from './question'

const questionOf = ({
  code,
  name,
  definition,
  number,
  unitOfMeasure,
  range,
  axes,
}: Item): AnswerQuestion => ({
  kind: number === 'count' ? 'wholeNumber' : 'decimal',
  code,
  label: name,
  definition,
  unitOfMeasure,
  range,
  axes,
})

/**
 * A dataset's edition as a form: each item is a question, split by its breakdowns, with the same cells under
 * the same keys. What is filled, shown and extracted goes the same way for both. Errors: those of {@link
 * checkOutline}.
 */
export function formOfEdition(edition: Edition): Result<Form> {
  const form: Form = {
    code: edition.dataset,
    name: edition.name,
    axes: edition.axes,
    parts: edition.sections.map(({ code, name, items }) => ({
      kind: 'section',
      code,
      label: name,
      parts: items.map(questionOf),
    })),
  }
  const problems = checkOutline(form)
  return problems.length ? { ok: false, problems } : good(form)
}
