import { describe, expect, it } from 'vitest'
import { MEASLES_HOME_VISIT } from '../../demo/registers/measles'
import { ask, section, words } from '../../demo/registers/ask'
import type { CaseRegister } from '../cases/register'
import type { FormPart } from '../form/question'
import { mayStandIn, movePart, nest, partsOf, placesOf, unnest } from './form-parts'
import { usesOfQuestions } from './question-uses'

const form = (): FormPart[] => [
  ask('text', 'a', 'A', 'A'),
  section('one', 'One', 'Un', [
    ask('text', 'b', 'B', 'B'),
    section('inner', 'Inner', 'Dedans', [ask('text', 'c', 'C', 'C')]),
  ]),
  {
    kind: 'table',
    code: 'rooms',
    label: words('Rooms', 'Salles'),
    rows: [{ code: 'ward', name: words('Ward', 'Salle') }],
    columns: [ask('wholeNumber', 'beds', 'Beds', 'Lits') as never],
  },
  ask('text', 'd', 'D', 'D'),
]
const shape = (parts: readonly FormPart[]): string =>
  placesOf(parts)
    .map(({ part, depth }) => '.'.repeat(depth) + part.code)
    .join(' ')

describe('the parts of a form', () => {
  it('are told in paper order, with what is around them', () => {
    expect(shape(form())).toBe('a one .b .inner ..c rooms .beds d')
    expect(partsOf(MEASLES_HOME_VISIT.parts).map(({ code }) => code)).toContain('child_born_on')
    expect(placesOf(form()).find(({ part }) => part.code === 'c')?.around?.code).toBe('inner')
  })

  it('move over neighbours, into sections at their edge and out again', () => {
    const parts = form()
    expect(movePart(parts, 'a', 1)).toBe(true)
    expect(shape(parts)).toBe('one .a .b .inner ..c rooms .beds d')
    movePart(parts, 'a', -1)
    expect(shape(parts)).toBe('a one .b .inner ..c rooms .beds d')
    // A table is passed over: its columns are questions of its own.
    movePart(parts, 'd', -1)
    expect(shape(parts)).toBe('a one .b .inner ..c d rooms .beds')
    movePart(parts, 'c', 1)
    expect(shape(parts)).toBe('a one .b .inner .c d rooms .beds')
    expect(movePart(parts, 'a', -1)).toBe(false)
    expect(movePart(parts, 'nothing', 1)).toBe(false)
    expect(movePart(parts, 'beds', 1)).toBe(false)
  })

  it('are nested into what stands before them, and taken out behind it', () => {
    const parts = form()
    expect(nest(parts, 'd')).toBe(true)
    expect(shape(parts)).toBe('a one .b .inner ..c rooms .beds .d')
    expect(unnest(parts, 'd')).toBe(true)
    expect(shape(parts)).toBe('a one .b .inner ..c rooms .beds d')
    expect(nest(parts, 'a')).toBe(false)
    // A section cannot stand in a table.
    expect(nest([parts[2]!, parts[1]!], 'one')).toBe(false)
    expect(unnest(parts, 'a')).toBe(false)
  })

  it('may stand where core could fill them', () => {
    const [question, sectionPart, table] = form()
    expect([
      mayStandIn(sectionPart!, null),
      mayStandIn(table!, sectionPart as never),
      mayStandIn(table!, table as never),
      mayStandIn(question!, table as never),
    ]).toEqual([true, true, false, true])
  })
})

describe('what users met, 13: what uses a question', () => {
  const label = (en: string) => ({ en })
  const register = {
    code: 'visits',
    name: label('Visits'),
    subject: 'person',
    line: ['name', 'fever'],
    identity: { name: 'name', identifiers: ['card'] },
    countingDate: 'seen_on',
    follow: { nextVisit: 'next_on' },
    rules: [
      { code: 'one', name: label('Fever has days'), expression: 'fever implies days > 0' },
      { code: 'two', name: label('A text'), expression: 'name != "fever"' },
    ],
    forms: [
      {
        role: 'registration',
        many: false,
        eventDate: 'seen_on',
        form: {
          code: 'first',
          name: label('First'),
          parts: [
            { kind: 'text', code: 'name', label: label('Name') },
            { kind: 'identifier', code: 'card', label: label('Card') },
            { kind: 'date', code: 'seen_on', label: label('Seen on') },
            { kind: 'yesNo', code: 'fever', label: label('Fever') },
            {
              kind: 'section',
              code: 'more',
              label: label('More'),
              parts: [
                { kind: 'wholeNumber', code: 'days', label: label('Days of fever'), shownWhen: 'fever' },
                { kind: 'text', code: 'why', label: label('Why'), required: { when: 'not fever' } },
              ],
            },
            { kind: 'oneOf', code: 'zone', label: label('Zone'), choices: [] },
            { kind: 'oneOf', code: 'place', label: label('Place'), choices: [], cascade: 'zone' },
          ],
        },
      },
      {
        role: 'followUp',
        many: true,
        eventDate: 'seen_on',
        form: {
          code: 'again',
          name: label('Again'),
          parts: [
            { kind: 'date', code: 'seen_on', label: label('Seen on') },
            { kind: 'date', code: 'next_on', label: label('Next') },
          ],
        },
      },
    ],
  } as unknown as CaseRegister
  const uses = (form: string, ...codes: string[]) =>
    usesOfQuestions(register, form, codes).map(use => ('name' in use ? use.name.en : use.setting))

  it('is told with conditions, cascades, rules and settings of the register; texts in quotes name nothing', () => {
    expect(uses('first', 'fever')).toEqual(['Days of fever', 'Why', 'Fever has days', 'line'])
    expect(uses('first', 'zone')).toEqual(['Place'])
    expect(uses('first', 'name')).toEqual(['A text', 'line', 'identity'])
    expect(uses('again', 'next_on')).toEqual(['follow'])
    expect(uses('first', 'place')).toEqual([])
  })

  it('is not told where another form asks the same, or what goes with it', () => {
    expect(uses('first', 'seen_on')).toEqual(['eventDate'])
    expect(uses('first', 'fever', 'days', 'why')).toEqual(['Fever has days', 'line'])
  })
})
