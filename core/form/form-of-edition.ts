import { itemsOf, type Edition, type Item } from '../report/edition'
import { good, type Result } from '../result'
import { checkOutline } from './check-form'
import { compileForm, type CompiledForm } from './compile-form'
import type { AnswerQuestion, Form } from './question'

/** An item as a question: it is filled, shown and checked as one. */
export function questionOf(item: Item): AnswerQuestion {
  const { code, name, definition, shownWhen, required, acceptedIf, unitOfMeasure, least, most } = item
  const asked = {
    code,
    label: name,
    definition,
    ...(shownWhen !== undefined && { shownWhen }),
    ...(required !== undefined && { required }),
    ...(acceptedIf?.length && { acceptedIf }),
  }
  switch (item.kind) {
    case 'wholeNumber':
    case 'decimal':
      return {
        ...asked,
        kind: item.kind,
        unitOfMeasure,
        range: item.range,
        axes: item.axes,
        ...(least !== undefined && { least }),
        ...(most !== undefined && { most }),
      }
    case 'oneOf':
    case 'severalOf':
      return { ...asked, kind: item.kind, choices: item.choices ?? [], ...(item.list && { list: item.list }) }
    case 'text':
      return {
        ...asked,
        kind: 'text',
        ...(item.longest !== undefined && { longest: item.longest }),
        ...(item.pattern && { pattern: item.pattern }),
      }
    case 'computed':
      return { ...asked, kind: 'computed', expression: item.expression ?? '', unitOfMeasure }
    default:
      return { ...asked, kind: item.kind }
  }
}

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

/**
 * The form of an edition in which something follows from the answers: items that are shown on a condition, or
 * computed. null where there is none, so that a report of plain numbers costs nothing more; and for an
 * edition whose form does not compile, which readiness keeps from being published.
 */
export function livingForm(edition: Edition): CompiledForm | null {
  if (!itemsOf(edition).some(({ kind, shownWhen }) => kind === 'computed' || shownWhen?.trim())) return null
  const form = formOfEdition(edition)
  const compiled = form.ok ? compileForm(form.value) : form
  return compiled.ok ? compiled.value : null
}
