import 'fake-indexeddb/auto'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, ref, type EffectScope } from 'vue'
import type { CellChange } from '#core/contract/desk'
import type { ReportFile } from '#core/contract/reports'
import { questionOf } from '#core/form/form-of-edition'
import type { CellContent, CellValue } from '#core/report/cell'
import type { Edition } from '#core/report/edition'
import { EQUIPMENT } from '../../tests/support/samples'
import { deskAtHand } from '../../tests/support/desk-at-hand'
import { ApiProblem } from '../common/useApi'
import { sync } from '../device/useDesk'
import { useCellAnswers } from './useCellAnswers'
import { useReportEntry } from './useReportEntry'

const value = (of: CellValue): CellContent => ({ kind: 'value', value: of })
const unit = { code: 'elm', name: 'Elm' }
const fileWith = (values: Record<string, CellValue>, edition: Edition = EQUIPMENT): ReportFile => ({
  round: {
    id: 'equipment~2026-Q3',
    dataset: 'equipment',
    name: EQUIPMENT.name,
    period: '2026-Q3',
    opensAt: '',
    dueAt: '',
    closesAt: '',
  },
  unit,
  district: unit,
  state: 'draft',
  sign: 'draft',
  receivedAt: null,
  sentBackWhy: null,
  edition,
  cells: Object.entries(values).map(([cell, of]) => ({ cell, content: value(of), version: 1 })),
  history: { periods: [], received: [], notKnown: {}, notOffered: {}, numbers: {} },
  discrepancies: [],
  comments: {},
  conflicts: [],
  late: [],
  letIn: null,
})

let page: EffectScope
let entered: ReturnType<typeof useReportEntry>[] = []
const enter = (values: Record<string, CellValue>, edition?: Edition) => {
  const entry = page.run(() => useReportEntry(fileWith(values, edition)))!
  entered.push(entry)
  return entry
}
beforeEach(async () => {
  page = effectScope()
  await deskAtHand(
    (name, { body }) =>
      Promise.resolve(
        name.startsWith('GET')
          ? fileWith({})
          : {
              at: '2026-11-05T12:00:00Z',
              outcomes: (body!.changes as CellChange[]).map(({ id, base }) => ({
                id,
                outcome: 'received' as const,
                version: base + 1,
              })),
            },
      ),
    { ApiProblem, useI18n: () => ({ locale: ref('en') }) },
  )
})
afterEach(async () => {
  for (const { outbox } of entered) await outbox.flush()
  entered = []
  page.stop()
  await sync()
})

const BROKEN = { autoclaves: 1, autoclave_works: false, autoclave_why_not: 'The seal is torn.' }

describe('answers in a report that is filled', () => {
  it('are asked only where they apply, computed while typing, and counted without either', async () => {
    const entry = enter({ autoclaves: 0 })
    expect(entry.isShown('autoclave_works')).toBe(false)
    const before = entry.filled.value.applies
    await entry.type('autoclaves', '1')
    expect([entry.isShown('autoclave_works'), entry.filled.value.applies]).toEqual([true, before + 2])
    expect(entry.isNeeded('autoclave_works')).toBe(true)
    await entry.type('microscopes', '4')
    await entry.type('microscopes_working', '1')
    const share = () => entry.contentOf('microscopes_share')
    await vi.waitFor(() => expect(share()).toEqual(value(25)))
    await entry.type('microscopes_working', '')
    await vi.waitFor(() => expect(share()).toEqual({ kind: 'blank' }))
    // That something is needed is a mark, not a mistake.
    expect(entry.doubtsAt('autoclave_works')).toEqual([])
  })

  it('make what is computed from them doubtful a moment after the key, where a rule reads it', async () => {
    const few = { ...EQUIPMENT.rules[0]!, code: 'few_work', expression: 'microscopes_share >= 50' }
    const entry = enter({ microscopes: 4 }, { ...EQUIPMENT, rules: [...EQUIPMENT.rules, few] })
    await entry.type('microscopes_working', '1')
    await vi.waitFor(() => expect(entry.doubtsAt('microscopes_share')).toMatchObject([{ code: 'few_work' }]))
    await entry.type('microscopes_working', '3')
    await vi.waitFor(() => expect(entry.doubtsAt('microscopes_share')).toEqual([]))
  })

  it('that would clear others say so, wait, clear, and bring them back', async () => {
    const entry = enter(BROKEN)
    await entry.put('autoclave_works', value(true))
    expect(entry.pending.value).toMatchObject({ key: 'autoclave_works', lost: ['autoclave_why_not'] })
    expect(entry.contentOf('autoclave_works')).toEqual(value(false))
    entry.leaveAnswer()
    expect(entry.pending.value).toBeNull()
    await entry.put('autoclave_works', value(true))
    await entry.confirmClearing()
    expect([entry.contentOf('autoclave_works'), entry.contentOf('autoclave_why_not')]).toEqual([
      value(true),
      { kind: 'blank' },
    ])
    expect(entry.isShown('autoclave_why_not')).toBe(false)
    await entry.bringBack()
    expect([entry.contentOf('autoclave_works'), entry.contentOf('autoclave_why_not')]).toEqual([
      value(false),
      value('The seal is torn.'),
    ])
  })

  it('ask nothing of somebody who only types on: an empty field on the way to another number', async () => {
    const entry = enter(BROKEN)
    await entry.type('autoclaves', '')
    expect(entry.pending.value?.lost).toContain('autoclave_works')
    await entry.type('autoclaves', '3')
    expect(entry.pending.value).toBeNull()
    expect([entry.contentOf('autoclaves'), entry.contentOf('autoclave_works')]).toEqual([
      value(3),
      value(false),
    ])
  })

  it('are given by the parts of case forms, and refused with the reason at their place', async () => {
    const entry = enter({ autoclaves: 1 })
    const answers = useCellAnswers(entry)
    const question = questionOf(entry.cellByKey.get('autoclave_served_on')!.item)
    answers.answer(question, 'autoclave_served_on', '2026-02-30')
    expect(entry.problems.autoclave_served_on).toMatchObject({ code: 'day-none' })
    answers.answer(question, 'autoclave_served_on', '2026-10-05')
    await entry.outbox.flush()
    expect(entry.problems.autoclave_served_on).toBeUndefined()
    expect(entry.doubtsAt('autoclave_served_on').map(({ code }) => code)).toEqual(['served_before_the_end'])
    answers.notKnown('autoclave_works', 'The technician is away.')
    await entry.outbox.flush()
    expect(entry.isNeeded('autoclave_works')).toBe(false)
  })

  it('are not filled with zeros: only numbers that are asked for are', async () => {
    const entry = enter({})
    const filled = await entry.zeros(entry.cells.map(({ key }) => key))
    expect(filled).toEqual(['autoclaves', 'microscopes', 'concentrators'])
  })
})
