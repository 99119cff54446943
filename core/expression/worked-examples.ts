import { parseDay } from '../calendar/day'
import { parsePeriod } from '../calendar/period-text'
import { periodTable } from '../report/period-table'
import { tableOf, type ColumnTable, type CountedList } from '../report/table'
import type { CellContent } from '../report/cell'
import { must } from '../result'
import { NOTHING, type Name, type ValueType, type Vocabulary } from './vocabulary'

/**
 * A small made-up report with everything that the language can speak of: what the worked lines of
 * docs/expressions.md, and the tests, are computed on.
 */
const day = (text: string) => must(parseDay(text))
const label = (en: string, fr: string) => ({ en, fr })

const name = (
  code: string,
  en: string,
  fr: string,
  type: ValueType = 'number',
  more: Partial<Name> = {},
): Name => ({
  code,
  label: label(en, fr),
  type,
  unitOfMeasure: null,
  axes: [],
  cells: [{ key: code, bands: [] }],
  ...more,
})
const named = (...names: Name[]) => new Map(names.map(one => [one.code, one]))

const AGE = {
  code: 'age',
  name: label('Age', 'Âge'),
  bands: [
    { code: 'u20', name: label('under 20', 'moins de 20') },
    { code: 'a20plus', name: label('20 and over', '20 et plus') },
  ],
}
const CHOICES = ['confirmed', 'probable', 'discarded'].map(code => ({
  code,
  label: label(code, { confirmed: 'confirmé', probable: 'probable', discarded: 'écarté' }[code]!),
}))

const WEEKLY: Vocabulary = {
  label: label('Weekly diseases', 'Maladies hebdomadaires'),
  names: named(name('measles', 'Measles', 'Rougeole', 'number', { unitOfMeasure: 'count' })),
  others: NOTHING,
  lists: NOTHING,
}
const CASES: Vocabulary = {
  label: label('measles cases', 'cas de rougeole'),
  others: NOTHING,
  lists: NOTHING,
  names: named(
    name('classification', 'Classification', 'Classification', 'text', { choices: CHOICES }),
    name('age_years', 'Age in years', 'Âge en années'),
  ),
}

export const EXAMPLE_VOCABULARY: Vocabulary = {
  label: label('Example', 'Exemple'),
  others: new Map([['weekly_diseases', WEEKLY]]),
  lists: new Map([['measles_cases', CASES]]),
  names: named(
    name('deliveries', 'Deliveries', 'Accouchements', 'number', {
      unitOfMeasure: 'count',
      axes: [AGE],
      cells: AGE.bands.map(({ code }) => ({ key: `deliveries.${code}`, bands: [code] })),
    }),
    name('live_births', 'Live births', 'Naissances vivantes', 'number', { unitOfMeasure: 'count' }),
    name('measles', 'Measles', 'Rougeole', 'number', { unitOfMeasure: 'count' }),
    name('doses_used', 'Doses used', 'Doses utilisées', 'number', { unitOfMeasure: 'doses' }),
    name('days_without', 'Days without', 'Jours sans stock', 'number', { unitOfMeasure: 'days' }),
    name('not_yet', 'Not yet answered', 'Sans réponse'),
    name('open_all_month', 'Open all month', 'Ouvert tout le mois', 'truth'),
    name('seen_on', 'Seen on', 'Vu le', 'day'),
    name('village', 'Village', 'Village', 'text'),
    name('classification', 'Classification', 'Classification', 'text', { choices: CHOICES }),
    name('symptoms', 'Symptoms', 'Symptômes', 'answers', {
      choices: ['fever', 'rash', 'cough'].map(code => ({ code, label: label(code, code) })),
    }),
  ),
}

const value = (number: number): CellContent => ({ kind: 'value', value: number })
const month = (under: number, over: number, births: number) => ({
  'deliveries.u20': value(under),
  'deliveries.a20plus': value(over),
  live_births: value(births),
})

const TEXTS: Record<string, string> = { village: 'Eastfold', classification: 'probable' }
const CASE_ROWS = [
  ['confirmed', 3],
  ['confirmed', 7],
  ['probable', 2],
  ['confirmed', null],
] as const

function casesTable(): CountedList {
  const table = tableOf(
    CASE_ROWS.map(([, age]) => ({ age_years: age === null ? { kind: 'blank' as const } : value(age) })),
  )
  return {
    table: { ...table, texts: cell => (cell === 'classification' ? CASE_ROWS.map(([code]) => code) : []) },
    rowOf: Int32Array.from(CASE_ROWS, () => 0),
  }
}

const OCTOBER = must(parsePeriod('2026-10'))

/** The values of the example: October 2026 at one facility, with twelve months before it. */
export function exampleTable(): ColumnTable {
  const now = {
    ...month(14, 46, 58),
    measles: value(3),
    doses_used: value(75),
    days_without: value(2),
    open_all_month: value(1),
    seen_on: value(day('2026-10-05')),
  }
  const table = periodTable(OCTOBER, ({ index }) => {
    const back = OCTOBER.index - index
    return back > 12 ? undefined : tableOf([back === 0 ? now : month(9 + back, 39 + back, 47)])
  })!
  const weekly = tableOf([{ measles: value(3) }])
  return {
    ...table,
    back: periods => (periods === 0 ? exampleTable() : table.back!(periods)),
    kinds: cell => (TEXTS[cell] || cell === 'symptoms' ? Uint8Array.of(1) : table.kinds(cell)),
    texts: cell => [TEXTS[cell] ?? null],
    answers: cell => [cell === 'symptoms' ? ['fever', 'rash'] : null],
    other: code => (code === 'weekly_diseases' ? weekly : undefined),
    list: code => (code === 'measles_cases' ? casesTable() : undefined),
  }
}

/** The day that `today()` gives in the examples. */
export const EXAMPLE_TODAY = day('2026-11-09')
