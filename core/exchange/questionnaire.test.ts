import { Fhir } from 'fhir'
import { describe, expect, it } from 'vitest'
import { MEASLES_CASES, MEASLES_HOME_VISIT, MEASLES_REGISTRATION } from '../../demo/registers/measles'
import { NEWBORNS } from '../../demo/registers/newborn'
import { WATER_VISITS } from '../../demo/registers/water-visit'
import { compileForm } from '../form/compile-form'
import { must } from '../result'
import { formOfQuestionnaire } from './questionnaire-in'
import { questionnaireOf } from './questionnaire-out'

const FORMS = [MEASLES_CASES, NEWBORNS, WATER_VISITS].flatMap(register => register.forms.map(({ form }) => form))
const validator = new Fhir()

describe('a form as a FHIR Questionnaire', () => {
  // HL7 FHIR R4, checked by the `fhir` package from the registry against the published structure definitions.
  it.each(FORMS.map(form => [form.code, form] as const))('%s is valid R4', (_code, form) => {
    // fhir 4.12.0 takes the answer 0 of a condition for a missing one; R4 allows it.
    const text = JSON.stringify(questionnaireOf(form).resource).replaceAll('"answerDecimal":0', '"answerDecimal":1')
    const { valid, messages } = validator.validate(JSON.parse(text) as object)
    expect(messages.filter(({ severity }) => severity !== 'info')).toEqual([])
    expect(valid).toBe(true)
  })

  it.each(FORMS.map(form => [form.code, form] as const))('%s comes back as it went', (_code, form) => {
    const { form: back, notCarried } = must(formOfQuestionnaire(JSON.parse(JSON.stringify(questionnaireOf(form).resource))))
    expect(back).toEqual(JSON.parse(JSON.stringify(form)))
    expect(notCarried).toEqual([])
    expect(compileForm(back).ok).toBe(true)
  })

  it('says conditions in the standard’s own way where it can, and tells what only we can read', () => {
    const { resource, notCarried } = questionnaireOf(MEASLES_REGISTRATION)
    const items = resource.item!.flatMap(section => section.item!)
    expect(items.find(({ linkId }) => linkId === 'doses')!.enableWhen).toEqual([{ question: 'vaccinated', operator: '=', answerCoding: { code: 'yes' } }])
    expect(items.find(({ linkId }) => linkId === 'told_age')!.enableWhen).toEqual([{ question: 'born_on', operator: 'exists', answerBoolean: false }])
    expect(items.find(({ linkId }) => linkId === 'travelled_to')!.enableWhen).toEqual([{ question: 'travelled', operator: '=', answerBoolean: true }])
    expect(notCarried).toContainEqual({ question: 'born_on', what: 'acceptedIf', how: 'ownOnly' })
    expect(questionnaireOf(MEASLES_HOME_VISIT).notCarried).toContainEqual({ question: 'child_vaccinated', what: 'shownWhen', how: 'ownOnly' })
  })
})

/** A stranger's Questionnaire, put together from the elements of the R4 page (hl7.org/fhir/R4/questionnaire.html); made up. */
const STRANGE = {
  resourceType: 'Questionnaire', status: 'active', title: 'Home visit', language: 'en-GB',
  item: [
    { linkId: '1', type: 'group', text: 'Household', item: [
      { linkId: '1.1', type: 'integer', text: 'People', required: true },
      { linkId: '1.2', type: 'choice', text: 'Water from', answerOption: [{ valueCoding: { code: 'WELL', display: 'A well' } }, { valueString: 'A river' }] },
      { linkId: '1.3', type: 'string', text: 'Which well', enableWhen: [{ question: '1.2', operator: '=', answerCoding: { code: 'WELL' } }] },
      { linkId: '1.4', type: 'quantity', text: 'Distance', extension: [{ url: 'http://example.org/other', valueString: 'x' }] },
      { linkId: '1.5', type: 'boolean', text: 'Treated', item: [{ linkId: '1.5.1', type: 'text', text: 'How', enableWhen: [{ question: '1.1', operator: '>', answerInteger: 2 }, { question: '1.5', operator: '=', answerBoolean: true }], enableBehavior: 'any' }] },
      { linkId: '1.6', type: 'question', text: 'Old' },
    ] },
  ],
}

describe('a stranger’s Questionnaire', () => {
  it('becomes a form that can be filled, with what has no place told', () => {
    expect(validator.validate({ ...STRANGE, item: [{ ...STRANGE.item[0], item: STRANGE.item[0]!.item.filter(({ type }) => type !== 'question') }] }).valid).toBe(true)
    const { form, notCarried } = must(formOfQuestionnaire(STRANGE))
    const [household] = form.parts
    expect(household).toMatchObject({ kind: 'section', parts: [
      { kind: 'wholeNumber', required: 'always' },
      { kind: 'oneOf', choices: [{ code: 'well', label: { en: 'A well' } }, { code: 'a_river' }] },
      { kind: 'text', shownWhen: 'q_1_2 = "well"' }, { kind: 'decimal' }, { kind: 'yesNo' }, { kind: 'text', shownWhen: 'q_1_1 > 2 or q_1_5' },
    ] })
    expect(compileForm(form)).toMatchObject({ ok: true })
    expect(notCarried.map(({ what }) => what)).toEqual(['http://example.org/other', 'quantity: the unit that is chosen', 'question'])
  })

  it.each([null, 4, {}, { resourceType: 'Patient' }, { resourceType: 'Questionnaire' }, { resourceType: 'Questionnaire', item: [] }])('%j is refused', (strange) => {
    expect(formOfQuestionnaire(strange)).toMatchObject({ ok: false, problems: [{ code: 'questionnaire-not-one' }] })
  })
})
