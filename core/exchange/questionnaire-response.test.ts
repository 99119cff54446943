import { Fhir } from 'fhir'
import { describe, expect, it } from 'vitest'
import { MEASLES_CASES, MEASLES_HOME_VISIT } from '../../demo/registers/measles'
import { NEWBORNS } from '../../demo/registers/newborn'
import { WATER_VISIT, WATER_VISITS } from '../../demo/registers/water-visit'
import type { AnswerContent, Answers, AnswerValue } from '../form/answer'
import { outline, repeatKey } from '../form/outline'
import type { AnswerQuestion, Form } from '../form/question'
import { OWN } from './fhir-marks'
import { questionnaireOf } from './questionnaire-out'
import { responseOf, type EntryAbout, type QuestionnaireResponse } from './questionnaire-response'

const value = (of: AnswerValue): AnswerContent => ({ kind: 'value', value: of })
const ABOUT: EntryAbout = {
  ...{ entry: '019a0000-0000-7000-8000-000000000001', case: '019a0000-0000-7000-8000-000000000002' },
  ...{ register: 'measles_cases', edition: 2, unit: 'elm', madeAt: '2026-10-20T08:30:00.000Z' },
}
const all = () => true
const FORMS = [MEASLES_CASES, NEWBORNS, WATER_VISITS].flatMap(register =>
  register.forms.map(({ form }) => form),
)

/** Something that may stand in an answer of each kind. */
function anything(question: AnswerQuestion): AnswerValue {
  switch (question.kind) {
    case 'wholeNumber':
      return 7
    case 'decimal':
    case 'computed':
      return 2.5
    case 'yesNo':
      return true
    case 'date':
      return '2026-10-05'
    case 'partialDate':
      return '2026-10'
    case 'time':
      return '14:05'
    case 'oneOf':
      return question.choices[0]!.code
    case 'severalOf':
      return question.choices.slice(0, 2).map(({ code }) => code)
    case 'position':
      return { latitude: -3.25, longitude: 12.5 }
    case 'picture':
    case 'sound':
      return { hash: 'ab'.repeat(32), bytes: 1200, mediaType: 'image/jpeg' }
    default:
      return 'Ila Marsh'
  }
}

/** Every question of a form answered; what repeats, twice. */
function filled(form: Form): Answers {
  const answers: Record<string, AnswerContent> = {}
  for (const { question, cells, repeat } of outline(form).placed)
    for (const { key } of cells) {
      if (!repeat) answers[key] = value(anything(question))
      else
        for (const instance of ['i1', 'i2'])
          answers[repeatKey(repeat.code, instance, key)] = value(anything(question))
    }
  return answers
}

type Item = NonNullable<QuestionnaireResponse['item']>[number]
const flat = (items: readonly Item[] = []): Item[] => items.flatMap(item => [item, ...flat(item.item)])

describe('an entry as a FHIR QuestionnaireResponse', () => {
  // HL7 FHIR R4, checked by the `fhir` package from the registry against the published structure definitions.
  it.each(FORMS.map(form => [form.code, form] as const))('%s with all answers is valid R4', (_code, form) => {
    const response = responseOf(form, { ...ABOUT, corrects: ABOUT.case, by: 'Ione' }, filled(form), all, 'en')
    const { valid, messages } = new Fhir().validate(JSON.parse(JSON.stringify(response)) as object)
    expect(messages.filter(({ severity }) => severity !== 'info')).toEqual([])
    expect(valid).toBe(true)
  })

  it.each(FORMS.map(form => [form.code, form] as const))(
    '%s names only items of its Questionnaire, and each answer once',
    (_code, form) => {
      const answers = filled(form)
      const items = flat(responseOf(form, ABOUT, answers, all, 'en').item)
      const known = new Set(
        (function ids(list: readonly { linkId: string; item?: never[] }[]): string[] {
          return list.flatMap(one => [one.linkId, ...ids(one.item ?? [])])
        })(questionnaireOf(form).resource.item as never),
      )
      expect(items.filter(({ linkId }) => !known.has(linkId))).toEqual([])
      expect(items.filter(({ answer }) => answer).length).toBe(Object.keys(answers).length)
    },
  )

  it('says what was answered, in the words of the form', () => {
    const sex = { sex: value('f'), full_name: value('Ila Marsh') }
    const { form } = MEASLES_CASES.forms[0]!
    const items = flat(responseOf(form, ABOUT, sex, all, 'fr').item)
    expect(items.find(({ linkId }) => linkId === 'sex')).toMatchObject({
      answer: [{ valueCoding: { code: 'f', display: 'Féminin' } }],
    })
    expect(responseOf(form, ABOUT, sex, key => key === 'sex', 'en')).toMatchObject({
      resourceType: 'QuestionnaireResponse',
      status: 'completed',
      questionnaire: `${OWN}form:measles_cases:${form.code}|2`,
      identifier: { value: `urn:uuid:${ABOUT.entry}` },
      subject: { identifier: { value: `urn:uuid:${ABOUT.case}` } },
    })
    expect(JSON.stringify(responseOf(form, ABOUT, sex, key => key === 'sex', 'en'))).not.toContain('Ila')
  })

  it('says why there is no answer, and that it corrects another', () => {
    const { form } = MEASLES_CASES.forms[0]!
    const response = responseOf(
      form,
      { ...ABOUT, corrects: ABOUT.case },
      { sex: { kind: 'notKnown', reason: 'Not on the card' } },
      all,
      'en',
    )
    expect(response.status).toBe('amended')
    expect(flat(response.item).find(({ linkId }) => linkId === 'sex')).toMatchObject({
      extension: [
        { url: 'http://hl7.org/fhir/StructureDefinition/data-absent-reason', valueCode: 'unknown' },
        { valueString: 'Not on the card' },
      ],
    })
  })

  it('tells rows of a table and instances of a repeat apart', () => {
    const rooms = responseOf(
      WATER_VISIT,
      ABOUT,
      { 'basins.waiting': value(4), 'basins.latrines': value(1) },
      all,
      'en',
    )
    expect(
      flat(rooms.item)
        .filter(({ linkId }) => linkId === 'rooms')
        .map(({ extension, item }) => [extension![0]!.valueString, item![0]!.answer]),
    ).toEqual([
      ['waiting', [{ valueInteger: 4 }]],
      ['latrines', [{ valueInteger: 1 }]],
    ])
    const visit = responseOf(MEASLES_HOME_VISIT, ABOUT, filled(MEASLES_HOME_VISIT), all, 'en')
    expect(flat(visit.item).filter(({ linkId }) => linkId === 'children').length).toBe(2)
  })
})
