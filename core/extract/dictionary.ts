import type { AnswerQuestion } from '../form/question'
import { compile } from '../expression/compile'
import { vocabularyOf } from '../expression/vocabulary'
import type { DataDictionary } from '../contract/extracts'
import { wordsIn, type Edition } from '../report/edition'
import type { ExtractColumn } from './columns'
import type { ExtractField } from './fields'

function limitsOf(question: AnswerQuestion): string {
  if ('least' in question || 'most' in question) return [question.least ?? '', question.most ?? ''].join('–')
  return 'pattern' in question ? (question.pattern ?? '') : ''
}

/**
 * What an analyst must know of a field to use its column.
 * @example describeField(field, 'en').choices // 'f = Female; m = Male'
 */
export function describeField(field: ExtractField, language: string): DataDictionary['lines'][number] {
  const { question } = field
  const choices = question && 'choices' in question ? question.choices : []
  return {
    ...{ path: field.path, short: field.short, label: wordsIn(field.label, language) },
    kind: question?.kind ?? field.type,
    definition: question?.definition ? wordsIn(question.definition, language) : '',
    unitOfMeasure: question && 'unitOfMeasure' in question ? (question.unitOfMeasure ?? '') : '',
    choices: choices.map(({ code, label }) => `${code} = ${wordsIn(label, language)}`).join('; '),
    limits: question ? limitsOf(question) : '',
    condition: question?.shownWhen ?? '',
    expression: question?.kind === 'computed' ? question.expression : '',
    editions: field.editions.join(', '),
  }
}

const HEADS = {
  en: [
    ...['Column', 'Question', 'Path', 'Kind', 'Definition', 'Unit of measure'],
    ...['Choices', 'Limits', 'Asked when', 'Computed as', 'Editions'],
  ],
  fr: [
    ...['Colonne', 'Question', 'Chemin', 'Genre', 'Définition', 'Unité de mesure'],
    ...['Choix', 'Limites', 'Demandé si', 'Calculé ainsi', 'Éditions'],
  ],
} as const

/** A table that says what each column of a file is, its heading first. */
export const dictionaryRows = (columns: readonly ExtractColumn[], language: 'en' | 'fr'): string[][] => [
  [...HEADS[language]],
  ...columns.map(({ head, label, field }) => {
    const said = describeField(field, language)
    return [
      ...[head, label, said.path, said.kind, said.definition, said.unitOfMeasure],
      ...[said.choices, said.limits, said.condition, said.expression, said.editions],
    ]
  }),
]

/**
 * The indicators of an edition, each with the columns that it is computed from.
 * @param fields those of the dataset
 * @example describeIndicators(edition, fields, 'en')[0]!.uses // ['deliveries_u20', 'deliveries_o20']
 */
export function describeIndicators(
  edition: Edition,
  fields: readonly ExtractField[],
  language: string,
): DataDictionary['indicators'] {
  const vocabulary = vocabularyOf(edition)
  const shortOf = new Map(fields.map(({ key, short }) => [key, short]))
  return edition.indicators.map(({ code, name, numerator, denominator, factor, unitOfMeasure }) => {
    const cells = [numerator, denominator].flatMap(text => {
      const compiled = compile(text, vocabulary, 'number')
      return compiled.ok ? compiled.value.cells : []
    })
    return {
      ...{ code, numerator, denominator, factor },
      ...{ name: wordsIn(name, language), unitOfMeasure: wordsIn(unitOfMeasure, language) },
      uses: [...new Set(cells)].map(cell => shortOf.get(cell) ?? cell),
    }
  })
}

const INDICATOR_HEADS = {
  en: ['Indicator', 'Name', 'Numerator', 'Denominator', 'Factor', 'Unit of measure', 'Columns'],
  fr: ['Indicateur', 'Nom', 'Numérateur', 'Dénominateur', 'Facteur', 'Unité de mesure', 'Colonnes'],
} as const

/** A data dictionary as a table for a file: the columns first, then the indicators under a heading of their own. */
export function dictionaryTable({ lines, indicators }: DataDictionary, language: 'en' | 'fr'): string[][] {
  const columns = lines.map(one => [
    ...[one.short, one.label, one.path, one.kind, one.definition, one.unitOfMeasure],
    ...[one.choices, one.limits, one.condition, one.expression, one.editions],
  ])
  const rates = indicators.map(one => [
    ...[one.code, one.name, one.numerator, one.denominator, String(one.factor), one.unitOfMeasure],
    one.uses.join('; '),
  ])
  return [
    [...HEADS[language]],
    ...columns,
    ...(rates.length ? [[], [...INDICATOR_HEADS[language]], ...rates] : []),
  ]
}
