import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { MEASLES_CASES, MEASLES_CONTACTS } from '../../demo/registers/measles'
import { NEWBORNS } from '../../demo/registers/newborn'
import { WATER_VISITS } from '../../demo/registers/water-visit'
import type { Answers, AnswerValue } from '../form/answer'
import { must } from '../result'
import { detail, judge } from '../rule/judge'
import { caseTable } from './case-table'
import { compileRegister } from './compile-register'
import { decideBetween, foldCase, foldCases, type Entry } from './fold'
import { followUp } from './follow-up'
import type { CaseRegister } from './register'

const values = (answers: Record<string, AnswerValue>): Answers =>
  Object.fromEntries(Object.entries(answers).map(([key, value]) => [key, { kind: 'value', value }]))
let counter = 0
const entry = (
  form: string,
  happenedAt: number,
  answers: Record<string, AnswerValue>,
  more: Partial<Entry> = {},
): Entry => ({
  id: `e${++counter}`,
  case: 'c',
  form,
  happenedAt,
  receivedAt: happenedAt,
  answers: values(answers),
  ...more,
})
const known = (entries: Entry[], key: string, asOf = {}) => {
  const content = foldCase('c', entries, asOf).values.get(key)?.content
  return content?.kind === 'value' ? content.value : content?.kind
}

describe('a case is the fold of its entries', () => {
  it('in order of event time, then of receipt: which one gave each value is told', () => {
    const first = entry('registration', 10, { full_name: 'Ila', village: 'Eastfold' })
    const late = entry('specimen', 5, { village: 'Lowgate', result: 'negative' }, { receivedAt: 90 })
    const same = entry('specimen', 10, { full_name: 'Ila Marsh' }, { receivedAt: 11 })
    const file = foldCase('c', [same, first, late])
    expect(file.entries.map(({ id }) => id)).toEqual([late.id, first.id, same.id])
    expect([...file.values].map(([key, { entry: from }]) => [key, from])).toEqual([
      ['village', first.id],
      ['result', late.id],
      ['full_name', same.id],
    ])
  })

  it('whatever the order in which they come', () => {
    const drawn = fc.array(
      fc.record({
        happenedAt: fc.nat(4),
        receivedAt: fc.nat(4),
        a: fc.option(fc.nat(9)),
        b: fc.option(fc.nat(9)),
        corrects: fc.option(fc.nat(5)),
      }),
      { maxLength: 8 },
    )
    fc.assert(
      fc.property(
        drawn.chain(list =>
          fc.tuple(
            fc.constant(list),
            fc.shuffledSubarray(
              list.map((_, at) => at),
              { minLength: list.length },
            ),
          ),
        ),
        ([list, order]) => {
          const entries = list.map(({ a, b, corrects, ...when }, at): Entry => ({
            id: `n${at}`,
            case: 'c',
            form: 'f',
            ...when,
            answers: values({ ...(a !== null && { a }), ...(b !== null && { b }) }),
            ...(corrects !== null && corrects < at && { corrects: `n${corrects}` }),
          }))
          expect(
            foldCase(
              'c',
              order.map(at => entries[at]!),
            ),
          ).toEqual(foldCase('c', entries))
        },
      ),
    )
  })

  it('a blank changes nothing, and not known does not hide what was known', () => {
    const later: Entry = {
      ...entry('registration', 20, {}),
      answers: {
        full_name: { kind: 'blank' },
        village: { kind: 'notKnown', reason: 'away' },
        phone: { kind: 'notKnown', reason: 'none' },
      },
    }
    const entries = [entry('registration', 10, { full_name: 'Ila', village: 'Eastfold' }), later]
    expect([known(entries, 'full_name'), known(entries, 'village'), known(entries, 'phone')]).toEqual([
      'Ila',
      'Eastfold',
      'notKnown',
    ])
  })

  it('a later list of children takes the place of the earlier one, whole', () => {
    const entries = [
      entry('home_visit', 10, {
        children: ['a', 'b'],
        'children/a/child_name': 'Ila',
        'children/b/child_name': 'Oren',
        'children/b/child_vaccinated': true,
      }),
      entry('home_visit', 20, { children: ['b'], 'children/b/child_name': 'Oren' }),
    ]
    expect([...foldCase('c', entries).values.keys()]).toEqual(['children', 'children/b/child_name'])
  })
})

