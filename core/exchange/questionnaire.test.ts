import fc from 'fast-check'
import { Fhir } from 'fhir'
import { describe, expect, it } from 'vitest'
import { MONTHLY_SUMMARY } from '../../demo/monthly/edition'
import { EQUIPMENT } from '../../demo/quarterly/edition'
import { WEEKLY_DISEASES } from '../../demo/weekly/edition'
import { MEASLES_CASES, MEASLES_HOME_VISIT, MEASLES_REGISTRATION } from '../../demo/registers/measles'
import { NEWBORNS } from '../../demo/registers/newborn'
import { WATER_VISITS } from '../../demo/registers/water-visit'
import { compile } from '../expression/compile'
import { print } from '../expression/print'
import { compileForm } from '../form/compile-form'
import { formOfEdition } from '../form/form-of-edition'
import type { Form, FormPart, FormSection } from '../form/question'
import { cellsOf } from '../report/edition'
import { must } from '../result'
import { formOfQuestionnaire } from './questionnaire-in'
import { questionnaireOf } from './questionnaire-out'

const FORMS = [MEASLES_CASES, NEWBORNS, WATER_VISITS].flatMap(register =>
  register.forms.map(({ form }) => form),
)
const validator = new Fhir()

describe('a form as a FHIR Questionnaire', () => {
  // HL7 FHIR R4, checked by the `fhir` package from the registry against the published structure definitions.
  it.each(FORMS.map(form => [form.code, form] as const))('%s is valid R4', (_code, form) => {
    // fhir 4.12.0 takes the answer 0 of a condition for a missing one; R4 allows it.
    const text = JSON.stringify(questionnaireOf(form).resource).replaceAll(
      '"answerDecimal":0',
      '"answerDecimal":1',
    )
    const { valid, messages } = validator.validate(JSON.parse(text) as object)
    expect(messages.filter(({ severity }) => severity !== 'info')).toEqual([])
    expect(valid).toBe(true)
  })

  it.each(FORMS.map(form => [form.code, form] as const))('%s comes back as it went', (_code, form) => {
    const { form: back, notCarried } = must(
      formOfQuestionnaire(JSON.parse(JSON.stringify(questionnaireOf(form).resource))),
    )
    expect(back).toEqual(JSON.parse(JSON.stringify(form)))
    expect(notCarried).toEqual([])
    expect(compileForm(back).ok).toBe(true)
  })

  it.each([EQUIPMENT, MONTHLY_SUMMARY, WEEKLY_DISEASES].map(edition => [edition.dataset, edition] as const))(
    'the dataset %s goes the same way: valid R4, and back with the same cells',
    (_code, edition) => {
      const { resource } = questionnaireOf(must(formOfEdition(edition)))
      const { valid, messages } = validator.validate(JSON.parse(JSON.stringify(resource)) as object)
      expect(messages.filter(({ severity }) => severity !== 'info')).toEqual([])
      expect(valid).toBe(true)
      const { form, notCarried } = must(formOfQuestionnaire(JSON.parse(JSON.stringify(resource))))
      expect(notCarried).toEqual([])
      const cells = must(compileForm(form)).outline.placed.flatMap(placed =>
        placed.cells.map(({ key }) => key),
      )
      expect(new Set(cells)).toEqual(new Set(cellsOf(edition).map(({ key }) => key)))
    },
  )

  it('says conditions in the standard’s own way where it can, and tells what only we can read', () => {
    const { resource, notCarried } = questionnaireOf(MEASLES_REGISTRATION)
    const items = resource.item!.flatMap(section => section.item!)
    expect(items.find(({ linkId }) => linkId === 'doses')!.enableWhen).toEqual([
      { question: 'vaccinated', operator: '=', answerCoding: { code: 'yes' } },
    ])
    expect(items.find(({ linkId }) => linkId === 'told_age')!.enableWhen).toEqual([
      { question: 'born_on', operator: 'exists', answerBoolean: false },
    ])
    expect(items.find(({ linkId }) => linkId === 'travelled_to')!.enableWhen).toEqual([
      { question: 'travelled', operator: '=', answerBoolean: true },
    ])
    expect(notCarried).toContainEqual({ question: 'born_on', what: 'acceptedIf', how: 'ownOnly' })
    expect(questionnaireOf(MEASLES_HOME_VISIT).notCarried).toContainEqual({
      question: 'child_vaccinated',
      what: 'shownWhen',
      how: 'ownOnly',
    })
  })
})

