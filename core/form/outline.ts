import { cellKey, type Axis } from '../report/edition'
import type { Answers } from './answer'
import type { AnswerQuestion, Form, FormPart, FormSection, Question, Repeat, Table } from './question'

/** The smallest thing that is answered: a question at one band of each of its axes. */
export interface FormCell {
  /** `soap`, or `basins.ward`. In a repeat it stands behind the instance: see {@link repeatKey}. */
  key: string
  bands: readonly string[]
}

/** A question that is answered, with where it stands. */
export interface Placed {
  question: AnswerQuestion
  /** From the outermost section inwards. */
  sections: readonly FormSection[]
  table?: Table
  repeat?: Repeat
  axes: readonly Axis[]
  cells: readonly FormCell[]
}

/** Every part that has a condition or a code of its own, in paper order. */
export interface Outline {
  /** Questions with an answer, those in tables and repeats among them. */
  placed: Placed[]
  /** Sections, notes, tables and repeats: what has no answer of its own, with the sections around it. */
  frames: { part: FormSection | Exclude<Question, AnswerQuestion>; sections: readonly FormSection[] }[]
}

/** The key of an answer inside a repeat: `children/1a2b/born_on`. */
export const repeatKey = (repeat: string, instance: string, cell: string): string =>
  `${repeat}/${instance}/${cell}`

/** The parts of a key inside a repeat; null for a key outside. */
export function splitKey(key: string): { repeat: string; instance: string; cell: string } | null {
  const [repeat, instance, cell] = key.split('/')
  return instance === undefined || cell === undefined ? null : { repeat: repeat!, instance, cell }
}

/**
 * The instances of a repeat in their order; from the keys of their answers where the list of them is missing.
 * @example instancesIn('children', answers) // ['1a2b', '3c4d']
 */
export function instancesIn(repeat: string, answers: Answers): string[] {
  const own = answers[repeat]
  if (own?.kind === 'value' && Array.isArray(own.value)) return [...(own.value as readonly string[])]
  return [
    ...new Set(
      Object.keys(answers).flatMap(key => {
        const found = splitKey(key)
        return found?.repeat === repeat ? [found.instance] : []
      }),
    ),
  ]
}

/** A table's rows are an axis that all its columns have. */
export const axisOfTable = (table: Table): Axis => ({
  code: table.code,
  name: table.label,
  bands: [...table.rows],
})

/** The breakdowns of a question, in its order. An unknown one is skipped here; the check of the form reports it. */
export const axesOfQuestion = (form: Form, question: AnswerQuestion): Axis[] =>
  ('axes' in question ? (question.axes ?? []) : []).flatMap(
    code => form.axes?.find(axis => axis.code === code) ?? [],
  )

/**
 * The cells of a key along some axes, in paper order: one for each combination of their bands.
 * @example cellsAlong('basins', [rooms]) // [{ key: 'basins.ward', bands: ['ward'] }]
 */
export function cellsAlong(code: string, axes: readonly Axis[]): FormCell[] {
  return axes.reduce<FormCell[]>(
    (cells, axis) =>
      cells.flatMap(({ key, bands }) =>
        axis.bands.map(band => ({ key: cellKey(key, [band.code]), bands: [...bands, band.code] })),
      ),
    [{ key: code, bands: [] }],
  )
}

/** Flattens a form. */
export function outline(form: Form): Outline {
  const found: Outline = { placed: [], frames: [] }
  const place = (
    question: AnswerQuestion,
    sections: readonly FormSection[],
    more: Pick<Placed, 'table' | 'repeat'> = {},
  ) => {
    const own = axesOfQuestion(form, question)
    const axes = more.table ? [axisOfTable(more.table), ...own] : own
    found.placed.push({ question, sections, axes, cells: cellsAlong(question.code, axes), ...more })
  }
  const visit = (part: FormPart, sections: readonly FormSection[]) => {
    switch (part.kind) {
      case 'section':
        found.frames.push({ part, sections })
        part.parts.forEach(inner => visit(inner, [...sections, part]))
        return
      case 'note':
        found.frames.push({ part, sections })
        return
      case 'table':
        found.frames.push({ part, sections })
        part.columns.forEach(column => place(column, sections, { table: part }))
        return
      case 'repeat':
        found.frames.push({ part, sections })
        part.parts.forEach(inner => place(inner, sections, { repeat: part }))
        return
      default:
        place(part, sections)
    }
  }
  form.parts.forEach(part => visit(part, []))
  return found
}
