import { describe, expect, it } from 'vitest'
import { MONTHLY_SUMMARY } from '../../demo/monthly/edition'
import { MEASLES_CASES, MEASLES_CONTACTS } from '../../demo/registers/measles'
import { WATER_VISITS } from '../../demo/registers/water-visit'
import { compileRegister } from '../cases/compile-register'
import { countedRegister } from '../cases/counted'
import type { CaseRegister } from '../cases/register'
import { compileRuleList } from '../rule/compile-rules'
import { vocabularyOf } from '../expression/vocabulary'
import { must } from '../result'
import { guessQuestion } from './guess-kind'
import { listsUsed } from './choice-list'
import { namesWhere } from './part-vocabulary'
import { recodeQuestion } from './recode-question'
import { registerDifferences } from './register-differences'
import { registerReadiness } from './register-readiness'
import { PARTS_OF_START, RULE_STARTS, startRule } from './rule-starts'
import { textsOf } from './texts'
import { trialEdition } from './trial-edition'
import { placesOf } from './form-parts'

const copy = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T
const LANGUAGES = ['en', 'fr']

describe('a question copied from paper', () => {
  it.each([
    ['Date of onset of rash', 'date'],
    ['Date de naissance', 'partialDate'],
    ['How many children under five?', 'wholeNumber'],
    ['Poids en kg', 'decimal'],
    ['Was the child vaccinated?', 'yesNo'],
    ['Photo of the card', 'picture'],
    ['At what time did it start?', 'time'],
    ['Name of the village', 'text'],
    ['Numéro du cas', 'identifier'],
    ['GPS coordinates', 'position'],
  ])('“%s” is most likely a %s', (line, kind) => {
    expect(guessQuestion(line, 'en').kind).toBe(kind)
  })

  it('brings the choices that are written behind it', () => {
    expect(guessQuestion('Sex (female / male)', 'en')).toEqual({
      label: 'Sex',
      kind: 'oneOf',
      choices: [
        { code: 'female', label: { en: 'female' } },
        { code: 'male', label: { en: 'male' } },
      ],
    })
    expect(guessQuestion('Vacciné ? ☐ Oui ☐ Non', 'fr')).toEqual({ label: 'Vacciné ?', kind: 'yesNo' })
    expect(guessQuestion('Outcome: 1 = alive, 2 = died, 3 = not known', 'en')).toMatchObject({
      label: 'Outcome',
      kind: 'oneOf',
      choices: [{ code: 'alive' }, { code: 'died' }, { code: 'not_known' }],
    })
    expect(guessQuestion('Weight (kg)', 'en')).toEqual({ label: 'Weight (kg)', kind: 'decimal' })
  })
})

describe('a question that is recoded', () => {
  it('takes its conditions, limits, rules and places in the register along', () => {
    const register = copy(MEASLES_CASES)
    recodeQuestion(register, 'registration', 'rash_on', 'eruption_on')
    const text = JSON.stringify(register)
    expect(text).not.toContain('rash_on')
    expect(register.countingDate).toBe('eruption_on')
    expect(register.rules[0]!.expression).toBe(
      'days_between(registration.eruption_on, specimen.taken_on) <= 28',
    )
    expect(compileRegister(register).ok).toBe(true)
  })

  it('in a repeat, takes the counts over it along', () => {
    const register = copy(MEASLES_CASES)
    recodeQuestion(register, 'home_visit', 'child_months', 'months_old')
    recodeQuestion(register, 'home_visit', 'child_name', 'name_of_child')
    expect(JSON.stringify(register)).toContain(
      'count(children where months_old >= 9 and not child_vaccinated)',
    )
    expect(register.keeping!.personal).toContain('name_of_child')
    expect(compileRegister(register).ok).toBe(true)
  })
})

describe('the names that a part may use', () => {
  it('are those of its repeat in a repeat, and of its row in a table', () => {
    const visit = MEASLES_CASES.forms[2]!.form
    expect(namesWhere(visit, 'child_vaccinated').vocabulary.names.has('child_months')).toBe(true)
    expect(namesWhere(visit, 'next_visit_on').vocabulary.names.has('child_months')).toBe(false)
    const [table] = WATER_VISITS.forms
      .flatMap(({ form }) => placesOf(form.parts))
      .flatMap(({ part }) => (part.kind === 'table' ? [part] : []))
    const form = WATER_VISITS.forms.find(one =>
      placesOf(one.form.parts).some(({ part }) => part === table),
    )!.form
    expect(namesWhere(form, table!.columns[0]!.code).narrowing).toEqual([
      { axis: table!.code, band: table!.rows[0]!.code },
    ])
    // A table that has no row yet has no row to mean.
    const empty = copy(form)
    placesOf(empty.parts).forEach(({ part }) => {
      if (part.kind === 'table') Object.assign(part, { rows: [] })
    })
    expect(namesWhere(empty, table!.columns[0]!.code).narrowing).toBeUndefined()
  })
})

