import { questionOfKey } from '../cases/personal'
import { compile, type Compiled } from '../expression/compile'
import { NOTHING, type Name } from '../expression/vocabulary'
import type { Answers } from '../form/answer'
import { answersTable } from '../form/answers-table'
import { compileForm } from '../form/compile-form'
import type { QuestionKind } from '../form/question'
import { bad, good, type Problem, type Result } from '../result'
import type { ExtractRow } from './columns'
import type { FormEdition } from './fields'

/** Which rows an extract takes. */
export interface ExtractCondition {
  /** Does it hold of each row? Where that is unknown, the row is not taken. */
  holds: (rows: readonly ExtractRow[]) => boolean[]
}

/**
 * What a condition may name: the questions of the forms, as the newest edition asks them.
 * @example namesOf(forms).names.get('sex')!.type // 'text'
 */
export function namesOf(forms: readonly FormEdition[]): {
  names: Map<string, Name>
  kindOf: Map<string, QuestionKind>
} {
  const names = new Map<string, Name>()
  const kindOf = new Map<string, QuestionKind>()
  for (const { form } of forms) {
    const compiled = compileForm(form)
    if (!compiled.ok) continue
    for (const [code, name] of compiled.value.vocabulary.whole.names)
      if (!names.has(code)) names.set(code, name)
    for (const [key, kind] of compiled.value.kindOf) if (!kindOf.has(key)) kindOf.set(key, kind)
  }
  return { names, kindOf }
}

const refusal = (code: string, message: string, values: Problem['values']): Problem => ({
  ...{ code, message, values },
  at: 'filters/where',
})

/**
 * Reads the condition of an extract. Problems: those of the language, with the place `filters/where`, and
 * `extract-where-personal` where it names a question whose answers the person may not take out: a condition
 * would tell them one by one.
 *
 * @param closed the questions that it may not name
 * @param today a day number, for ages and deadlines
 * @example must(compileCondition('sex = "f"', forms, new Set(), today)).holds(rows) // [true, false]
 */
export function compileCondition(
  text: string,
  forms: readonly FormEdition[],
  closed: ReadonlySet<string>,
  today: number,
): Result<ExtractCondition> {
  const { names, kindOf } = namesOf(forms)
  const vocabulary = { label: {}, names, others: NOTHING, lists: NOTHING, noPeriods: true as const }
  const compiled = compile(text, vocabulary, 'truth')
  if (!compiled.ok)
    return bad(
      ...compiled.problems.map(({ code, message, values }) => refusal(code, message, values)).slice(0, 5),
    )
  const personal = compiled.value.cells.map(questionOfKey).find(code => closed.has(code))
  if (personal)
    return bad(
      refusal('extract-where-personal', `${personal} is a personal answer, which you may not take out.`, {
        question: personal,
      }),
    )
  return good({ holds: rows => truthsOf(compiled.value, rows, kindOf, today) })
}

/**
 * Each row by itself: whether a band is offered is asked of a whole table, and another facility must not
 * decide it. The cells of one report follow each other, and are judged once.
 */
function truthsOf(
  compiled: Compiled,
  rows: readonly ExtractRow[],
  kindOf: ReadonlyMap<string, QuestionKind>,
  today: number,
): boolean[] {
  let last: { answers: Answers; holds: boolean } | undefined
  return rows.map(({ answers }) => {
    if (last?.answers !== answers) {
      const table = answersTable(1, (_, cell) => answers[cell], kindOf)
      last = { answers, holds: compiled.run(table, { today })[0] === 1 }
    }
    return last.holds
  })
}
