import { codeFromLabel } from '../form/code'
import { outline, type Placed } from '../form/outline'
import type { AnswerQuestion, Form } from '../form/question'
import { wordsIn, type Words } from '../report/edition'
import type { AboutField, ValueType } from './about'

/** The place of an answer in a table of the form. */
export interface InTable {
  table: string
  /** The code and the name of its row. */
  row: string
  rowName: Words
  /** Its column, the same in each row: the table, the question and its further bands, as `rooms.basins`. */
  column: string
  columnLabel: Words
}

/** What an extract can have as a column. */
export interface ExtractField {
  /** Sections, repeat or table, question and band: `visit.rooms.basins.ward`. */
  path: string
  /** The short name of the column: `basins_ward`. Unique among the fields. */
  short: string
  /** `@unit` of what is about the row; else the key of the answer: `basins.ward`, in a repeat that of each instance. */
  key: string
  label: Words
  type: ValueType
  /** Where it stands in the form, from the outermost section inwards. */
  sections: readonly Words[]
  /** null for what is about the row. */
  question: AnswerQuestion | null
  /** The repeat whose instances are rows of a sheet of their own. */
  repeat?: string
  /** The table of the form in which it stands, whose rows may be those of a sheet of their own. */
  inTable?: InTable
  /** Only for people who may take personal answers out. */
  isPersonal: boolean
  /** The editions that ask it; empty for what is about the row. */
  editions: readonly number[]
}

/** A form in one of the editions in which it was filled. */
export interface FormEdition {
  edition: number
  form: Form
}

const TYPES: Partial<Record<AnswerQuestion['kind'], ValueType>> = {
  wholeNumber: 'number',
  decimal: 'number',
  yesNo: 'truth',
  date: 'day',
}

/** Computed answers are numbers, or texts and days: the column takes what there is. */
const typeOf = ({ kind }: AnswerQuestion): ValueType => TYPES[kind] ?? 'text'

const joined = (parts: readonly Words[]): Words => {
  const languages = new Set(parts.flatMap(part => Object.keys(part)))
  return Object.fromEntries(
    [...languages].map(language => [language, parts.map(part => wordsIn(part, language)).join(', ')]),
  )
}

/** In a repeat the key of each instance's answer, without the instance. */
const keyOf = (cell: string, repeat: Placed['repeat']) => (repeat ? `${repeat.code}/${cell}` : cell)

/** The rows of a table are the first bands of all that stands in it. */
const placeIn = (
  { code }: { code: string },
  question: AnswerQuestion,
  [row, ...bands]: readonly string[],
  [rowName, ...names]: readonly Words[],
): InTable => ({
  ...{ table: code, row: row!, rowName: rowName! },
  column: [code, question.code, ...bands].join('.'),
  columnLabel: joined([question.label, ...names]),
})

function fieldsOfQuestion(
  { question, sections, axes, cells, table, repeat }: Placed,
  taken: Set<string>,
): Omit<ExtractField, 'isPersonal' | 'editions'>[] {
  const frame = table ?? repeat
  const around = [...sections, ...(frame ? [frame] : [])]
  return cells.map(({ key, bands }) => {
    const short = bands.length ? codeFromLabel([question.code, ...bands].join('_'), taken) : question.code
    taken.add(short)
    const bandNames = bands.map((code, at) => axes[at]!.bands.find(band => band.code === code)!.name)
    return {
      path: [...around.map(({ code }) => code), question.code, ...bands].join('.'),
      short,
      key: keyOf(key, repeat),
      label: joined([question.label, ...bandNames]),
      type: typeOf(question),
      sections: around.map(({ label }) => label),
      question,
      ...(repeat && { repeat: repeat.code }),
      ...(table && { inTable: placeIn(table, question, bands, bandNames) }),
    }
  })
}

/**
 * The fields that the answers of some forms fill, in paper order. A question that stands in several forms, or
 * editions, is one field: as the first of them asks it. One that only an older edition asked comes last.
 *
 * @param forms the newest edition of each form first
 * @param personal the codes of questions whose answers are personal
 * @example answerFields([{ edition: 2, form }], new Set(['name'])).map(({ key }) => key) // ['name', 'sex']
 */
export function answerFields(
  forms: readonly FormEdition[],
  personal: ReadonlySet<string> = new Set(),
): ExtractField[] {
  const outlines = forms.map(({ edition, form }) => ({ edition, placed: outline(form).placed }))
  // A question keeps its own code; only what is put together from two codes has to give way.
  const taken = new Set(outlines.flatMap(({ placed }) => placed.map(({ question }) => question.code)))
  const found = new Map<string, ExtractField & { editions: number[] }>()
  for (const { edition, placed } of outlines)
    for (const one of placed) {
      // Names are given only to what is new: an older edition must not rename a column.
      const isKnown = one.cells.every(({ key }) => found.has(keyOf(key, one.repeat)))
      const fields = fieldsOfQuestion(one, isKnown ? new Set() : taken)
      for (const field of fields) {
        const known = found.get(field.key)
        if (!known)
          found.set(field.key, {
            ...field,
            isPersonal: personal.has(one.question.code),
            editions: [edition],
          })
        else if (!known.editions.includes(edition)) known.editions.push(edition)
      }
    }
  return [...found.values()]
}

/**
 * Fields about the rows, whose names give way to those of the questions.
 * @example aboutFields(ABOUT.report, answers)[0]!.key // '@unit'
 */
export function aboutFields(
  about: readonly AboutField[],
  answers: readonly Pick<ExtractField, 'short'>[],
): ExtractField[] {
  const taken = new Set(answers.map(({ short }) => short))
  return about.map(({ code, label, type }) => {
    const short = taken.has(code) ? codeFromLabel(`row_${code}`, taken) : code
    taken.add(short)
    return {
      ...{ path: short, short, key: `@${code}`, label, type, sections: [] },
      ...{ question: null, isPersonal: false, editions: [] },
    }
  })
}
