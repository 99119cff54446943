import { cellKey, type Words } from '../report/edition'
import { groupBy } from '../group-by'
import type { AnswerContent, Answers } from './answer'
import { instancesIn, outline, repeatKey, splitKey, type Placed } from './outline'
import type { AnswerQuestion, Form, Repeat, Table } from './question'

/**
 * One answer that stands by itself. Without a question it was given in an edition that is not here: its code
 * stands for it.
 */
export interface ShownAnswer {
  kind: 'answer'
  question: AnswerQuestion | null
  code: string
  content: AnswerContent
}

/** A row of a grid: a row of a table, a band of a breakdown, or one of a repeat (by its number, from 1). */
export interface ShownRow {
  name: Words | number
  cells: (AnswerContent | undefined)[]
}

/** Answers that belong together in rows: a table, a question that is split by bands, or a repeat. */
export interface ShownGrid {
  kind: 'grid'
  label: Words
  columns: { question: AnswerQuestion; label: Words }[]
  rows: ShownRow[]
}

export type Shown = ShownAnswer | ShownGrid

const isAnswered = (content: AnswerContent | undefined): content is AnswerContent =>
  content !== undefined && content.kind !== 'blank'

function gridOf(label: Words, columns: ShownGrid['columns'], rows: ShownRow[]): ShownGrid[] {
  const answered = rows.filter(({ cells }) => cells.some(isAnswered))
  return answered.length ? [{ kind: 'grid', label, columns, rows: answered }] : []
}

/** A question that is split: its first axis in rows, its second in columns. */
function splitGrid({ question, axes }: Placed, answers: Answers, label = question.label): ShownGrid[] {
  const [rows, columns] = axes as [Placed['axes'][number], Placed['axes'][number]?]
  const heads = columns?.bands.map(band => ({ question, label: band.name, bands: [band.code] })) ?? [
    { question, label: question.label, bands: [] as string[] },
  ]
  return gridOf(
    label,
    heads,
    rows.bands.map(row => ({
      name: row.name,
      cells: heads.map(({ bands }) => answers[cellKey(question.code, [row.code, ...bands])]),
    })),
  )
}

/** A table: one grid with its columns; a column that is split too is a grid of its own. */
function tableGrids(table: Table, columns: readonly Placed[], answers: Answers): ShownGrid[] {
  const plain = columns.filter(({ axes }) => axes.length === 1)
  return [
    ...gridOf(
      table.label,
      plain.map(({ question }) => ({ question, label: question.label })),
      table.rows.map(row => ({
        name: row.name,
        cells: plain.map(({ question }) => answers[cellKey(question.code, [row.code])]),
      })),
    ),
    ...columns.filter(({ axes }) => axes.length > 1).flatMap(column => splitGrid(column, answers)),
  ]
}

/** A repeat: each of its instances is a row, its questions are the columns. */
function repeatGrid(repeat: Repeat, inner: readonly Placed[], answers: Answers): ShownGrid[] {
  return gridOf(
    repeat.label,
    inner.map(({ question }) => ({ question, label: question.label })),
    instancesIn(repeat.code, answers).map((instance, at) => ({
      name: at + 1,
      cells: inner.map(({ question }) => answers[repeatKey(repeat.code, instance, question.code)]),
    })),
  )
}

/**
 * The answers of a filled form as they are read: in paper order, rows of tables and repeats with their names,
 * nothing left out. An answer whose question is not in the form comes last, by its code.
 *
 * @param form the form in the edition in which it was filled
 * @example shownAnswers(form, answers) // [{ kind: 'answer', … }, { kind: 'grid', label, columns, rows }]
 */
export function shownAnswers(form: Form, answers: Answers): Shown[] {
  const { placed } = outline(form)
  const groups = groupBy(placed, one => one.table ?? one.repeat ?? one.question)
  const shown = [...groups.values()].flatMap((group): Shown[] => {
    const [first] = group as [Placed]
    if (first.table) return tableGrids(first.table, group, answers)
    if (first.repeat) return repeatGrid(first.repeat, group, answers)
    if (first.axes.length) return splitGrid(first, answers)
    const content = answers[first.question.code]
    return isAnswered(content)
      ? [{ kind: 'answer', question: first.question, code: first.question.code, content }]
      : []
  })
  const known = new Set(
    placed.flatMap(({ question, cells, repeat }) =>
      repeat ? [repeat.code] : [question.code, ...cells.map(({ key }) => key)],
    ),
  )
  const inRepeats = new Map(
    [
      ...groupBy(
        placed.filter(({ repeat }) => repeat),
        ({ repeat }) => repeat!.code,
      ),
    ].map(([code, inner]) => [code, new Set(inner.map(({ question }) => question.code))]),
  )
  const isKnown = (key: string) => {
    const inside = splitKey(key)
    return inside ? (inRepeats.get(inside.repeat)?.has(inside.cell) ?? false) : known.has(key)
  }
  const others = Object.entries(answers).filter(([key, content]) => !isKnown(key) && isAnswered(content))
  return [
    ...shown,
    ...others.map(([code, content]): Shown => ({ kind: 'answer', question: null, code, content })),
  ]
}
