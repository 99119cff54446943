import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { MEASLES_HOME_VISIT, MEASLES_REGISTRATION } from '../../demo/registers/measles'
import { WATER_VISIT } from '../../demo/registers/water-visit'
import { parseDay } from '../calendar/day'
import { BLANK } from '../report/cell'
import { must } from '../result'
import type { AnswerContent, Answers, AnswerValue } from './answer'
import { compileForm } from './compile-form'
import { beginFilling, choicesNow, give, onlyComputes } from './fill'
import { answersOf, contentAt, type Filling } from './filling'
import type { Form } from './question'

const today = must(parseDay('2026-11-09'))
const registration = must(compileForm(MEASLES_REGISTRATION))
const visit = must(compileForm(MEASLES_HOME_VISIT))
const water = must(compileForm(WATER_VISIT))
const value = (content: AnswerValue): AnswerContent => ({ kind: 'value', value: content })
const values = (answers: Record<string, AnswerValue>): Answers =>
  Object.fromEntries(Object.entries(answers).map(([key, content]) => [key, value(content)]))
const filled = (form: typeof registration, answers: Record<string, AnswerValue>) =>
  beginFilling(form, values(answers), { today }).filling
const at = (filling: Filling, key: string) => {
  const content = contentAt(filling, key)
  return content?.kind === 'value' ? content.value : (content?.kind ?? 'blank')
}

describe('what is shown', () => {
  it('follows answers, sections, and answers of several', () => {
    const before = filled(registration, {})
    expect(before.hidden).toContain('died_on')
    expect(give(registration, before, values({ outcome: 'died' })).filling.hidden).not.toContain('died_on')
    expect(filled(registration, { signs: ['fever', 'cough'] }).hidden).not.toContain('fever_on')
    expect(filled(registration, { signs: ['cough'] }).hidden).toContain('fever_on')
    const wet = filled(water, { services: ['laboratory'] })
    expect([...wet.hidden]).toEqual(
      expect.arrayContaining(['delivery_room', 'delivery_hot_water', 'isolation_ward']),
    )
    expect(wet.hidden.has('laboratory_sink')).toBe(false)
  })

  it('tells the answers that it clears, leaves the old filling as it was, and brings them back', () => {
    const before = filled(registration, { vaccinated: 'yes', doses: 2, last_dose_on: '2024-05' })
    const { filling, cleared } = give(registration, before, values({ vaccinated: 'no' }), { today })
    expect(cleared).toEqual([
      { key: 'doses', content: value(2) },
      { key: 'last_dose_on', content: value('2024-05') },
    ])
    expect([at(filling, 'doses'), at(before, 'doses')]).toEqual(['blank', 2])
    const back = give(
      registration,
      filling,
      { vaccinated: value('yes'), ...Object.fromEntries(cleared.map(({ key, content }) => [key, content])) },
      { today },
    )
    expect(answersOf(back.filling)).toEqual(answersOf(before))
  })

  it('clears along a chain, and a draft whose answers no longer apply says so when it is opened', () => {
    const chain = must(
      compileForm({
        code: 'chain',
        name: {},
        parts: [
          { kind: 'yesNo', code: 'a', label: {} },
          { kind: 'yesNo', code: 'b', label: {}, shownWhen: 'a' },
          { kind: 'wholeNumber', code: 'c', label: {}, shownWhen: 'b' },
          { kind: 'note', code: 'd', label: {}, shownWhen: 'c > 3' },
        ],
      }),
    )
    const open = filled(chain, { a: true, b: true, c: 5 })
    expect(open.hidden.size).toBe(0)
    const shut = give(chain, open, values({ a: false }))
    expect(shut.cleared.map(({ key }) => key)).toEqual(['b', 'c'])
    expect([...shut.filling.hidden]).toEqual(['b', 'c', 'd'])
    expect(beginFilling(chain, values({ c: 5 })).cleared).toEqual([{ key: 'c', content: value(5) }])
  })
})