describe('a correction', () => {
  const first = entry('registration', 10, { full_name: 'Ila', village: 'Eastfold' })
  const visit = entry('home_visit', 20, { village: 'Lowgate' })
  const correction = entry('registration', 10, { full_name: 'Isla' }, { corrects: first.id, receivedAt: 50 })
  const again = entry(
    'registration',
    30,
    { full_name: 'Isla', village: 'Tern Row' },
    { corrects: correction.id, receivedAt: 60 },
  )

  it('takes the whole place of what it corrects, and keeps it for ever', () => {
    const file = foldCase('c', [first, visit, correction])
    expect(file.entries.map(({ id, corrected }) => [id, corrected])).toEqual([
      [correction.id, [first.id]],
      [visit.id, []],
    ])
    expect([known([first, correction], 'full_name'), known([first, correction], 'village')]).toEqual([
      'Isla',
      undefined,
    ])
  })

  it('of a correction moves on with its own day', () => {
    expect(
      foldCase('c', [first, visit, correction, again]).entries.map(({ id, corrected }) => [id, corrected]),
    ).toEqual([
      [visit.id, []],
      [again.id, [first.id, correction.id]],
    ])
    expect(known([first, visit, correction, again], 'village')).toBe('Tern Row')
  })

  it('made on two devices counts as it was last received; one of nothing, or of itself, stands or hangs nothing up', () => {
    const other = entry('registration', 10, { full_name: 'Ira' }, { corrects: first.id, receivedAt: 40 })
    expect(known([first, correction, other], 'full_name')).toBe('Isla')
    expect(known([entry('registration', 1, { full_name: 'Una' }, { corrects: 'lost' })], 'full_name')).toBe(
      'Una',
    )
    const ring = [
      entry('registration', 1, { full_name: 'Una' }, { id: 'r1', corrects: 'r2' }),
      entry('registration', 2, { village: 'Eastfold' }, { id: 'r2', corrects: 'r1' }),
    ]
    expect(foldCase('c', ring).entries.map(({ id }) => id)).toEqual(['r1', 'r2'])
  })

  it('is not known before it came: the case as of any date', () => {
    const all = [first, visit, correction]
    expect(known(all, 'full_name', { knownBefore: 50 })).toBe('Ila')
    expect(known(all, 'full_name', { knownBefore: 51 })).toBe('Isla')
    expect(known(all, 'village', { happenedBefore: 20, knownBefore: 30 })).toBe('Eastfold')
    expect(known(all, 'village', { happenedBefore: 21 })).toBe('Lowgate')
    expect(foldCase('c', all, { knownBefore: 0 })).toEqual({ case: 'c', values: new Map(), entries: [] })
  })
})

describe('rules on cases', () => {
  const measles = must(compileRegister(MEASLES_CASES))
  const contacts = must(compileRegister(MEASLES_CONTACTS, measles))
  const verdicts = (entries: Entry[]) =>
    Object.fromEntries(
      judge(measles.rules, caseTable(measles, foldCases(entries))).map(({ rule, verdicts: [verdict] }) => [
        rule.rule.code,
        verdict,
      ]),
    )
  const registered = entry('registration', 10, { rash_on: '2026-10-05' })

  it('over its entries: the specimen after the rash, within 28 days (WHO surveillance standards, from memory)', () => {
    expect(verdicts([registered, entry('specimen', 11, { taken_on: '2026-10-20' })])).toMatchObject({
      specimen_after_rash: 1,
      specimen_in_time: 1,
    })
    expect(verdicts([registered, entry('specimen', 11, { taken_on: '2026-10-04' })])).toMatchObject({
      specimen_after_rash: 2,
      specimen_in_time: 1,
    })
    expect(verdicts([registered, entry('specimen', 11, { taken_on: '2026-11-03' })])).toMatchObject({
      specimen_after_rash: 1,
      specimen_in_time: 2,
    })
    expect(verdicts([registered])).toMatchObject({ specimen_after_rash: 0, specimen_in_time: 0 })
  })

  it('with counts of entries, and with what stood in the way', () => {
    const confirmed = entry('specimen', 12, { classification: 'confirmed', result: 'positive' })
    expect(verdicts([registered, confirmed])).toMatchObject({ confirmed_by_result: 1, visited_once: 2 })
    expect(verdicts([registered, confirmed, entry('home_visit', 13, {})])).toMatchObject({ visited_once: 1 })
    const table = caseTable(measles, foldCases([registered]))
    const judged = judge(measles.rules, table)[0]!
    expect(detail(judged, table, 0)).toEqual({
      verdict: 0,
      blanks: [{ cell: 'taken_on', back: 0, source: 'specimen', kind: 'blank' }],
    })
  })

  it('against the parent case: a contact met while the case was infectious', () => {
    const parent = foldCase('c', [registered])
    const met = (on: string) => foldCase('k', [entry('contact', 12, { met_on: on }, { case: 'k' })])
    const table = caseTable(contacts, [met('2026-10-03'), met('2026-10-30'), met('2026-10-03')], {
      of: [parent, parent, undefined],
      register: measles,
    })
    expect([...judge(contacts.rules, table)[0]!.verdicts]).toEqual([1, 2, 0])
  })

  it('within one entry of a checklist: working basins above basins', () => {
    const water = must(compileRegister(WATER_VISITS))
    const file = foldCase('c', [
      entry('water_visit', 10, {
        'basins.waiting': 2,
        'basins.consulting': 1,
        'basins.injection': 0,
        'basins.latrines': 0,
        'working.waiting': 4,
        'working.consulting': 0,
        'working.injection': 0,
        'working.latrines': 0,
      }),
    ])
    expect([...judge(water.rules, caseTable(water, [file]))[0]!.verdicts]).toEqual([2])
  })
})

