import { printDay } from '../calendar/day'

/** How a case ends that is closed: followed to its end, the person died, was lost, moved away, or else. */
export const CASE_OUTCOMES = ['completed', 'died', 'lost', 'left', 'other'] as const
export type CaseOutcome = (typeof CASE_OUTCOMES)[number]

/** That a case went from one facility to another. */
export interface CaseMove {
  from: string
  to: string
  /** The day from which it is the other's, as 2026-10-05; null where it has been the other's all the time. */
  since: string | null
}

/** That a case is closed: nobody visits, and no result is awaited any more. */
export interface CaseClosing {
  /** As 2026-10-05. */
  on: string
  outcome: CaseOutcome
}

/** Where a case is, and whether it is closed. */
export interface CaseLife {
  /** The facility that has it now. */
  unit: string
  /** In the order in which they were made. */
  moves: readonly CaseMove[]
  closed: CaseClosing | null
}

/** What a person does with a case besides filling its forms. */
export type CaseAct =
  | { act: 'move'; to: string; since: string | null; text: string }
  | ({ act: 'close'; text?: string } & CaseClosing)
  | { act: 'reopen'; text: string }

/**
 * The facility for which a case counts on a day: the one that had it then. A case without a day counts where it
 * is now. Transferred on the 15th, a rash of the 10th counts for the first facility; where it was the other's
 * all the time, for the other.
 * @param day in days since 1970
 * @example unitOn({ unit: "oak", moves: [{ from: "elm", to: "oak", since: "2026-10-15" }] }, october10) // "elm"
 */
export function unitOn({ unit, moves }: Pick<CaseLife, 'unit' | 'moves'>, day: number | null): string {
  const [first] = moves
  if (!first || day === null) return unit
  const at = printDay(day)
  return moves.reduce((of, { to, since }) => (since === null || since <= at ? to : of), first.from)
}

/** A case after an act: as the district will see it once it has got the act. */
export function afterAct(life: CaseLife, act: CaseAct): CaseLife {
  switch (act.act) {
    case 'move':
      return {
        ...life,
        unit: act.to,
        moves: [...life.moves, { from: life.unit, to: act.to, since: act.since }],
      }
    case 'close':
      return { ...life, closed: { on: act.on, outcome: act.outcome } }
    case 'reopen':
      return { ...life, closed: null }
  }
}

/**
 * Why an act does not go with a case as it is; null where it does: `case-closed`, `case-open`, `case-there`, or
 * `case-later-entry` where a form was filled after the day of closing.
 * @param lastOn the day of its last event, as 2026-10-05; null where it has none
 */
export function whyNot(
  { unit, closed }: CaseLife,
  act: CaseAct,
  lastOn: string | null,
): 'case-closed' | 'case-open' | 'case-there' | 'case-later-entry' | null {
  if (act.act === 'move') return act.to === unit ? 'case-there' : null
  if (act.act === 'reopen') return closed ? null : 'case-open'
  if (closed) return 'case-closed'
  return lastOn !== null && lastOn > act.on ? 'case-later-entry' : null
}
