import { contains, type Period } from '../calendar/period'
import { caseTable } from '../cases/case-table'
import type { CompiledRegister } from '../cases/compile-register'
import type { KnownCase } from '../cases/fold'
import { compile, type Compiled } from '../expression/compile'
import { dayIn } from '../form/answer'
import { numberOf, type CellContent } from '../report/cell'
import type { CaseCount } from '../report/edition'
import { good, type Result } from '../result'

/** What ties cells of a report to a count of cases. */
export type CaseBinding = Pick<CaseCount, 'cells' | 'where' | 'place' | 'residence' | 'date'>

/** A case with what the register does not ask. */
export interface CaseToCount {
  file: KnownCase
  /** The unit that had it on its day. */
  unit: string
  /** Units that had it before or after: there it nearly counts. */
  seenAt?: readonly string[]
  /** When the district first had it; milliseconds since 1970. */
  receivedAt: number
}

/** A case that counts here, and why. */
export interface CountedCase {
  case: string
  by: CaseBinding['place']
  /** The day number by which it is in the period. */
  day: number
  /** Did the district have it when the report was sent? `null` while no report was. */
  before: boolean | null
}

/** A case of this unit that nearly counts: one thing stands against it. */
export interface NearCase {
  case: string
  why: 'elsewhere' | 'otherPeriod' | 'noDate' | 'condition' | 'conditionUnknown'
  /** The unit where it does count by place. */
  unit?: string
  day?: number
}

export interface Reconciliation {
  verdict: 'equal' | 'reportHigher' | 'registerHigher' | 'notJudged'
  /** The report's side: its cells as they stand, and their sum; null when one of them is no number. */
  reported: number | null
  cells: { cell: string; content: CellContent }[]
  /** The register's side. */
  counted: CountedCase[]
  near: NearCase[]
  /** Did the register agree when the report was sent? Then the cases that came later make the difference. */
  agreedWhenSent: boolean
}

/** A binding whose condition can run. */
export interface CompiledBinding extends CaseBinding {
  condition?: Compiled
}

/** Compiles a binding's condition. Errors: those of expressions. */
export function compileBinding(binding: CaseBinding, register: CompiledRegister): Result<CompiledBinding> {
  if (binding.where === undefined) return good(binding)
  const compiled = compile(binding.where, register.vocabulary, 'truth')
  return compiled.ok ? good({ ...binding, condition: compiled.value }) : compiled
}

/** The report that is held against the register. */
export interface HeldReport {
  unit: string
  period: Period
  contents: Readonly<Record<string, CellContent>>
  /** Milliseconds since 1970; null while it is not sent. */
  sentAt: number | null
}

/**
 * Holds cells of a report against the cases that they count, with the list behind each side.
 * @param cases those that were seen or live in the unit; others do no harm.
 * @param within is a unit in the branch of another? A case lives in the unit, or in a place below it.
 */
export function reconcile(
  binding: CompiledBinding,
  register: CompiledRegister,
  report: HeldReport,
  cases: readonly CaseToCount[],
  within: (unit: string, branch: string) => boolean,
): Reconciliation {
  const table = caseTable(
    register,
    cases.map(({ file }) => file),
  )
  const truths = binding.condition?.run(table)
  const counted: CountedCase[] = []
  const near: NearCase[] = []
  cases.forEach(({ file, unit, seenAt = [], receivedAt }, row) => {
    const text = (code: string | undefined) => {
      const content = code === undefined ? undefined : file.values.get(code)?.content
      return content?.kind === 'value' && typeof content.value === 'string' ? content.value : null
    }
    const home = text(binding.residence)
    const bySeen = unit === report.unit
    const byHome = home !== null && within(home, report.unit)
    if (!bySeen && !byHome && !seenAt.includes(report.unit)) return
    const place = binding.place === 'care' ? unit : home
    const day = dayIn(file.values.get(binding.date)?.content)
    const truth = truths ? truths[row]! : 1
    const against: NearCase[] = []
    if (!(binding.place === 'care' ? bySeen : byHome))
      against.push({ case: file.case, why: 'elsewhere', ...(place !== null && { unit: place }) })
    if (day === null) against.push({ case: file.case, why: 'noDate' })
    else if (!contains(report.period, day)) against.push({ case: file.case, why: 'otherPeriod', day })
    if (truth !== 1)
      against.push({ case: file.case, why: Number.isNaN(truth) ? 'conditionUnknown' : 'condition' })
    if (against.length === 1) near.push(against[0]!)
    if (against.length === 0)
      counted.push({
        case: file.case,
        by: binding.place,
        day: day!,
        before: report.sentAt === null ? null : receivedAt <= report.sentAt,
      })
  })
  return { ...judged(binding, report, counted), counted, near }
}

/**
 * What some cells of a report say together; null when one of them is no number, or none is offered.
 * @example reportedBy([{ kind: 'value', value: 3 }, { kind: 'notOffered' }]) // 3
 */
export function reportedBy(contents: readonly CellContent[]): number | null {
  // A service that is not offered adds nothing, as in any other sum.
  const given = contents.filter(({ kind }) => kind !== 'notOffered').map(numberOf)
  return given.length && !given.includes(null) ? given.reduce<number>((sum, value) => sum + value!, 0) : null
}

function judged(
  { cells }: CaseBinding,
  { contents }: HeldReport,
  counted: readonly CountedCase[],
): Pick<Reconciliation, 'verdict' | 'reported' | 'cells' | 'agreedWhenSent'> {
  const side = cells.map(cell => ({ cell, content: contents[cell] ?? { kind: 'blank' as const } }))
  const reported = reportedBy(side.map(({ content }) => content))
  const verdict =
    reported === null
      ? 'notJudged'
      : reported === counted.length
        ? 'equal'
        : reported > counted.length
          ? 'reportHigher'
          : 'registerHigher'
  const then = counted.filter(({ before }) => before === true).length
  return { verdict, reported, cells: side, agreedWhenSent: verdict !== 'equal' && reported === then }
}