describe('a register that cannot be', () => {
  const broken = (more: Partial<CaseRegister>) => {
    const compiled = compileRegister({ ...NEWBORNS, ...more })
    return compiled.ok
      ? []
      : compiled.problems.map(({ code, values }) => [code, values?.question ?? values?.form ?? values?.rule])
  }

  it('says why: a question that no form asks, two forms of one code, two ways to ask', () => {
    expect(broken({})).toEqual([])
    expect(broken({ line: ['moon'] })).toEqual([['register-no-question', 'moon']])
    expect(broken({ forms: [...NEWBORNS.forms, NEWBORNS.forms[0]!] })).toEqual([
      ['register-form-double', 'birth'],
    ])
    const odd = {
      role: 'followUp' as const,
      many: true,
      eventDate: 'baby_born_on',
      form: { code: 'odd', name: {}, parts: [{ kind: 'text' as const, code: 'birth_weight', label: {} }] },
    }
    expect(broken({ forms: [...NEWBORNS.forms, odd] })).toContainEqual([
      'register-code-differs',
      'birth_weight',
    ])
    expect(broken({ rules: [{ ...NEWBORNS.rules[0]!, expression: 'birth.moon > 3' }] })).toEqual([
      ['expression-no-item', 'gained_by_day_42'],
    ])
  })
})

describe('what a case still needs', () => {
  const register = { forms: MEASLES_CASES.forms, follow: { nextVisit: 'next_visit_on', result: 'result' } }
  const value = (text: string) => ({ kind: 'value' as const, value: text })
  const entry = (
    id: string,
    form: string,
    happenedAt: number,
    answers: Record<string, ReturnType<typeof value>>,
  ) => ({ id, case: 'c', form, answers, happenedAt, receivedAt: happenedAt })
  const needs = (...entries: ReturnType<typeof entry>[]) => followUp(register, foldCases(entries)[0]!, false)
  const visit = (id: string, at: number, next?: string) =>
    entry(id, 'home_visit', at, next ? { next_visit_on: value(next) } : {})

  it('is the next visit, until one came after it was set', () => {
    const DAY = 20_400
    const next = new Date(DAY * 86_400_000).toISOString().slice(0, 10)
    expect(needs(visit('a', 1, next)).nextVisit).toBe(DAY)
    expect(needs(visit('a', 1, next), visit('b', 2)).nextVisit).toBeNull()
    expect(needs(entry('a', 'registration', 1, {})).nextVisit).toBeNull()
  })

  it('is nothing once it is closed', () => {
    const entries = [visit('a', 1, '2026-10-30'), entry('b', 'specimen', 1, { specimen_number: value('S1') })]
    const closed = followUp(register, foldCases(entries)[0]!, true)
    expect(closed).toEqual({ nextVisit: null, resultAwaited: false })
  })

  it('is the result of what was sent away', () => {
    expect(needs(entry('a', 'registration', 1, {})).resultAwaited).toBe(false)
    expect(needs(entry('a', 'specimen', 1, { specimen_number: value('S1') })).resultAwaited).toBe(true)
    expect(
      needs(entry('a', 'specimen', 1, { specimen_number: value('S1') }), {
        ...entry('b', 'specimen', 1, { result: value('negative') }),
        corrects: 'a',
      } as never).resultAwaited,
    ).toBe(false)
  })
})