describe('what stands between a register and its publishing', () => {
  const codes = (register: CaseRegister, parent: Parameters<typeof registerReadiness>[1] = null) =>
    registerReadiness(register, parent, LANGUAGES)
      .filter(({ weight }) => weight === 'must')
      .map(({ code, at }) => `${code} ${at}`)

  it('is nothing for the demo’s registers', () => {
    expect(codes(MEASLES_CASES)).toEqual([])
    expect(codes(MEASLES_CONTACTS, must(compileRegister(MEASLES_CASES)))).toEqual([])
  })
  it('is a form without questions, a parent that is not published, a name that is gone', () => {
    expect(codes({ ...MEASLES_CONTACTS, forms: [] })).toEqual(
      expect.arrayContaining(['no-registration register', 'no-parent register']),
    )
    const broken = copy(MEASLES_CASES)
    Object.assign(broken.forms[0]!.form.parts[0]!, { parts: [] })
    expect(codes(broken)).toContain(
      'register forms/registration'.replace('forms/registration', 'questions/person'),
    )
    expect(codes({ ...MEASLES_CASES, line: ['gone'] })).toEqual(['register questions/gone'])
  })
  it('is something personal by which cases are counted, or which no form asks', () => {
    const keep = (...personal: string[]) => codes({ ...MEASLES_CASES, keeping: { years: 1, personal } })
    expect(keep('rash_on', 'taken_on')).toEqual([
      'personal-counted questions/rash_on',
      'personal-counted questions/taken_on',
    ])
    expect(keep('gone', 'child_name')).toEqual(['register questions/gone'])
  })
  it('is said, and may be left: missing words, no limit, too much that is required', () => {
    const draft = copy(MEASLES_CASES)
    delete (draft.name as Record<string, string>).fr
    const lacks = registerReadiness(draft, null, LANGUAGES)
    expect(lacks.some(({ code, values }) => code === 'no-text-in' && values?.languages === 'fr')).toBe(true)
    const strict = copy(MEASLES_CONTACTS)
    placesOf(strict.forms[0]!.form.parts).forEach(({ part }) => Object.assign(part, { required: 'always' }))
    expect(
      registerReadiness(strict, must(compileRegister(MEASLES_CASES)), LANGUAGES).map(({ code }) => code),
    ).toContain('much-required')
  })
})

describe('two editions of a register', () => {
  it('differ in what was added, taken out, changed and moved', () => {
    const after = copy(MEASLES_CASES)
    const person = after.forms[0]!.form.parts[0] as unknown as {
      parts: { code: string; label: Record<string, string> }[]
    }
    const [first] = person.parts.splice(0, 1)
    person.parts.push(first!)
    person.parts[0]!.label.en = 'Full name'
    Object.assign(after, { line: ['full_name'], rules: after.rules.slice(1) })
    const told = registerDifferences(MEASLES_CASES, after)
    expect(told).toEqual(
      expect.arrayContaining([
        expect.objectContaining({ what: 'register', change: 'changed', parts: ['line'] }),
        expect.objectContaining({
          what: 'question',
          change: 'changed',
          code: 'registration/full_name',
          parts: ['name'],
        }),
        expect.objectContaining({ what: 'question', change: 'moved', code: 'registration/case_number' }),
        expect.objectContaining({ what: 'rule', change: 'removed', code: 'specimen_in_time' }),
      ]),
    )
    expect(told).toHaveLength(4)
    expect(registerDifferences(MEASLES_CASES, copy(MEASLES_CASES))).toEqual([])
  })
})

