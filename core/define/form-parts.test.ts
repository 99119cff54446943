import { describe, expect, it } from 'vitest'
import { MEASLES_HOME_VISIT } from '../../demo/registers/measles'
import { ask, section, words } from '../../demo/registers/ask'
import type { FormPart } from '../form/question'
import { mayStandIn, movePart, nest, partsOf, placesOf, unnest } from './form-parts'

const form = (): FormPart[] => [
  ask('text', 'a', 'A', 'A'),
  section('one', 'One', 'Un', [ask('text', 'b', 'B', 'B'), section('inner', 'Inner', 'Dedans', [ask('text', 'c', 'C', 'C')])]),
  { kind: 'table', code: 'rooms', label: words('Rooms', 'Salles'), rows: [{ code: 'ward', name: words('Ward', 'Salle') }], columns: [ask('wholeNumber', 'beds', 'Beds', 'Lits') as never] },
  ask('text', 'd', 'D', 'D'),
]
const shape = (parts: readonly FormPart[]): string => placesOf(parts).map(({ part, depth }) => '.'.repeat(depth) + part.code).join(' ')

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
    expect([mayStandIn(sectionPart!, null), mayStandIn(table!, sectionPart as never), mayStandIn(table!, table as never), mayStandIn(question!, table as never)]).toEqual([true, true, false, true])
  })
})
