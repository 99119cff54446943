import type { NotCarried } from '#core/exchange/fhir-marks'
import { questionnaireOf } from '#core/exchange/questionnaire-out'
import type { Form } from '#core/form/question'
import { saveFile } from '../common/useFiles'

/** Saves a form as a file with a FHIR R4 Questionnaire. @returns what other programs will not see */
export function saveQuestionnaire(form: Form, language: string): NotCarried[] {
  const { resource, notCarried } = questionnaireOf(form, language)
  saveFile(`${form.code}.questionnaire.json`, 'application/fhir+json', JSON.stringify(resource, null, 2))
  return notCarried
}
