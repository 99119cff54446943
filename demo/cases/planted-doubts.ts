import { parseDay, printDay } from '#core/calendar/day'
import type { AnswerValue } from '#core/form/answer'
import { must } from '#core/result'
import type { DemoEntry } from './entry'

/** Entries against the rules of their registers: a slip of the hand at a facility. */
interface CaseSlip {
  kind: 'specimenBeforeRash' | 'weightLost' | 'contactTooEarly'
  /** The facility whose newest entry of this form is spoiled. */
  unit: string
  form: string
  /** The rule that finds it. */
  rule: string
  answer: string
  /** The wrong answer, made from another one of the case or of its parent. */
  from: string
  spoil: (right: AnswerValue) => AnswerValue
}

const daysFrom = (days: number) => (day: AnswerValue) => printDay(must(parseDay(String(day))) + days)

const specimenBeforeRash = (unit: string): CaseSlip => ({
  kind: 'specimenBeforeRash',
  unit,
  form: 'specimen',
  rule: 'specimen_after_rash',
  answer: 'taken_on',
  from: 'rash_on',
  spoil: daysFrom(-4),
})
/** The weight of birth was written again, with the last digits swapped. */
const weightLost = (unit: string): CaseSlip => ({
  kind: 'weightLost',
  unit,
  form: 'day_42',
  rule: 'gained_by_day_42',
  answer: 'day_42_weight',
  from: 'birth_weight',
  spoil: weight => Number(weight) - 180,
})
const contactTooEarly = (unit: string): CaseSlip => ({
  kind: 'contactTooEarly',
  unit,
  form: 'contact',
  rule: 'met_while_infectious',
  answer: 'met_on',
  from: 'rash_on',
  spoil: daysFrom(-21),
})

export const CASE_SLIPS: readonly CaseSlip[] = [
  specimenBeforeRash('ashmere'),
  specimenBeforeRash('quillan'),
  specimenBeforeRash('tolben'),
  weightLost('ashmere'),
  weightLost('tolben'),
  contactTooEarly('ashmere'),
]

const isOf = ({ unit, form }: CaseSlip, { entry }: DemoEntry) =>
  entry.unit === unit && entry.form === form && !entry.corrects

function spoil(entries: DemoEntry[], slip: CaseSlip): DemoEntry[] {
  const newest = entries.findLast(one => isOf(slip, one))
  if (!newest) throw new Error(`No ${slip.form} was filled at ${slip.unit}.`)
  const { case: of, parent } = newest.entry
  const source = entries.find(
    ({ entry }) => (entry.case === of || entry.case === parent) && slip.from in entry.answers,
  )
  const right = source?.entry.answers[slip.from]
  if (right?.kind !== 'value') throw new Error(`The case to spoil at ${slip.unit} has no ${slip.from}.`)
  const wrong = { kind: 'value' as const, value: slip.spoil(right.value) }
  return entries.map(one =>
    one === newest
      ? { ...one, entry: { ...one.entry, answers: { ...one.entry.answers, [slip.answer]: wrong } } }
      : one,
  )
}

/** The entries with the slips in them. */
export const withCaseSlips = (entries: readonly DemoEntry[]): DemoEntry[] =>
  CASE_SLIPS.reduce((now, slip) => spoil(now, slip), [...entries])

/** The doubts that the slips must raise, in entries with the slips in them. */
export const plantedCaseDoubts = (entries: readonly DemoEntry[]): { case: string; key: string }[] =>
  CASE_SLIPS.map(slip => ({
    case: entries.findLast(one => isOf(slip, one))!.entry.case,
    key: `rule:${slip.rule}`,
  }))
