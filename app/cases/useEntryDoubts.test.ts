import { describe, expect, it } from 'vitest'
import { runnableRegister } from '#core/cases/runnable-register'
import { must } from '#core/result'
import type { RuleDefinition } from '#core/rule/definition'
import { visits } from '../../tests/support/visits'
import { caseOnDevice } from '../../tests/support/case-on-device'
import { caseBefore, doubtsOfEntry } from './useEntryDoubts'

const rule = (code: string, expression: string): RuleDefinition => ({
  code,
  name: { en: code },
  expression,
  strength: 'explain',
  blanks: 'notJudged',
  forClerk: { en: code },
  forOfficer: { en: code },
})
const register = must(
  runnableRegister(
    {
      ...visits(),
      rules: [rule('short', 'visit.fever_days <= 14'), rule('later', 'again.seen_on > visit.visited_on')],
    },
    () => undefined,
  ),
)
const known = caseOnDevice(register.register, 'c', 'elm', { visited_on: '2026-10-05', fever_days: 40 })
const again = (seenOn: string) => ({
  id: 'e2',
  case: 'c',
  form: 'again',
  answers: { seen_on: { kind: 'value' as const, value: seenOn } },
  madeAt: '2026-10-09T08:00:00Z',
})
const keysOf = (entry: Parameters<typeof doubtsOfEntry>[1], cases = [known]) =>
  doubtsOfEntry(
    register,
    entry,
    caseBefore(register, { id: entry.case, parent: null }, cases, 20_000),
    20_000,
  ).map(({ key }) => key)

describe('the doubts of an entry that is being filled', () => {
  it('are those that it raises, and not those that the case had before', () => {
    expect(keysOf(again('2026-10-08'))).toEqual([])
    expect(keysOf(again('2026-10-01'))).toEqual(['rule:later'])
  })
  it('are named by the entry that it corrects, and said again where it says something new', () => {
    const correction = {
      ...again(''),
      form: 'visit',
      corrects: 'ec',
      answers: { fever_days: { kind: 'value' as const, value: 30 } },
    }
    expect(keysOf(correction)).toEqual(['rule:short:ec'])
  })
  it('are judged on a case that begins with it', () => {
    const first = {
      ...again(''),
      case: 'new',
      form: 'visit',
      answers: { fever_days: { kind: 'value' as const, value: 20 } },
    }
    expect(keysOf(first)).toEqual(['rule:short:e2'])
  })
})
