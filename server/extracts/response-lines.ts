import type { ExtractDefinition } from '#core/contract/extracts'
import { responseOf } from '#core/exchange/questionnaire-response'
import type { ExtractRow } from '#core/extract/columns'
import type { OpenExtract } from './open'

/**
 * How entries are written as lines of FHIR: only the answers that are columns of the extract, and who filled them
 * only where that is one.
 */
export function responseLines(
  { plan, forms }: Pick<OpenExtract, 'plan' | 'forms'>,
  { of, language }: Pick<ExtractDefinition, 'of' | 'language'>,
): (row: ExtractRow) => string {
  const taken = new Set(plan.fields.map(({ key }) => key))
  const takes = (key: string) => taken.has(key)
  const byKey = new Map(forms.map(one => [`${one.form.code} ${one.edition}`, one.form]))
  const text = (value: unknown) => (typeof value === 'string' ? value : null)
  return ({ about, answers }) => {
    const edition = Number(about.edition)
    // An entry is of a form of an edition that was published: both are kept for ever.
    const form = byKey.get(`${String(about.form)} ${edition}`)!
    const response = responseOf(
      form,
      {
        ...{ entry: String(about.entry), case: String(about.case), register: of, edition },
        ...{ unit: String(about.unit), madeAt: String(about.made_at), corrects: text(about.corrects) },
        by: takes('@by') ? text(about.by) : null,
      },
      answers,
      takes,
      language,
    )
    return `${JSON.stringify(response)}\n`
  }
}
