import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { AnswerContent, Answers } from './answer'
import { outline, repeatKey } from './outline'
import type { Form } from './question'
import { shownAnswers, type Shown } from './shown-answers'

const words = (en: string) => ({ en })
const number = (code: string, axes: string[] = []) => ({
  kind: 'wholeNumber' as const,
  code,
  label: words(code),
  axes,
})
const FORM: Form = {
  code: 'visit',
  name: words('Visit'),
  axes: [
    {
      code: 'sex',
      name: words('Sex'),
      bands: [
        { code: 'f', name: words('female') },
        { code: 'm', name: words('male') },
      ],
    },
  ],
  parts: [
    {
      kind: 'section',
      code: 'wash',
      label: words('Wash'),
      parts: [
        {
          kind: 'table',
          code: 'rooms',
          label: words('Rooms'),
          rows: [
            { code: 'ward', name: words('Ward') },
            { code: 'yard', name: words('Yard') },
          ],
          columns: [number('basins'), number('soap')],
        },
        number('staff', ['sex']),
      ],
    },
    { kind: 'repeat', code: 'children', label: words('Children'), parts: [number('age'), number('weight')] },
    { kind: 'text', code: 'remark', label: words('Remark') },
  ],
} as Form
const value = (of: number | string | string[]): AnswerContent => ({ kind: 'value', value: of })
const rowsOf = (shown: Shown[]) =>
  shown.map(one =>
    one.kind === 'grid'
      ? [
          one.label.en,
          ...one.rows.map(row => [
            typeof row.name === 'number' ? row.name : row.name.en,
            ...row.cells.map(cell => (cell?.kind === 'value' ? cell.value : null)),
          ]),
        ]
      : [one.code, one.content.kind === 'value' && one.content.value],
  )

describe('the answers of a filled form', () => {
  it('stand in the order of the form, rows by their names, whatever the order of the keys', () => {
    const answers: Answers = {
      'soap.yard': value(0),
      'basins.ward': value(2),
      'basins.yard': value(5),
      children: value(['b', 'a']),
      'children/a/age': value(3),
      'children/b/age': value(1),
      'children/b/weight': value(9),
      'staff.m': value(4),
      remark: value('A leak'),
    }
    expect(rowsOf(shownAnswers(FORM, answers))).toEqual([
      ['Rooms', ['Ward', 2, null], ['Yard', 5, 0]],
      ['staff', ['male', 4]],
      ['Children', [1, 1, 9], [2, 3, null]],
      ['remark', 'A leak'],
    ])
  })

  it('of another edition come last by their codes: none vanishes', () => {
    const answers: Answers = {
      remark: value('A leak'),
      dropped: value(7),
      'gone/x/age': value(1),
      'staff.u': value(3),
    }
    expect(rowsOf(shownAnswers(FORM, answers))).toEqual([
      ['remark', 'A leak'],
      ['dropped', 7],
      ['gone/x/age', 1],
      ['staff.u', 3],
    ])
  })

  it('are all there, each once: a property', () => {
    const keys = [
      ...outline(FORM).placed.flatMap(({ question, cells, repeat }) =>
        repeat
          ? ['i', 'j'].map(one => repeatKey(repeat.code, one, question.code))
          : cells.map(({ key }) => key),
      ),
      'dropped',
      'other.f',
    ]
    fc.assert(
      fc.property(fc.uniqueArray(fc.constantFrom(...keys)), chosen => {
        const answers: Answers = Object.fromEntries(chosen.map((key, at) => [key, value(at + 1)]))
        const shown = shownAnswers(FORM, answers)
          .flatMap(one => (one.kind === 'grid' ? one.rows.flatMap(({ cells }) => cells) : [one.content]))
          .filter(one => one !== undefined)
        expect(shown.map(one => one.kind === 'value' && one.value).sort()).toEqual(
          chosen.map((_, at) => at + 1).sort(),
        )
      }),
    )
  })
})