/**
 * A stranger's Questionnaire, put together from the elements of the R4 page
 * (hl7.org/fhir/R4/questionnaire.html); made up.
 */
const STRANGE = {
  resourceType: 'Questionnaire',
  status: 'active',
  title: 'Home visit',
  language: 'en-GB',
  item: [
    {
      linkId: '1',
      type: 'group',
      text: 'Household',
      item: [
        { linkId: '1.1', type: 'integer', text: 'People', required: true },
        {
          linkId: '1.2',
          type: 'choice',
          text: 'Water from',
          answerOption: [{ valueCoding: { code: 'WELL', display: 'A well' } }, { valueString: 'A river' }],
        },
        {
          linkId: '1.3',
          type: 'string',
          text: 'Which well',
          enableWhen: [{ question: '1.2', operator: '=', answerCoding: { code: 'WELL' } }],
        },
        {
          linkId: '1.4',
          type: 'quantity',
          text: 'Distance',
          extension: [{ url: 'http://example.org/other', valueString: 'x' }],
        },
        {
          linkId: '1.5',
          type: 'boolean',
          text: 'Treated',
          item: [
            {
              linkId: '1.5.1',
              type: 'text',
              text: 'How',
              enableWhen: [
                { question: '1.1', operator: '>', answerInteger: 2 },
                { question: '1.5', operator: '=', answerBoolean: true },
              ],
              enableBehavior: 'any',
            },
          ],
        },
        { linkId: '1.6', type: 'question', text: 'Old' },
      ],
    },
  ],
}

describe('a stranger’s Questionnaire', () => {
  it('becomes a form that can be filled, with what has no place told', () => {
    expect(
      validator.validate({
        ...STRANGE,
        item: [{ ...STRANGE.item[0], item: STRANGE.item[0]!.item.filter(({ type }) => type !== 'question') }],
      }).valid,
    ).toBe(true)
    const { form, notCarried } = must(formOfQuestionnaire(STRANGE))
    const [household] = form.parts
    expect(household).toMatchObject({
      kind: 'section',
      parts: [
        { kind: 'wholeNumber', required: 'always' },
        { kind: 'oneOf', choices: [{ code: 'well', label: { en: 'A well' } }, { code: 'a_river' }] },
        { kind: 'text', shownWhen: 'q_1_2 = "well"' },
        { kind: 'decimal' },
        { kind: 'yesNo' },
        { kind: 'text', shownWhen: 'q_1_1 > 2 or q_1_5' },
      ],
    })
    expect(compileForm(form)).toMatchObject({ ok: true })
    expect(notCarried.map(({ what }) => what)).toEqual([
      'http://example.org/other',
      'quantity: the unit that is chosen',
      'question',
    ])
  })

  it.each([
    null,
    4,
    {},
    { resourceType: 'Patient' },
    { resourceType: 'Questionnaire' },
    { resourceType: 'Questionnaire', item: [] },
  ])('%j is refused', strange => {
    expect(formOfQuestionnaire(strange)).toMatchObject({
      ok: false,
      problems: [{ code: 'questionnaire-not-one' }],
    })
  })
})

