import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { MEASLES_CASES } from '../../demo/registers/measles'
import type { AnswerValue } from '../form/answer'
import { must } from '../result'
import { readFilters, writeFilters, type AnswerFilter } from './answer-filter'
import { foldCase, type Entry } from './fold'
import { knownByForm } from './known-by-form'
import { listQuestions } from './list-questions'
import { answerStories } from './story'

describe('what is known of a case', () => {
  const filled = (
    id: string,
    form: string,
    values: Record<string, AnswerValue>,
    more: Partial<Entry> = {},
  ): Entry => ({
    id,
    case: 'c',
    form,
    happenedAt: Number(id),
    receivedAt: Number(id),
    answers: Object.fromEntries(
      Object.entries(values).map(([key, value]) => [key, { kind: 'value' as const, value }]),
    ),
    ...more,
  })
  const entries = [
    filled('1', 'registration', { full_name: 'Ila Marsh', case_number: 'ASH-26-0001', gone: 'x' }),
    filled('2', 'specimen', { specimen_number: 'S1', result: 'positive' }),
    filled('3', 'specimen', { specimen_number: 'S1', result: 'negative' }, { corrects: '2' }),
    filled('4', 'specimen', { specimen_number: 'S2', result: 'unclear' }),
    filled('5', 'specimen', { specimen_number: 'S2', result: 'positive' }, { corrects: '4' }),
    filled('6', 'specimen', { specimen_number: 'S2', result: 'negative' }, { corrects: '4' }),
  ]

  it('stands form by form, and what no form asks any more comes last', () => {
    expect(
      knownByForm(MEASLES_CASES, foldCase('c', entries)).map(({ form, shown }) => [
        form?.code ?? null,
        shown.map(one => one.kind === 'answer' && one.code),
      ]),
    ).toEqual([
      ['registration', ['case_number', 'full_name']],
      ['specimen', ['specimen_number', 'result']],
      [null, ['gone']],
    ])
  })

  it('opens to who said it, and what stood before', () => {
    const storyOf = (key: string, asOf = {}) =>
      answerStories(foldCase('c', entries, asOf), entries).get(key) ?? []
    const story = (asOf = {}) => storyOf('result', asOf).map(({ entry, state }) => `${entry} ${state}`)
    expect(story()).toEqual(['6 stands', '5 rival', '4 corrected', '3 earlier', '2 corrected'])
    expect(story({ knownBefore: 4 })).toEqual(['3 stands', '2 corrected'])
    expect(story({ knownBefore: 3 })).toEqual(['2 stands'])
    expect(storyOf('sex')).toEqual([])
  })
})

describe('filters of a list', () => {
  it('are read as they are written', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(
          fc.oneof(
            fc.constantFrom('f', 'm').map((value): AnswerFilter => ({ code: 'sex', is: 'value', value })),
            fc.boolean().map((value): AnswerFilter => ({ code: 'admitted', is: 'value', value })),
            fc.constant<AnswerFilter>({ code: 'outcome', is: 'missing' }),
            fc.constant<AnswerFilter>({ code: 'signs', is: 'value', value: ['cough'] }),
            fc
              .tuple(fc.option(fc.double({ noNaN: true, noDefaultInfinity: true })), fc.integer())
              .map(([from, to]): AnswerFilter => ({
                code: 'doses',
                is: 'between',
                // A minus zero is written as 0.
                from: from === null ? null : from + 0,
                to,
              })),
            fc.constant<AnswerFilter>({ code: 'rash_on', is: 'between', from: '2026-02-01', to: null }),
          ),
          { selector: ({ code }) => code },
        ),
        filters => {
          expect(must(readFilters(MEASLES_CASES, writeFilters(filters)))).toEqual(filters)
        },
      ),
    )
  })

  it('take questions with one answer only', () => {
    const questions = listQuestions(MEASLES_CASES)
    expect([questions.has('classification'), questions.get('classification')?.form]).toEqual([
      true,
      'specimen',
    ])
    expect(['card_photo', 'children', 'child_name', 'person'].filter(code => questions.has(code))).toEqual([])
    const many = Array.from({ length: 13 }, (_, at) => `${[...questions.keys()][at]}=`).join('&')
    expect(readFilters(MEASLES_CASES, many)).toMatchObject({ problems: [{ code: 'filter-many' }] })
  })
})