describe('what is required', () => {
  it('can always be answered: not known with a reason is an answer, a blank is none', () => {
    const before = filled(registration, {})
    expect(before.missing.has('full_name')).toBe(true)
    expect(before.missing.has('died_on')).toBe(false)
    expect(
      give(registration, before, {
        full_name: { kind: 'notKnown', reason: 'unconscious, alone' },
      }).filling.missing.has('full_name'),
    ).toBe(false)
    expect(give(registration, before, { full_name: BLANK }).filling.missing.has('full_name')).toBe(true)
    expect(
      give(registration, before, values({ outcome: 'died' }), { today }).filling.missing.has('died_on'),
    ).toBe(true)
  })

  it('may depend on other answers, row by row in a table', () => {
    const before = filled(water, { 'basins.waiting': 0, 'basins.injection': 2 })
    expect(before.missing.has('working.waiting')).toBe(false)
    expect(before.missing.has('working.injection')).toBe(true)
  })
})

describe('what is accepted', () => {
  it('has its message, row by row in a table', () => {
    const wrong = filled(water, {
      'basins.waiting': 3,
      'working.waiting': 4,
      'basins.injection': 2,
      'working.injection': 2,
    })
    expect([...wrong.refused.keys()]).toEqual(['working.waiting'])
    expect(wrong.refused.get('working.waiting')![0]!.en).toBe('More basins work than there are.')
    expect(give(water, wrong, values({ 'basins.waiting': 4 })).filling.refused.size).toBe(0)
  })

  it('is not refused by a blank or an unknown', () => {
    expect(filled(registration, { notified_on: '2026-10-01' }).refused.size).toBe(0)
    expect(
      filled(registration, { rash_on: '2026-10-03', notified_on: '2026-10-01' }).refused.has('notified_on'),
    ).toBe(true)
    expect(filled(registration, { rash_on: '2027-01-01' }).refused.has('rash_on')).toBe(true)
  })
})

describe('what is computed', () => {
  it('in each row of a table and over all of it: the share of basins that work', () => {
    const done = filled(water, {
      'basins.waiting': 3,
      'working.waiting': 1,
      'basins.consulting': 1,
      'working.consulting': 1,
      'basins.injection': 0,
      'working.injection': 0,
      'basins.latrines': 4,
      'working.latrines': 0,
    })
    expect(['waiting', 'consulting', 'injection', 'latrines'].map(row => at(done, `share.${row}`))).toEqual([
      33, 100, 100, 0,
    ])
    expect(at(done, 'share_in_all')).toBe(25)
    expect(done.missing.has('advice')).toBe(true)
    expect(at(filled(water, { 'basins.waiting': 3 }), 'share_in_all')).toBe('blank')
  })

  it('an age from a date of birth, or from what was told', () => {
    expect(at(filled(registration, { born_on: '2020-11-05', rash_on: '2026-11-04' }), 'age_years')).toBe(5)
    expect(at(filled(registration, { born_on: '2020-11', rash_on: '2026-11-04' }), 'age_years')).toBe(6)
    expect(at(filled(registration, { told_age: 7, rash_on: '2026-11-04' }), 'age_years')).toBe(7)
  })

  it('cannot be typed, and a default holds until somebody touches it', () => {
    expect(
      at(
        give(registration, filled(registration, { told_age: 7 }), values({ age_years: 99 })).filling,
        'age_years',
      ),
    ).toBe(7)
    const opened = filled(registration, {})
    expect(at(opened, 'notified_on')).toBe('2026-11-09')
    const emptied = give(registration, opened, { notified_on: BLANK }, { today })
    expect(at(emptied.filling, 'notified_on')).toBe('blank')
    expect(
      at(
        give(registration, emptied.filling, values({ rash_on: '2026-11-01' }), { today }).filling,
        'notified_on',
      ),
    ).toBe('blank')
  })
})

