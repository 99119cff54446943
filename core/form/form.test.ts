import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { MONTHLY_SUMMARY } from '../../demo/monthly/edition'
import { cellsOf } from '../report/edition'
import { must } from '../result'
import { checkAnswer } from './answer'
import { checkCode, codeFromLabel, LONGEST_CODE, RESERVED } from './code'
import { compileForm } from './compile-form'
import { formOfEdition } from './form-of-edition'
import { outline } from './outline'
import type { AnswerQuestion, Form, FormPart, QuestionOf } from './question'

const form = (...parts: FormPart[]): Form => ({ code: 'form', name: {}, parts })
const number = (code: string, more: Partial<QuestionOf<'wholeNumber'>> = {}): AnswerQuestion => ({
  kind: 'wholeNumber',
  code,
  label: {},
  ...more,
})
const computed = (code: string, expression: string): AnswerQuestion => ({
  kind: 'computed',
  code,
  label: {},
  expression,
})

describe('codes from labels', () => {
  it.each<[string, string[], string]>([
    ['Diarrhée / vomissements', [], 'diarrhee_vomissements'],
    ['  Live births  ', [], 'live_births'],
    ['Œdème', [], 'oedeme'],
    ['5 and over', [], 'q_5_and_over'],
    ['Straße & Ærø', [], 'strasse_aero'],
    ['Count', [], 'count_2'],
    ['Deliveries', ['deliveries', 'deliveries_2'], 'deliveries_3'],
    ['???', [], 'question'],
    ['東', ['question'], 'question_2'],
    ['Children under five who were weighed at the clinic', [], 'children_under_five_who_were'],
  ])('“%s” beside %j is %s', (label, taken, code) => {
    expect(codeFromLabel(label, taken)).toBe(code)
  })

  it('can be codes, whatever the label', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: 'grapheme', maxLength: 80 }),
        fc.array(fc.constantFrom('a', 'question', 'q', 'case'), { maxLength: 4 }),
        (label, taken) => {
          const code = codeFromLabel(label, taken)
          expect(checkCode(code, taken).ok).toBe(true)
          expect(code.length).toBeLessThanOrEqual(LONGEST_CODE)
        },
      ),
    )
  })

  it('are refused with the reason', () => {
    const why = (code: string, taken: string[] = []) => {
      const checked = checkCode(code, taken)
      return checked.ok ? 'fine' : checked.problems[0]!.code
    }
    expect([
      why('live_births'),
      why('Live'),
      why('1st'),
      why('a/b'),
      why('x'.repeat(33)),
      why('between'),
      why('sum'),
      why('a', ['a']),
    ]).toEqual([
      'fine',
      'code-form',
      'code-form',
      'code-form',
      'code-too-long',
      'code-reserved',
      'code-reserved',
      'code-taken',
    ])
    expect(RESERVED.has('case')).toBe(true)
  })
})

