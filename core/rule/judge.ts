import { blanksBehind, type BlankCell } from '../expression/blanks-behind'
import { evaluateRow } from '../expression/evaluate-row'
import { explain, type Explanation } from '../expression/explain'
import { FAILED, NOT_JUDGED, PASSED, VERDICT_LOOPS, verdictsOf } from '../expression/kernels'
import { BLOCK, prepare, Scratch, type EvaluationOptions } from '../expression/prepare'
import type { ColumnTable } from '../report/table'
import type { CompiledRule } from './compile-rules'

export { FAILED, NOT_JUDGED, PASSED } from '../expression/kernels'

/** What one rule says of every row of a table: reports, entries of a case form, or cases. */
export interface Judgement {
  rule: CompiledRule
  /** One of {@link PASSED}, {@link FAILED}, {@link NOT_JUDGED} for each row. */
  verdicts: Uint8Array
  passed: number
  failed: number
  notJudged: number
  /** Rows on which the rule could not run at all, and why. They are not judged; the other rows are. */
  broken: { row: number; reason: string }[]
}

/** What stands behind one verdict. */
export interface VerdictDetail {
  verdict: number
  /** For a failure: the values. */
  explanation?: Explanation
  /** For a row that was not judged: the blanks in the way. */
  blanks?: BlankCell[]
}

/** How a rule is run. */
export const optionsFor = (rule: CompiledRule, today?: number): EvaluationOptions => ({
  blanksAsZero: rule.rule.blanks === 'zero',
  ...(today !== undefined && { today }),
})

/**
 * Fills in the verdicts of one rule, block by block, so that what is in between never leaves the nearest
 * cache.
 */
function run(
  rule: CompiledRule,
  table: ColumnTable,
  options: EvaluationOptions,
  scratch: Scratch,
  verdicts: Uint8Array,
): void {
  const { tree, bindings, types } = rule.compiled
  const loop =
    tree.type === 'binary' && types.get(tree.left) !== 'text' ? VERDICT_LOOPS[tree.operator] : undefined
  const eachBlock = (block: (start: number, length: number) => void) => {
    for (let start = 0; start < table.size; start += BLOCK) block(start, Math.min(BLOCK, table.size - start))
  }
  if (loop && tree.type === 'binary') {
    // The two sides are laid out one after the other; the first keeps its scratch until both are read.
    const left = prepare({ tree: tree.left, bindings, types }, table, options, scratch)
    const right = prepare({ tree: tree.right, bindings, types }, table, options, scratch)
    const steps = [...left.steps, ...right.steps]
    eachBlock((start, length) => {
      for (const step of steps) step(start, length)
      loop(
        verdicts,
        start,
        left.root.data,
        left.root.kind === 'column' ? start : 0,
        right.root.data,
        right.root.kind === 'column' ? start : 0,
        length,
      )
    })
    scratch.giveBack(left.root, right.root)
    return
  }
  const { steps, root } = prepare(rule.compiled, table, options, scratch)
  eachBlock((start, length) => {
    for (const step of steps) step(start, length)
    verdictsOf(verdicts, start, root.data, root.kind === 'column' ? start : 0, length)
  })
  scratch.giveBack(root)
}

/** One row at a time, for a rule that broke on some row: the others must not suffer from it. */
function runByRow(
  rule: CompiledRule,
  table: ColumnTable,
  options: EvaluationOptions,
  verdicts: Uint8Array,
): Judgement['broken'] {
  const broken: Judgement['broken'] = []
  for (let row = 0; row < table.size; row++) {
    try {
      const truth = evaluateRow(rule.compiled, table, row, options)
      verdicts[row] = truth === null ? NOT_JUDGED : truth === 1 ? PASSED : FAILED
    } catch (error) {
      verdicts[row] = NOT_JUDGED
      broken.push({ row, reason: error instanceof Error ? error.message : String(error) })
    }
  }
  return broken
}

/**
 * Judges many rules over many rows in one call. A rule that breaks spoils no other, and on no row but those
 * where it breaks; `broken` says where and why.
 * @param today the day number that `today()` gives.
 */
export function judge(rules: readonly CompiledRule[], table: ColumnTable, today?: number): Judgement[] {
  let scratch = new Scratch(table.size)
  return rules.map(rule => {
    const verdicts = new Uint8Array(table.size)
    let broken: Judgement['broken'] = []
    try {
      run(rule, table, optionsFor(rule, today), scratch, verdicts)
    } catch {
      // Said in `broken`, row by row. What it held of the scratch is lost, so the next rules get a new one.
      scratch = new Scratch(table.size)
      broken = runByRow(rule, table, optionsFor(rule, today), verdicts)
    }
    let passed = 0
    let failed = 0
    for (let row = 0; row < verdicts.length; row++) {
      passed += verdicts[row]! & PASSED
      failed += verdicts[row]! >> 1
    }
    return { rule, verdicts, passed, failed, notJudged: table.size - passed - failed, broken }
  })
}

/**
 * What stands behind the verdict of one row: the values of a failure, the blanks of a row that was not
 * judged.
 */
export function detail(
  { rule, verdicts }: Pick<Judgement, 'rule' | 'verdicts'>,
  table: ColumnTable,
  row: number,
  today?: number,
): VerdictDetail {
  const verdict = verdicts[row]!
  if (verdict === FAILED)
    return { verdict, explanation: explain(rule.compiled, table, row, optionsFor(rule, today)) }
  if (verdict === NOT_JUDGED) return { verdict, blanks: blanksBehind(rule.compiled, table, row) }
  return { verdict }
}
