import type { ReportFile } from '#core/contract/reports'
import { countWords } from '#core/expression/in-words'
import { countText } from '#core/reconcile/count-doubt'
import { countsIn } from '#core/reconcile/count-figures'
import type { Doubt } from '#core/rule/find-doubts'
import type { DeskCase } from '../cases/useCases'
import { readyRules } from './readyRules'
import type { useOwnCounts } from './useOwnCounts'
import type { RegisterCount } from './useRegisterCounts'

/**
 * The counts of cases behind a doubt about a report on this device, each with its cases.
 * @param counts those that the rules make
 * @param differing those that cells are held against
 */
export function useCountsBehind(
  file: ReportFile,
  counts: ReturnType<typeof useOwnCounts>,
  differing: Readonly<Ref<readonly RegisterCount[]>>,
) {
  const words = useWords()
  const { titleOf } = useAnswerText()
  const shown = (text: string, total: number | null, cases: readonly DeskCase[]) => ({
    text,
    name: words.say(countWords(file.edition, text)),
    total,
    cases: cases.map(({ id, line }) => ({ id, title: titleOf(line), to: `/desk/cases/${id}` })),
  })
  return ({ source, code, band }: Doubt) =>
    source === 'cases'
      ? differing.value
          .filter(({ count }) => count.code === code)
          .map(({ count, registered, cases }) => shown(countText(count), registered, cases))
      : countsIn(
          readyRules(file.edition).filter(({ rule, band: own }) => rule.code === code && own === band),
        ).map(({ text }) =>
          shown(text, counts.figures.value?.numbers[text]?.[0] ?? null, counts.casesOf(text)),
        )
}