describe('a form that cannot be', () => {
  it.each<[string, Form, string, string]>([
    ['two questions of one code', form(number('a'), number('a')), 'code-taken', 'a'],
    ['a reserved word', form(number('where')), 'code-reserved', 'where'],
    [
      'a section with nothing in it',
      form({ kind: 'section', code: 's', label: {}, parts: [] }),
      'form-empty',
      's',
    ],
    [
      'a table without rows',
      form({ kind: 'table', code: 't', label: {}, rows: [], columns: [number('a')] }),
      'form-empty',
      't',
    ],
    ['a breakdown that is not there', form(number('a', { axes: ['moon'] })), 'form-no-axis', 'a'],
    ['no choices', form({ kind: 'oneOf', code: 'a', label: {}, choices: [] }), 'form-no-choices', 'a'],
    [
      'a choice twice',
      form({
        kind: 'oneOf',
        code: 'a',
        label: {},
        choices: [
          { code: 'x', label: {} },
          { code: 'x', label: {} },
        ],
      }),
      'form-choice-double',
      'a',
    ],
    [
      'a cascade from nowhere',
      form({ kind: 'oneOf', code: 'a', label: {}, cascade: 'b', choices: [{ code: 'x', label: {} }] }),
      'form-cascade',
      'a',
    ],
    [
      'a choice under none of those above',
      form(
        { kind: 'oneOf', code: 'a', label: {}, choices: [{ code: 'x', label: {} }] },
        {
          kind: 'oneOf',
          code: 'b',
          label: {},
          cascade: 'a',
          choices: [{ code: 'y', label: {}, under: 'z' }],
        },
      ),
      'form-choice-under',
      'b',
    ],
    [
      'a pattern that cannot be read',
      form({ kind: 'text', code: 'a', label: {}, pattern: '(' }),
      'pattern',
      'a',
    ],
  ])('%s', (_, broken, code, question) => {
    const result = compileForm(broken)
    expect(result).toMatchObject({ ok: false, problems: [{ code, at: `questions/${question}` }] })
    expect(result.ok || result.problems.length).toBe(1)
  })

  it('has mistakes in its expressions: all are told, each with its question', () => {
    const result = compileForm(
      form(
        number('a', { shownWhen: 'b > 3' }),
        number('c', { acceptedIf: [{ expression: 'c +', message: {} }] }),
        computed('d', 'a > "x"'),
      ),
    )
    expect(result.ok ? [] : result.problems.map(({ code, values }) => [values!.question, code])).toEqual([
      ['d', 'expression-needs-number'],
    ])
    const second = compileForm(
      form(
        number('a', { shownWhen: 'b > 3' }),
        number('c', { acceptedIf: [{ expression: 'c +', message: {} }], required: { when: '3' } }),
      ),
    )
    expect(second.ok ? [] : second.problems.map(({ code, values }) => [values!.question, code])).toEqual([
      ['a', 'expression-no-item-near'],
      ['c', 'expression-needs-truth'],
      ['c', 'expression-expected-value'],
    ])
  })

  it.each<[string, Form, string]>([
    [
      'answers shown by each other',
      form(number('a', { shownWhen: 'b > 1' }), number('b', { shownWhen: 'a > 1' })),
      'a → b → a',
    ],
    ['answers computed from each other', form(computed('x', 'y + 1'), computed('y', 'x + 1')), 'x, y'],
    [
      'a section shown by an answer inside it',
      form({ kind: 'section', code: 's', label: {}, shownWhen: 'a > 1', parts: [number('a')] }),
      's → a → s',
    ],
    ['a default of itself', form(number('a', { default: 'a + 1' })), 'a → a'],
    [
      'a repeat that counts itself to be shown',
      form(
        { kind: 'repeat', code: 'r', label: {}, parts: [number('a', { shownWhen: 'total > 1' })] },
        computed('total', 'count(r where a > 1)'),
      ),
      'total',
    ],
  ])('%s, is a ring', (_, broken, ring) => {
    const result = compileForm(broken)
    expect(result).toMatchObject({ ok: false, problems: [{ code: 'form-cycle' }] })
    expect(result.ok ? '' : String(result.problems[0]!.values!.ring)).toContain(ring)
  })

  it('is not one whose answers are checked against each other', () => {
    expect(
      compileForm(
        form(
          number('a', { acceptedIf: [{ expression: 'a <= b', message: {} }] }),
          number('b', { acceptedIf: [{ expression: 'b >= a', message: {} }] }),
        ),
      ).ok,
    ).toBe(true)
    expect(compileForm(form()).ok).toBe(true)
  })
})