describe('numbers right, 12: case histories', () => {
  const first = entry('registration', 10, { full_name: 'Ila' })
  const correct = (of: Entry, receivedAt: number, full_name: string, more: Partial<Entry> = {}) =>
    entry('registration', 10, { full_name }, { corrects: of.id, receivedAt, ...more })

  it('when two people correct one entry and one of them goes on, the last word counts and the other is shown', () => {
    const a = correct(first, 20, 'Isla')
    const b = correct(first, 30, 'Ira')
    const aAgain = correct(a, 40, 'Islay')
    const [counted, ...others] = foldCase('c', [first, a, b, aAgain]).entries
    expect(others).toEqual([])
    expect([counted!.id, counted!.corrected, counted!.rivals.map(({ id }) => id)]).toEqual([
      aAgain.id,
      [first.id, a.id],
      [b.id],
    ])
    expect(known([first, a, b, aAgain], 'full_name')).toBe('Islay')
    // Received in another order it is the other way round, and again nobody vanishes.
    const late = { ...b, receivedAt: 50 }
    expect(
      foldCase('c', [first, a, late, aAgain]).entries.map(({ id, rivals }) => [
        id,
        rivals.map(rival => rival.id),
      ]),
    ).toEqual([[late.id, [aAgain.id]]])
  })

  it('two people who say the same are in no conflict', () => {
    expect(
      foldCase('c', [first, correct(first, 20, 'Isla'), correct(first, 30, 'Isla')]).entries[0]!.rivals,
    ).toEqual([])
  })

  it('a person decides for either, and the conflict is over on every device', () => {
    const entries = [first, correct(first, 20, 'Isla'), correct(first, 30, 'Ira'), correct(first, 25, 'Ilse')]
    const [conflict] = foldCase('c', entries).entries
    for (const chosen of [conflict!, ...conflict!.rivals]) {
      const decided = decideBetween(conflict!, chosen).map((made, at): Entry => ({
        ...first,
        ...made,
        id: `d${at}`,
        receivedAt: 60 + at,
      }))
      const [after] = foldCase('c', [...entries, ...decided]).entries
      expect([known([...entries, ...decided], 'full_name'), after!.rivals]).toEqual([
        (chosen.answers.full_name as { value: string }).value,
        [],
      ])
    }
  })

  it('whatever two people do to one entry, the last thing that each said counts or is a rival', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.boolean(), fc.nat(9), fc.nat(20)), { minLength: 1, maxLength: 10 }),
        acts => {
          const entries: Entry[] = [first]
          const last: Record<string, Entry> = {}
          acts.forEach(([mine, , receivedAt], at) => {
            const who = String(mine)
            // Each goes on from their own last word: they do not see the other's.
            const made = correct(last[who] ?? first, 100 + receivedAt * 100 + at, `name ${at}`, {
              id: `x${at}`,
            })
            entries.push(made)
            last[who] = made
          })
          const [counted] = foldCase('c', entries).entries
          expect([counted!.id, ...counted!.rivals.map(({ id }) => id)].sort()).toEqual(
            Object.values(last)
              .map(({ id }) => id)
              .sort(),
          )
        },
      ),
    )
  })

  it('a later empty list of children clears the earlier one', () => {
    const entries = [
      entry('home_visit', 10, {
        children: ['a'],
        'children/a/child_name': 'Ila',
        'children/a/child_vaccinated': true,
      }),
      entry('home_visit', 20, { children: [] }),
    ]
    const file = foldCase('c', entries)
    expect([...file.values.keys()]).toEqual(['children'])
    expect(known(entries, 'children')).toEqual([])
    // A visit that does not ask for the children leaves them.
    expect([
      ...foldCase('c', [entries[0]!, entry('home_visit', 20, { village: 'Lowgate' })]).values.keys(),
    ]).toContain('children/a/child_name')
  })
})
