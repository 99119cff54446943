import type { AnswerValue } from '#core/form/answer'
import { checkCell } from '#core/form/check-cell'
import { BLANK } from '#core/report/cell'
import type { AnswerQuestion } from '#core/form/question'
import type { AnswerWork } from '~/cases/useFilling'
import type { ReportEntry } from './useReportEntry'

/** The cells of a report as answers, for the parts that case forms are filled with. */
export function useCellAnswers(entry: ReportEntry): AnswerWork {
  const itemOf = (key: string) => entry.cellByKey.get(key)!.item
  function put(key: string, content: Parameters<typeof entry.put>[1]) {
    void entry.put(key, content).then(() => entry.outbox.flush())
  }
  return {
    problems: entry.problems,
    contentOf: entry.contentOf,
    isMissing: entry.isNeeded,
    // What is not accepted is said as a doubt, below the line.
    refusals: () => [],
    answer(_question: AnswerQuestion, key: string, value: AnswerValue | null) {
      delete entry.problems[key]
      const checked = value === null ? null : checkCell(itemOf(key), value)
      if (checked && !checked.ok) entry.problems[key] = checked.problems[0]!
      else put(key, checked?.value ?? BLANK)
    },
    notKnown: (key, reason) => put(key, { kind: 'notKnown', reason }),
    choices: key => itemOf(key).choices ?? [],
  }
}