describe('numbers right, 14: whatever leaves comes back equal, or is listed', () => {
  const words = fc.record({
    en: fc.constantFrom('Rooms', 'Say “ah” & <b>', 'A "quoted" word'),
    fr: fc.constantFrom('Salles', 'L’été'),
  })
  const choiceCodes = fc.uniqueArray(
    fc.constantFrom('yes', 'no', 'and', 'true', 'count', 'not', 'unknown', 'parent', 'where'),
    { minLength: 1, maxLength: 4 },
  )
  let at = 0
  const asked = fc
    .record({ label: words })
    .chain(({ label }) => fc.constant(null).map(() => ({ code: `q${++at}`, label })))
  const optional = <T>(name: string, value: fc.Arbitrary<T>) =>
    fc.option(value, { nil: undefined }).map(found => (found === undefined ? {} : { [name]: found }))
  const choices = choiceCodes.chain(codes =>
    fc.tuple(...codes.map(code => fc.record({ code: fc.constant(code), label: words }))),
  )
  const number = fc.oneof(fc.integer({ min: 0, max: 5000 }), fc.constantFrom(0.25, 1e-7))
  const more = fc.tuple(
    optional('required', fc.oneof(fc.constant('always'), fc.constant({ when: 'first' }))),
    optional('definition', words),
    optional('default', fc.constantFrom('1 + 1', '"x ""y"""')),
  )
  const kindOf = fc.oneof(
    fc.tuple(
      fc.constantFrom('wholeNumber', 'decimal'),
      optional('least', number),
      optional('most', number),
      optional('unitOfMeasure', fc.constantFrom('doses', 'km/h')),
    ),
    fc.tuple(
      fc.constant('text'),
      optional('longest', fc.integer({ min: 1, max: 2000 })),
      optional('pattern', fc.constant('[A-Z]{3}"\\d')),
    ),
    fc.tuple(fc.constantFrom('date', 'partialDate', 'time', 'yesNo', 'position', 'person')),
    fc.tuple(
      fc.constant('picture'),
      optional('asTaken', fc.boolean()),
      optional('mostBytes', fc.constant(50_000)),
    ),
    fc.tuple(
      fc.constantFrom('oneOf', 'severalOf'),
      choices.map(list => ({ choices: list })),
    ),
    fc.tuple(fc.constant('unit'), fc.constant({ level: 3 })),
    fc.tuple(fc.constant('computed'), fc.constant({ expression: 'first' })),
  )
  // Conditions on a question of every kind that stands first in the form.
  const condition = fc.constantFrom(
    'first',
    'not first',
    'how_many > 2.5',
    'how_many != 3 and first',
    'chosen = "and" or chosen != "b_2"',
    'includes(several, "count")',
    'not includes(several, "true")',
    'born < date("2026-01-31")',
    'born = date("2020-02-29")',
    'said = "he said ""no"""',
    'said != "x"',
    'filled(said)',
    'not filled(born)',
    'how_many + 1 > 2',
    'first implies how_many > 1',
  )
  const question = fc
    .tuple(asked, kindOf, more, optional('shownWhen', condition))
    .map(
      ([base, [kind, ...parts], extra, when]) =>
        Object.assign({ kind, ...base }, when, ...parts, ...extra) as FormPart,
    )
  const part = fc.letrec<{ part: FormPart }>(tie => ({
    part: fc.oneof(
      { maxDepth: 4, depthSize: 'medium' },
      question,
      fc
        .tuple(asked, optional('shownWhen', condition), fc.array(tie('part'), { minLength: 1, maxLength: 3 }))
        .map(([base, when, parts]) => ({ kind: 'section', ...base, ...when, parts }) as FormPart),
      fc
        .tuple(asked, fc.array(question, { minLength: 1, maxLength: 2 }))
        .map(([base, parts]) => ({ kind: 'repeat', ...base, parts, most: 9 }) as FormPart),
      fc
        .tuple(asked, fc.array(question, { minLength: 1, maxLength: 2 }))
        .map(
          ([base, columns]) =>
            ({ kind: 'table', ...base, rows: [{ code: 'ward', name: { en: 'Ward' } }], columns }) as FormPart,
        ),
      asked.map(base => ({ kind: 'note', ...base }) as FormPart),
    ),
  })).part
  const FIRST: FormPart[] = [
    { kind: 'yesNo', code: 'first', label: { en: 'First' } },
    { kind: 'decimal', code: 'how_many', label: { en: 'How many' } },
    { kind: 'date', code: 'born', label: { en: 'Born' } },
    { kind: 'text', code: 'said', label: { en: 'Said' } },
    {
      kind: 'oneOf',
      code: 'chosen',
      label: { en: 'Chosen' },
      choices: [
        { code: 'and', label: { en: 'And' } },
        { code: 'b_2', label: { en: 'B 2' } },
      ],
    },
    {
      kind: 'severalOf',
      code: 'several',
      label: { en: 'Several' },
      choices: [
        { code: 'count', label: { en: 'Count' } },
        { code: 'true', label: { en: 'True' } },
      ],
    },
  ]
  const depthOf = (one: FormPart): number =>
    one.kind === 'section' ? 1 + Math.max(0, ...one.parts.map(depthOf)) : 0

  it('our own forms come back as they went', () => {
    fc.assert(
      fc.property(fc.array(part, { maxLength: 4 }), parts => {
        const form = {
          code: 'form',
          name: { en: 'Form', fr: 'Fiche' },
          parts: [...FIRST, ...parts.filter(one => depthOf(one) <= 4)],
        } as Form
        const { form: back, notCarried } = must(
          formOfQuestionnaire(JSON.parse(JSON.stringify(questionnaireOf(form).resource))),
        )
        expect(back).toEqual(form)
        expect(notCarried).toEqual([])
      }),
      { numRuns: 400 },
    )
  })

  it('their conditions say the same to a stranger, who has none of our extensions', () => {
    fc.assert(
      fc.property(condition, shownWhen => {
        const form = {
          code: 'form',
          name: { en: 'Form' },
          parts: [...FIRST, { kind: 'text', code: 'last', label: { en: 'Last' }, shownWhen }],
        } as Form
        const bare = JSON.parse(
          JSON.stringify(questionnaireOf(form).resource, (key, value: unknown) =>
            key === 'extension' ? undefined : value,
          ),
        ) as object
        const listed = questionnaireOf(form).notCarried.some(
          ({ question: of, what }) => of === 'last' && what === 'shownWhen',
        )
        const { form: back } = must(formOfQuestionnaire(bare))
        const said = (back.parts.at(-1) as { shownWhen?: string }).shownWhen
        if (listed) expect(said).toBeUndefined()
        else {
          const vocabulary = must(compileForm(form)).vocabulary.whole
          expect(print(must(compile(said!, vocabulary)).tree)).toBe(
            print(must(compile(shownWhen, vocabulary)).tree),
          )
        }
      }),
    )
  })

  it.each<[string, object, string | RegExp, unknown?]>([
    [
      'a choice that is a word of the language',
      {
        type: 'choice',
        answerOption: [
          { valueCoding: { code: 'and' } },
          { valueCoding: { code: 'A b' } },
          { valueCoding: { code: 'A-b' } },
        ],
      },
      '',
      { choices: [{ code: 'and' }, { code: 'a_b' }, { code: 'a_b_2' }] },
    ],
    [
      'a set of values elsewhere',
      { type: 'choice', answerValueSet: 'http://example.org/set' },
      'answerValueSet',
    ],
    ['an initial number', { type: 'integer', initial: [{ valueInteger: 3 }] }, '', { default: '3' }],
    [
      'an initial text with quotes',
      { type: 'string', initial: [{ valueString: 'a "b"' }] },
      '',
      { default: '"a ""b"""' },
    ],
    [
      'an initial choice',
      { type: 'choice', answerOption: [{ valueCoding: { code: 'X' }, initialSelected: true }] },
      '',
      { default: '"x"' },
    ],
    [
      'two initial values',
      { type: 'integer', initial: [{ valueInteger: 3 }, { valueInteger: 4 }] },
      'initial',
    ],
    ['a repeating number', { type: 'integer', repeats: true }, 'repeats'],
    [
      'a day and time that is asked about',
      {
        type: 'string',
        enableWhen: [{ question: 'when', operator: '=', answerDateTime: '2026-10-05T10:00:00Z' }],
      },
      'enableWhen',
    ],
    [
      'a day that is asked about',
      { type: 'string', enableWhen: [{ question: 'when', operator: '>', answerDate: '2026-10-05' }] },
      '',
      { shownWhen: 'when > date("2026-10-05")' },
    ],
    [
      'a text with quotes that is asked about',
      { type: 'string', enableWhen: [{ question: 'word', operator: '=', answerString: 'say "ah"' }] },
      '',
      { shownWhen: 'word = "say ""ah"""' },
    ],
    [
      'a choice of several that is asked about',
      { type: 'string', enableWhen: [{ question: 'signs', operator: '=', answerCoding: { code: 'A-b' } }] },
      '',
      { shownWhen: 'includes(signs, "a_b_2")' },
    ],
    [
      'a choice that is not there',
      { type: 'string', enableWhen: [{ question: 'signs', operator: '=', answerCoding: { code: 'Z' } }] },
      'enableWhen',
    ],
    [
      'a number held against a text',
      { type: 'string', enableWhen: [{ question: 'word', operator: '>', answerInteger: 4 }] },
      'enableWhen',
    ],
    [
      'a quantity that is asked about',
      { type: 'string', enableWhen: [{ question: 'word', operator: '=', answerQuantity: { value: 4 } }] },
      'enableWhen',
    ],
    ['a prefix and codes', { type: 'string', prefix: '1.', code: [{ code: 'x' }] }, /prefix|code/],
    [
      'a least day',
      {
        type: 'date',
        extension: [{ url: 'http://hl7.org/fhir/StructureDefinition/minValue', valueDate: '2020-01-01' }],
      },
      'http://hl7.org/fhir/StructureDefinition/minValue',
    ],
    ['a longest number', { type: 'integer', maxLength: 3 }, 'maxLength'],
    [
      'a kind that is not known, with questions under it',
      { type: 'thing', item: [{ linkId: 'under', type: 'string' }] },
      'thing',
      { code: 'under' },
    ],
    [
      'a needed group',
      { type: 'group', required: true, item: [{ linkId: 'under', type: 'string' }] },
      'required',
    ],
  ])('of a stranger’s: %s', (_name, item, told, becomes) => {
    const { form, notCarried } = must(
      formOfQuestionnaire({
        resourceType: 'Questionnaire',
        status: 'active',
        title: 'Strange',
        item: [
          { linkId: 'when', type: 'date' },
          { linkId: 'word', type: 'string' },
          {
            linkId: 'signs',
            type: 'choice',
            repeats: true,
            answerOption: [{ valueCoding: { code: 'A b' } }, { valueCoding: { code: 'A-b' } }],
          },
          { linkId: 'last', text: 'Last', ...item },
        ],
      }),
    )
    if (told) expect(notCarried.map(({ what }) => what)).toContainEqual(expect.stringMatching(told))
    else expect(notCarried).toEqual([])
    if (becomes) expect(form.parts.at(-1)).toMatchObject(becomes)
    expect(compileForm(form).ok).toBe(!('answerValueSet' in item))
  })

  it('a fifth level gives what is in it, with its condition', () => {
    const deep = (level: number): object => ({
      linkId: `s${level}`,
      type: 'group',
      text: `S${level}`,
      ...(level >= 4 && { enableWhen: [{ question: 'q', operator: '=', answerBoolean: true }] }),
      item:
        level === 6
          ? [
              {
                linkId: 'inner',
                type: 'string',
                enableWhen: [{ question: 'q', operator: 'exists', answerBoolean: true }],
              },
            ]
          : [deep(level + 1)],
    })
    const { form, notCarried } = must(
      formOfQuestionnaire({
        resourceType: 'Questionnaire',
        status: 'active',
        title: 'Deep',
        item: [{ linkId: 'q', type: 'boolean' }, deep(1)],
      }),
    )
    const fourth = (form.parts[1] as FormSection).parts.map(two =>
      (two as FormSection).parts.map(three => (three as FormSection).parts),
    )[0]![0]![0] as FormSection
    expect(fourth).toMatchObject({
      code: 's4',
      shownWhen: 'q',
      parts: [{ code: 'inner', shownWhen: '((q) and (q)) and (filled(q))' }],
    })
    expect(
      notCarried.filter(({ what }) => what === 'a section deeper than we go').map(({ question: of }) => of),
    ).toEqual(['s5', 's6'])
    expect(compileForm(form).ok).toBe(true)
  })
})
