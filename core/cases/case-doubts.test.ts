import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { MEASLES_CASES, MEASLES_CONTACTS } from '../../demo/registers/measles'
import { WATER_VISITS } from '../../demo/registers/water-visit'
import type { Answers } from '../form/answer'
import { must } from '../result'
import type { RuleDefinition } from '../rule/definition'
import { findCaseDoubts, formJudged } from './case-doubts'
import { foldCase, type Entry } from './fold'
import { runnableRegister } from './runnable-register'

const words = (en: string) => ({ en })
const rule = (code: string, expression: string): RuleDefinition => ({
  code,
  name: words(code),
  expression,
  strength: 'explain',
  blanks: 'notJudged',
  forClerk: words(code),
  forOfficer: words(code),
})
const measles = (...rules: RuleDefinition[]) =>
  must(runnableRegister({ ...MEASLES_CASES, rules }, () => undefined))
const value = (given: string | number) => ({ kind: 'value' as const, value: given })
const dayText = (day: number) => `2026-10-${String(day).padStart(2, '0')}`

describe('what a rule of a register is about', () => {
  const about = (expression: string) => formJudged(measles(rule('one', expression)).rules[0]!)
  it('is each entry of a form, where it names nothing but answers of that form', () => {
    expect(about('specimen.sent_on >= specimen.taken_on')).toBe('specimen')
    expect(about('specimen.taken_on >= registration.rash_on')).toBeNull()
    expect(about('taken_on >= rash_on')).toBeNull()
    expect(about('count(home_visit) >= 1')).toBeNull()
  })
  it('is the case, where it names the parent', () => {
    const contacts = must(runnableRegister(MEASLES_CONTACTS, () => MEASLES_CASES))
    expect(contacts.rules.map(formJudged)).toEqual([null])
  })
})

describe('doubts about cases', () => {
  /** Entries of one case: a rash, and specimens, in any order. */
  const drawn = fc.array(
    fc.record({
      form: fc.constantFrom('registration', 'specimen'),
      day: fc.integer({ min: 1, max: 28 }),
      sent: fc.integer({ min: 1, max: 28 }),
      happenedAt: fc.nat(5),
      isCorrection: fc.boolean(),
    }),
    { minLength: 1, maxLength: 7 },
  )
  const entriesOf = (id: string, rows: typeof drawn extends fc.Arbitrary<infer T> ? T : never): Entry[] =>
    rows.map(({ form, day, sent, happenedAt, isCorrection }, at) => {
      const before = rows.slice(0, at).findIndex(row => row.form === form)
      return {
        id: `${id}${at}`,
        case: id,
        form,
        happenedAt,
        receivedAt: at,
        answers: (form === 'specimen'
          ? { taken_on: value(dayText(day)), sent_on: value(dayText(sent)) }
          : { rash_on: value(dayText(day)) }) as Answers,
        ...(isCorrection && before >= 0 && { corrects: `${id}${before}` }),
      }
    })
  const register = measles(
    rule('over_case', 'specimen.taken_on >= rash_on'),
    rule('in_entry', 'specimen.sent_on >= specimen.taken_on'),
  )

  it('are those of a plain model: the last specimen against the last rash, and each specimen by itself', () => {
    fc.assert(
      fc.property(fc.array(drawn, { minLength: 1, maxLength: 5 }), all => {
        const files = all.map((rows, at) => foldCase(`c${at}-`, entriesOf(`c${at}-`, rows)))
        const found = findCaseDoubts(register, files)
        for (const [at, file] of files.entries()) {
          const last = file.entries.findLast(({ form }) => form === 'specimen')?.answers.taken_on
          const rash = file.values.get('rash_on')?.content
          const textOf = (content: typeof rash) => (content?.kind === 'value' ? String(content.value) : null)
          const [taken, seen] = [textOf(last), textOf(rash)]
          const expected = taken !== null && seen !== null && taken < seen ? ['rule:over_case'] : []
          for (const { form, answers, id, corrected } of file.entries)
            if (form === 'specimen' && textOf(answers.sent_on)! < textOf(answers.taken_on)!)
              expected.push(`rule:in_entry:${corrected[0] ?? id}`)
          expect(found[at]!.map(({ key }) => key)).toEqual(expected)
        }
      }),
    )
  })

  it('are the same for many cases at once as for each alone', () => {
    fc.assert(
      fc.property(fc.array(drawn, { minLength: 2, maxLength: 5 }), all => {
        const files = all.map((rows, at) => foldCase(`c${at}-`, entriesOf(`c${at}-`, rows)))
        expect(findCaseDoubts(register, files)).toEqual(
          files.flatMap(file => findCaseDoubts(register, [file])),
        )
      }),
    )
  })

  it('tell how many entries there are, where a rule counts them', () => {
    const visits = measles(rule('twice', 'count(home_visit) < 2'))
    const visit = (id: string): Entry => ({
      id,
      case: 'c',
      form: 'home_visit',
      happenedAt: 1,
      receivedAt: 1,
      answers: { home_visited_on: value('2026-10-02') },
    })
    const [doubts] = findCaseDoubts(visits, [foldCase('c', [visit('a'), visit('b')])])
    expect(doubts).toMatchObject([{ entry: null, answers: [{ from: 'home_visit', content: value(2) }] }])
  })
})

describe('a register that runs', () => {
  it('leaves out a rule that compiles no more, and keeps the others', () => {
    const runnable = measles(rule('gone', 'shoe_size > 3'), rule('there', 'rash_on <= notified_on'))
    expect(runnable.rules.map(({ rule: { code } }) => code)).toEqual(['there'])
  })
  it('has no rules against a parent that is not published', () => {
    expect(must(runnableRegister(MEASLES_CONTACTS, () => undefined)).rules).toEqual([])
    expect(must(runnableRegister(WATER_VISITS, () => undefined)).rules).toHaveLength(1)
  })
})
