import type { AnswerContent } from '../form/answer'
import { answersTable } from '../form/answers-table'
import type { ColumnTable, CountedList } from '../report/table'
import type { CompiledRegister } from './compile-register'
import type { KnownCase, CountedEntry } from './fold'

type Compiled = Pick<CompiledRegister, 'kindOf' | 'forms'>

const latestOf = (file: KnownCase | undefined, form: string): CountedEntry | undefined =>
  file?.entries.findLast(entry => entry.form === form)

/**
 * Cases as a table for rules and conditions: one row for each case, its names the latest known; before a dot
 * its last entry of a form, or its parent case; what is counted are its entries of a form.
 * @param parents the parent of each case, where the register has one.
 */
export function caseTable(
  compiled: Compiled,
  files: readonly KnownCase[],
  parents?: { of: readonly (KnownCase | undefined)[]; register: Compiled },
): ColumnTable {
  const valueOf =
    (of: readonly (KnownCase | undefined)[]) =>
    (row: number, cell: string): AnswerContent | undefined =>
      of[row]?.values.get(cell)?.content
  const other = (code: string): ColumnTable | undefined => {
    if (code === 'parent')
      return parents && answersTable(files.length, valueOf(parents.of), parents.register.kindOf)
    const form = compiled.forms.get(code)
    if (!form) return undefined
    const latest = files.map(file => latestOf(file, code))
    return answersTable(files.length, (row, cell) => latest[row]?.answers[cell], form.kindOf)
  }
  const list = (code: string): CountedList | undefined => {
    const form = compiled.forms.get(code)
    if (!form) return undefined
    const entries = files.flatMap((file, row) =>
      file.entries.filter(entry => entry.form === code).map(entry => ({ row, answers: entry.answers })),
    )
    return {
      table: answersTable(entries.length, (at, cell) => entries[at]!.answers[cell], form.kindOf),
      rowOf: Int32Array.from(entries, ({ row }) => row),
    }
  }
  return answersTable(files.length, valueOf(files), compiled.kindOf, { other, list })
}
