import { dependsOn } from '../expression/depends-on'
import type { AnswerContent } from '../form/answer'
import { BLANK } from '../report/cell'
import type { ColumnTable } from '../report/table'
import type { CompiledRule } from '../rule/compile-rules'
import { ruleKey, type Doubt } from '../rule/find-doubts'
import { detail, FAILED, judge, NOT_JUDGED, type Judgement } from '../rule/judge'
import { caseTable } from './case-table'
import type { CountedEntry, KnownCase } from './fold'
import type { RunnableRegister } from './runnable-register'

/** An answer that a rule names, as it stands. */
export interface DoubtedAnswer {
  /** What stands before the dot: a form, or `parent`; null for the latest known of the case. */
  from: string | null
  /** The key of its cell. */
  cell: string
  content: AnswerContent
}

/** One doubt about one case, before anybody has worked on it. */
export interface CaseDoubt extends Doubt {
  /** The entry that it is about; null where it is about the case as a whole. */
  entry: string | null
  /** The answers behind it. An explanation holds for these. */
  answers: DoubtedAnswer[]
}

/**
 * Which form's entries a rule is about: one that names nothing but the answers of one form, as
 * `water_visit.working <= water_visit.basins`, holds within each entry of that form. Any other rule holds for
 * the case as it is known: `specimen.taken_on >= rash_on`.
 */
export function formJudged({ compiled }: Pick<CompiledRule, 'compiled'>): string | null {
  const { items, lists, others } = dependsOn(compiled)
  const [form, ...more] = Object.keys(others)
  return form === undefined || form === 'parent' || more.length || items.length || lists.length ? null : form
}

/** Does a rule read the parent case? Then it is judged again when the parent changes. */
export const readsParent = ({ compiled }: Pick<CompiledRule, 'compiled'>): boolean =>
  'parent' in dependsOn(compiled).others

/** A row that a rule is judged on. */
interface Row {
  /** The place of the case. */
  at: number
  file: KnownCase
  parent: KnownCase | undefined
  /** The entry, where the rule is about each. */
  entry: CountedEntry | null
}

const latestAnswers = ({ entries }: KnownCase, form: string) =>
  entries.findLast(entry => entry.form === form)?.answers

/** What a rule reads of one row. A count is told by how many entries there are of its form. */
function answersOf({ compiled }: CompiledRule, { file, parent }: Row): DoubtedAnswer[] {
  const { cells, others, lists } = dependsOn(compiled)
  const own = cells.map(cell => ({ from: null, cell, content: file.values.get(cell)?.content ?? BLANK }))
  const before = Object.entries(others).flatMap(([from, keys]) => {
    const of = from === 'parent' ? null : latestAnswers(file, from)
    return keys.map(cell => ({
      from,
      cell,
      content: (of === null ? parent?.values.get(cell)?.content : of?.[cell]) ?? BLANK,
    }))
  })
  const counted = lists.map(form => ({
    from: form,
    cell: '',
    content: { kind: 'value' as const, value: file.entries.filter(entry => entry.form === form).length },
  }))
  return [...own, ...before, ...counted]
}

/** A rule with what it was judged on. */
interface RuleRun {
  rule: CompiledRule
  rows: readonly Row[]
  table: ColumnTable
  judgement: Judgement
}

/** Judges every rule of a register on some cases; those about the same entries share their table. */
function runRules(
  register: RunnableRegister,
  files: readonly KnownCase[],
  parents: readonly (KnownCase | undefined)[],
  today?: number,
): RuleRun[] {
  const tables = new Map<string | null, { rows: Row[]; table: ColumnTable }>()
  const tableFor = (form: string | null) => {
    const known = tables.get(form)
    if (known) return known
    const rows = files.flatMap((file, at): Row[] => {
      const parent = parents[at]
      if (form === null) return [{ at, file, parent, entry: null }]
      return file.entries
        .filter(entry => entry.form === form)
        .map(entry => ({ at, file: { ...file, entries: [entry] }, parent, entry }))
    })
    const table = caseTable(
      register,
      rows.map(({ file }) => file),
      register.parent && { of: rows.map(({ parent }) => parent), register: register.parent },
    )
    const made = { rows, table }
    tables.set(form, made)
    return made
  }
  return register.rules.map(rule => {
    const { rows, table } = tableFor(formJudged(rule))
    return { rule, rows, table, judgement: judge([rule], table, today)[0]! }
  })
}

function doubtOf({ rule, rows, table, judgement }: RuleRun, at: number, today?: number): CaseDoubt {
  const row = rows[at]!
  const entry = row.entry && (row.entry.corrected[0] ?? row.entry.id)
  return {
    key: entry ? `${ruleKey(rule)}:${entry}` : ruleKey(rule),
    source: 'rule',
    code: rule.rule.code,
    band: rule.band,
    strength: rule.rule.strength,
    cells: rule.compiled.cells,
    explanation: detail(judgement, table, at, today).explanation,
    entry: row.entry?.id ?? null,
    answers: answersOf(rule, row),
  }
}

/**
 * Every doubt about each of some cases of one register, in the order of its rules. One about an entry has the
 * same key after the entry was corrected: the key names the first of its corrections.
 *
 * @param parents the parent of each case, where the register has one
 * @param today the day number that `today()` gives
 */
export function findCaseDoubts(
  register: RunnableRegister,
  files: readonly KnownCase[],
  parents: readonly (KnownCase | undefined)[] = [],
  today?: number,
): CaseDoubt[][] {
  const found: CaseDoubt[][] = files.map(() => [])
  for (const run of runRules(register, files, parents, today))
    run.judgement.verdicts.forEach((verdict, at) => {
      if (verdict === FAILED) found[run.rows[at]!.at]!.push(doubtOf(run, at, today))
    })
  return found
}

/** How often a rule would have fired on some cases. Each counts once, however many of its entries failed. */
export interface CaseTryOut {
  /** Those that the rule is about: of a rule within the entries of a form, those that have one. */
  cases: number
  fired: number
  /** An answer is missing, and no entry failed. */
  notJudged: number
  hits: { case: string; doubt: CaseDoubt }[]
}

/** Tries the rules of a register on some cases. @param today the day number that `today()` gives */
export function tryOnCases(
  register: RunnableRegister,
  files: readonly KnownCase[],
  parents: readonly (KnownCase | undefined)[] = [],
  today?: number,
): CaseTryOut {
  const failed = new Set<number>()
  const open = new Set<number>()
  const about = new Set<number>()
  const hits: CaseTryOut['hits'] = []
  for (const run of runRules(register, files, parents, today))
    run.judgement.verdicts.forEach((verdict, row) => {
      const { at, file } = run.rows[row]!
      about.add(at)
      if (verdict === NOT_JUDGED) open.add(at)
      if (verdict !== FAILED) return
      failed.add(at)
      hits.push({ case: file.case, doubt: doubtOf(run, row, today) })
    })
  return {
    cases: about.size,
    fired: failed.size,
    notJudged: [...open].filter(at => !failed.has(at)).length,
    hits,
  }
}