describe('cascades', () => {
  const form: Form = {
    code: 'foods',
    name: {},
    parts: [
      {
        kind: 'oneOf',
        code: 'food',
        label: {},
        choices: [
          { code: 'fish', label: {} },
          { code: 'grain', label: {} },
        ],
      },
      {
        kind: 'severalOf',
        code: 'sorts',
        label: {},
        cascade: 'food',
        choices: [
          { code: 'cod', label: {}, under: 'fish' },
          { code: 'rye', label: {}, under: 'grain' },
          { code: 'other', label: {} },
        ],
      },
    ],
  }
  const foods = must(compileForm(form))

  it('narrow the choices by another answer, and tell what is no longer among them', () => {
    const open = filled(foods, { food: 'fish', sorts: ['cod', 'other'] })
    expect(choicesNow(foods, open, 'sorts').map(({ code }) => code)).toEqual(['cod', 'other'])
    const turned = give(foods, open, values({ food: 'grain' }))
    expect(turned.cleared).toEqual([{ key: 'sorts', content: value(['cod', 'other']) }])
    expect(at(turned.filling, 'sorts')).toEqual(['other'])
    expect(choicesNow(foods, filled(foods, {}), 'sorts')).toHaveLength(3)
    expect(choicesNow(foods, open, 'nothing')).toEqual([])
  })

  it('go down the tree of units: a zone outside the chosen district is cleared', () => {
    const unitWithin = (unit: string, branch: string) => unit.startsWith(branch)
    const open = give(
      registration,
      filled(registration, {}),
      values({ district: 'ash', zone: 'ash_north' }),
      { today, unitWithin },
    )
    expect(open.cleared).toEqual([])
    expect(
      give(registration, open.filling, values({ district: 'tol' }), { today, unitWithin }).cleared,
    ).toEqual([{ key: 'zone', content: value('ash_north') }])
  })
})

describe('repeats', () => {
  const children = (first: string, second: string) => ({
    home_visited_on: '2026-11-02',
    children: ['k1', 'k2'],
    'children/k1/child_name': 'Ila',
    'children/k1/child_born_on': first,
    'children/k2/child_name': 'Oren',
    'children/k2/child_born_on': second,
  })

  it('have their own answers, conditions and computed values, and can be counted from outside', () => {
    const home = filled(visit, {
      ...children('2024-01-15', '2026-08'),
      'children/k1/child_vaccinated': false,
    })
    expect([at(home, 'children/k1/child_months'), at(home, 'children/k2/child_months')]).toEqual([33, 3])
    expect(home.hidden.has('children/k2/child_vaccinated')).toBe(true)
    expect(at(home, 'children_to_vaccinate')).toBe(1)
    expect(at(home, 'next_visit_on')).toBe('2026-11-16')
    const given = give(visit, home, values({ 'children/k1/child_vaccinated': true }))
    expect(at(given.filling, 'children_to_vaccinate')).toBe(0)
    expect(given.filling.hidden.has('next_visit_on')).toBe(true)
  })

  it('follow an answer from outside in every instance', () => {
    const later = give(
      visit,
      filled(visit, children('2024-01-15', '2026-08')),
      values({ home_visited_on: '2027-11-02' }),
    )
    expect(at(later.filling, 'children/k2/child_months')).toBe(15)
    expect(later.filling.missing.has('children/k2/child_vaccinated')).toBe(true)
  })

  it('tell what goes with an instance, and know what a new one lacks', () => {
    const home = filled(visit, children('2024-01-15', '2026-08'))
    const fewer = give(visit, home, values({ children: ['k2'] }))
    expect(fewer.cleared.map(({ key }) => key)).toEqual([
      'children/k1/child_name',
      'children/k1/child_born_on',
    ])
    expect([...fewer.filling.missing, ...fewer.filling.hidden].filter(key => key.includes('k1'))).toEqual([])
    const more = give(visit, fewer.filling, values({ children: ['k2', 'k3'] }))
    expect(more.filling.missing.has('children/k3/child_name')).toBe(true)
    expect(more.filling.missing.has('children/k2/child_name')).toBe(false)
  })

  it('do not linger when they no longer apply', () => {
    const form = must(
      compileForm({
        code: 'home',
        name: {},
        parts: [
          { kind: 'yesNo', code: 'any', label: {} },
          {
            kind: 'repeat',
            code: 'people',
            label: {},
            shownWhen: 'any',
            parts: [{ kind: 'text', code: 'called', label: {}, required: 'always' }],
          },
          { kind: 'computed', code: 'how_many', label: {}, expression: 'count(people)' },
        ],
      }),
    )
    const open = filled(form, { any: true, people: ['x'], 'people/x/called': 'Ila' })
    expect(at(open, 'how_many')).toBe(1)
    const shut = give(form, open, values({ any: false }))
    expect(shut.cleared.map(({ key }) => key)).toEqual(['people', 'people/x/called'])
    expect(answersOf(shut.filling)).toEqual(values({ any: false, how_many: 0 }))
    expect(shut.filling.missing.size).toBe(0)
  })
})