describe('a common check', () => {
  const item = (code: string) =>
    MONTHLY_SUMMARY.sections.flatMap(section => section.items).find(one => one.code === code)!
  it.each(RULE_STARTS)('%s makes a rule that compiles', start => {
    const items = ['admissions', 'referred_elsewhere', 'injuries', 'diarrhoea']
      .map(
        code =>
          MONTHLY_SUMMARY.sections.flatMap(section => section.items).find(one => one.code === code) ??
          MONTHLY_SUMMARY.sections[0]!.items[0]!,
      )
      .slice(0, PARTS_OF_START[start].length)
    const rule = startRule(MONTHLY_SUMMARY, start, 'trial', items)
    expect(compileRuleList([rule], vocabularyOf(MONTHLY_SUMMARY), MONTHLY_SUMMARY.axes)).toMatchObject({
      ok: true,
    })
    expect(Object.keys(rule.forClerk)).toEqual(LANGUAGES)
  })
  it('that counts a register knows its questions and their choices', () => {
    const edition = { ...MONTHLY_SUMMARY, counts: [countedRegister(must(compileRegister(MEASLES_CASES)))] }
    const [first] = MONTHLY_SUMMARY.sections[0]!.items
    const judged = (expression: string) =>
      compileRuleList(
        [{ ...startRule(edition, 'notAsLast', 'trial', [first!]), expression }],
        vocabularyOf(edition),
        edition.axes,
      )
    expect(
      judged(`${first!.code} >= count(measles_cases where classification = "confirmed" and age_years < 5)`),
    ).toMatchObject({ ok: true })
    expect(judged(`${first!.code} >= count(measles_cases where classification = "certain")`)).toMatchObject({
      ok: false,
      problems: [{ code: 'expression-no-choice' }],
    })
  })
  it('goes over the breakdowns that its items share, both of them', () => {
    const [axis] = MONTHLY_SUMMARY.axes
    const shared = MONTHLY_SUMMARY.sections
      .flatMap(section => section.items)
      .filter(one => one.axes.includes(axis!.code))
    expect(shared.slice(0, 2).map(({ axes }) => axes)).toEqual([
      ['age4', 'sex'],
      ['age4', 'sex'],
    ])
    expect(startRule(MONTHLY_SUMMARY, 'partWithinWhole', 'trial', shared.slice(0, 2)).over).toEqual([
      axis!.code,
      'sex',
    ])
    const byAge = MONTHLY_SUMMARY.sections
      .flatMap(section => section.items)
      .filter(one => one.axes.join() === 'age2')
    expect(startRule(MONTHLY_SUMMARY, 'partWithinWhole', 'trial', byAge.slice(0, 2)).over).toBe('age2')
    expect(startRule(MONTHLY_SUMMARY, 'notAsLast', 'trial', [item(shared[0]!.code)]).over).toBeUndefined()
  })
})

describe('the texts of a definition', () => {
  it('are told with what is missing, and not where nobody wrote one', () => {
    expect(textsOf(MONTHLY_SUMMARY, LANGUAGES).filter(({ missing }) => missing.length)).toEqual([])
    const draft = copy(MONTHLY_SUMMARY)
    Object.assign(draft.sections[0]!.items[0]!, { name: { en: 'Visits' }, definition: {} })
    expect(textsOf(draft, LANGUAGES).filter(({ missing }) => missing.length)).toMatchObject([
      {
        path: 'sections/0/items/0/name',
        of: draft.sections[0]!.items[0]!.code,
        part: 'name',
        missing: ['fr'],
      },
    ])
    expect(textsOf(MEASLES_CASES, ['en', 'fr', 'sw']).every(({ missing }) => missing.join() === 'sw')).toBe(
      true,
    )
  })
})

describe('a draft that is filled for trial', () => {
  it('leaves out what cannot be filled or judged yet', () => {
    const draft = copy(MONTHLY_SUMMARY)
    draft.axes[0]!.bands = []
    draft.rules[0]!.expression = 'gone > 1'
    const trial = trialEdition(draft)
    expect(trial.axes).toHaveLength(draft.axes.length - 1)
    expect(trial.rules.map(({ code }) => code)).not.toContain(draft.rules[0]!.code)
    expect(
      trial.sections
        .flatMap(section => section.items)
        .every(one => one.axes.every(code => trial.axes.some(axis => axis.code === code))),
    ).toBe(true)
  })
})

describe('shared lists', () => {
  it('are known by the questions that take from them', () => {
    const draft = copy(MEASLES_CONTACTS)
    placesOf(draft.forms[0]!.form.parts).forEach(({ part }) => {
      if (part.kind === 'oneOf') Object.assign(part, { list: 'sexes' })
    })
    expect([listsUsed(draft), listsUsed(MEASLES_CONTACTS)]).toEqual([['sexes'], []])
  })
})
