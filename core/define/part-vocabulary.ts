import type { Narrowing } from '../expression/bind'
import type { Vocabulary } from '../expression/vocabulary'
import { formVocabulary } from '../form/form-vocabulary'
import { outline } from '../form/outline'
import type { Form } from '../form/question'
import { placesOf } from './form-parts'

/** What the expressions of a part of a form may use, and how they are read. */
export interface PartNames {
  vocabulary: Vocabulary
  /** In a row of a table names mean that row: they are read for the first. */
  narrowing?: Narrowing
}

/**
 * The names that the expressions of a part may use: those of the form, in a repeat those of its instance
 * before them.
 */
export function namesWhere(form: Form, part: string): PartNames {
  const { vocabulary } = formVocabulary(form, outline(form))
  const around = placesOf(form.parts).find(place => place.part.code === part)?.around
  if (around?.kind === 'table')
    return {
      vocabulary: vocabulary.whole,
      ...(around.rows[0] && { narrowing: [{ axis: around.code, band: around.rows[0].code }] }),
    }
  return {
    vocabulary:
      (around?.kind === 'repeat' ? vocabulary.inRepeat.get(around.code) : undefined) ?? vocabulary.whole,
  }
}