describe('one answer', () => {
  it('computes only what depends on it', () => {
    expect(give(registration, filled(registration, {}), values({ village: 'Eastfold' })).recomputed).toEqual([
      'village',
    ])
    expect(give(registration, filled(registration, {}), values({ outcome: 'died' })).recomputed).toEqual([
      'outcome',
      'died_on',
    ])
    expect(give(water, filled(water, {}), values({ 'basins.waiting': 2 })).recomputed).toEqual([
      'basins',
      'share',
      'share_in_all',
    ])
  })

  it('only computes others where it shows, hides, clears, narrows and presets none of them', () => {
    const form = must(
      compileForm({
        code: 'computing',
        name: {},
        parts: [
          ...['lone', 'summed', 'shows', 'presets', 'far'].map(code => ({
            kind: 'wholeNumber' as const,
            code,
            label: {},
          })),
          { kind: 'computed', code: 'total', label: {}, expression: 'summed + shows + far' },
          { kind: 'computed', code: 'double', label: {}, expression: '2 * total' },
          { kind: 'text', code: 'shown', label: {}, shownWhen: 'shows > 0' },
          { kind: 'wholeNumber', code: 'preset', label: {}, default: 'presets' },
          { kind: 'computed', code: 'twice', label: {}, expression: '2 * far' },
          { kind: 'computed', code: 'at_times', label: {}, expression: 'far', shownWhen: 'twice > 5' },
        ],
      }),
    )
    const codes = ['lone', 'summed', 'shows', 'presets', 'far', 'none']

    expect(codes.filter(code => onlyComputes(form, code))).toEqual(['lone', 'summed', 'none'])
  })

  it('leaves what filling everything at once leaves, in any order', () => {
    const some = fc.record({
      a: fc.option(fc.nat(4)),
      b: fc.option(fc.nat(4)),
      c: fc.option(fc.nat(4)),
      d: fc.option(fc.nat(4)),
    })
    const form = must(
      compileForm({
        code: 'four',
        name: {},
        parts: [
          { kind: 'wholeNumber', code: 'a', label: {} },
          {
            kind: 'section',
            code: 's',
            label: {},
            shownWhen: 'a > 1',
            parts: [
              { kind: 'wholeNumber', code: 'b', label: {}, required: { when: 'a > 2' } },
              {
                kind: 'wholeNumber',
                code: 'c',
                label: {},
                shownWhen: 'b < 3',
                acceptedIf: [{ expression: 'c <= b', message: {} }],
              },
            ],
          },
          { kind: 'computed', code: 'e', label: {}, expression: 'coalesce(b, 0) + coalesce(c, 0)' },
          { kind: 'wholeNumber', code: 'd', label: {}, shownWhen: 'e >= 2' },
        ],
      }),
    )
    const contents = (drawn: Record<string, number | null>) =>
      Object.fromEntries(
        Object.entries(drawn).map(([key, number]) => [key, number === null ? BLANK : value(number)]),
      )
    fc.assert(
      fc.property(fc.array(some, { minLength: 1, maxLength: 5 }), acts => {
        let step = filled(form, {})
        // One answer at a time, each only where its question is shown, as on a screen.
        for (const act of acts)
          for (const [key, content] of Object.entries(contents(act)))
            if (!step.hidden.has(key)) step = give(form, step, { [key]: content }).filling
        const whole = beginFilling(form, Object.fromEntries(step.answers)).filling
        expect(answersOf(step)).toEqual(answersOf(whole))
        expect([...step.hidden].sort()).toEqual([...whole.hidden].sort())
        expect([...step.missing].sort()).toEqual([...whole.missing].sort())
        expect([...step.refused.keys()].sort()).toEqual([...whole.refused.keys()].sort())
      }),
    )
  })

  it('to a question that is not there, or in the wrong place, changes nothing', () => {
    const before = filled(registration, {})
    for (const key of ['nothing', 'children/k1/full_name', 'person', 'constructor'])
      expect(answersOf(give(registration, before, { [key]: value('x') }).filling)).toEqual(answersOf(before))
  })
})
