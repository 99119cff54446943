import type { ReportTable } from '../report/table'
import type { CompiledRule } from './compile-rules'

/** What a rule says of one report. *Not judged* is neither pass nor fail: a blank stood in the way. */
export const NOT_JUDGED = 0
export const PASSED = 1
export const FAILED = 2

export interface Judgement {
  rule: CompiledRule
  /** One of the three codes for each report of the table. */
  verdicts: Uint8Array
  passed: number
  failed: number
  notJudged: number
}

/** Judges many rules over many reports in one call. */
export function judge(rules: readonly CompiledRule[], table: ReportTable): Judgement[] {
  return rules.map((rule) => {
    const truths = rule.compiled.run(table, { blanksAsZero: rule.rule.blanks === 'zero' })
    const verdicts = new Uint8Array(table.size)
    const counts = [0, 0, 0]
    for (let row = 0; row < table.size; row++) {
      const truth = truths[row]!
      const verdict = Number.isNaN(truth) ? NOT_JUDGED : truth === 1 ? PASSED : FAILED
      verdicts[row] = verdict
      counts[verdict]!++
    }
    return { rule, verdicts, notJudged: counts[NOT_JUDGED]!, passed: counts[PASSED]!, failed: counts[FAILED]! }
  })
}