describe('an answer from outside', () => {
  const ask = (kind: string, more: object = {}) => ({ kind, code: 'a', label: {}, ...more }) as AnswerQuestion
  const choices = [
    { code: 'x', label: {} },
    { code: 'y', label: {} },
  ]
  const hash = 'ab'.repeat(32)
  it.each<[string, AnswerQuestion, unknown, unknown]>([
    ['a number', ask('wholeNumber'), 3, 3],
    ['minus zero', ask('decimal'), -0, 0],
    ['a decimal', ask('decimal'), 3.5, 3.5],
    ['yes', ask('yesNo'), true, true],
    ['a day', ask('date'), '2026-10-05', '2026-10-05'],
    ['a month', ask('partialDate'), '2026-10', '2026-10'],
    ['a time', ask('time'), '14:05', '14:05'],
    ['several, in the order of the list', ask('severalOf', { choices }), ['y', 'x'], ['x', 'y']],
    [
      'a position',
      ask('position'),
      { latitude: 41.3, longitude: -29.4, accuracy: 5 },
      { latitude: 41.3, longitude: -29.4, accuracy: 5 },
    ],
    [
      'a picture',
      ask('picture'),
      { hash, bytes: 9, mediaType: 'image/jpeg', more: 1 },
      { hash, bytes: 9, mediaType: 'image/jpeg' },
    ],
    ['an identifier', ask('identifier', { pattern: '\\d+' }), '12', '12'],
  ])('%s is taken', (_, question, given, taken) => {
    expect(checkAnswer(question, given)).toEqual({ ok: true, value: taken })
  })

  it.each<[string, AnswerQuestion, unknown, string]>([
    ['NaN', ask('decimal'), NaN, 'answer-number'],
    ['infinity', ask('decimal'), Infinity, 'answer-number'],
    ['a number as text', ask('wholeNumber'), '3', 'answer-number'],
    ['half a person', ask('wholeNumber'), 1.5, 'answer-whole'],
    ['below zero', ask('wholeNumber'), -1, 'answer-least'],
    ['too many', ask('wholeNumber', { most: 5 }), 6, 'answer-most'],
    ['30 February', ask('date'), '2026-02-30', 'day-none'],
    ['29 February in a common year', ask('date'), '2026-02-29', 'day-none'],
    ['half past 24', ask('time'), '24:30', 'answer-time'],
    ['a 13th month', ask('partialDate'), '2026-13', 'period-month'],
    ['no choice', ask('oneOf', { choices }), 'z', 'answer-choice'],
    ['one strange of several', ask('severalOf', { choices }), ['x', 'z'], 'answer-choice'],
    ['nothing', ask('text'), '  ', 'answer-shape'],
    ['an endless text', ask('text'), 'x'.repeat(2_001), 'answer-text-long'],
    ['another form', ask('identifier', { pattern: '\\d+' }), 'x', 'answer-pattern'],
    ['yes as a word', ask('yesNo'), 'yes', 'answer-shape'],
    ['off the world', ask('position'), { latitude: 91, longitude: 0 }, 'answer-position'],
    ['no position', ask('position'), null, 'answer-position'],
    ['NaN degrees', ask('position'), { latitude: NaN, longitude: 0 }, 'answer-position'],
    [
      'a sound for a picture',
      ask('picture'),
      { hash, bytes: 9, mediaType: 'audio/webm' },
      'answer-attachment',
    ],
    ['a huge picture', ask('picture'), { hash, bytes: 1e9, mediaType: 'image/png' }, 'answer-most'],
    ['a computed one', ask('computed', { expression: '1' }), 3, 'answer-computed'],
  ])('%s is refused', (_, question, given, code) => {
    expect(checkAnswer(question, given)).toMatchObject({ ok: false, problems: [{ code }] })
  })
})

describe('a dataset', () => {
  it('is a form too, with the same cells in the same order', () => {
    const asForm = must(formOfEdition(MONTHLY_SUMMARY))
    expect(outline(asForm).placed.flatMap(({ cells }) => cells.map(({ key }) => key))).toEqual(
      cellsOf(MONTHLY_SUMMARY).map(({ key }) => key),
    )
    expect(compileForm(asForm).ok).toBe(true)
  })
})
