import { Type, type Static } from '@sinclair/typebox'
import type { Reconciliation } from '../reconcile/reconcile'
import { CaseLine } from './cases'
import {
  CellContent,
  CellKey,
  Count,
  DayText,
  exact,
  Instant,
  oneOf,
  orNull,
  RoundRef,
  StateName,
  UnitRef,
  Uuid,
  Words,
} from './common'
import { Code } from './drafts'

export const COUNT_VERDICTS = ['equal', 'reportHigher', 'registerHigher', 'notJudged'] as const
export const NEAR_WHYS = ['elsewhere', 'otherPeriod', 'noDate', 'condition', 'conditionUnknown'] as const

/** One facility's report against its register, for one count. */
export const CountedRow = exact({
  unit: UnitRef,
  state: StateName,
  count: Code,
  verdict: oneOf<Reconciliation['verdict']>(...COUNT_VERDICTS),
  /** The sum of the cells; null when one of them is no number. */
  reported: orNull(Type.Number()),
  registered: Count,
  /** Did both agree when the report was sent? Then the cases that came later make the difference. */
  agreedWhenSent: Type.Boolean(),
})
export type CountedRow = Static<typeof CountedRow>

export const CaseCountHead = exact({ code: Code, name: Words, register: Code, cells: Type.Array(CellKey) })

export const CaseCountBoard = exact({
  round: RoundRef,
  unit: UnitRef,
  /** None where the dataset holds no cell against a register. */
  counts: Type.Array(CaseCountHead),
  /** Reports that are in, each with each count. */
  rows: Type.Array(CountedRow),
})
export type CaseCountBoard = Static<typeof CaseCountBoard>

export const CaseCountFile = exact({
  round: RoundRef,
  count: CaseCountHead,
  row: CountedRow,
  sentAt: orNull(Instant),
  /** The discrepancy that the difference is worked on in. */
  discrepancy: orNull(Uuid),
  cells: Type.Array(exact({ cell: CellKey, content: CellContent })),
  counted: Type.Array(
    exact({
      line: CaseLine,
      day: DayText,
      /** Had the district it when the report was sent? null while no report was. */
      before: orNull(Type.Boolean()),
    }),
  ),
  /** Cases that nearly count: one thing stands against each. */
  near: Type.Array(
    exact({ line: CaseLine, why: oneOf(...NEAR_WHYS), unit: orNull(UnitRef), day: orNull(DayText) }),
  ),
})
export type CaseCountFile = Static<typeof CaseCountFile>
