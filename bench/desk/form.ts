import type { Edition, Item } from '#core/report/edition'
import type { Client } from '../../tests/support/client'

/** A published form: its name on the list of what is due, its round of October, and its cells. */
export interface BenchForm {
  name: string
  round: string
  cells: string[]
}

const COUNT = {
  kind: 'wholeNumber' as const,
  unitOfMeasure: 'count',
  rollUp: 'sum' as const,
  range: { method: 'modifiedZ' as const, limit: 3.5, raises: 'explain' as const },
}
const ANSWER = { unitOfMeasure: '', range: null }
const CHOICES = ['one', 'two', 'three'].map(code => ({ code, label: { en: code } }))
/** Every kind that is answered, those that depend on a number asked only while it is above zero. */
const KINDS: Omit<Item, 'code' | 'name' | 'definition' | 'axes'>[] = [
  COUNT,
  { ...ANSWER, kind: 'yesNo', rollUp: 'counts', shownWhen: 'item_0 > 0' },
  { ...ANSWER, kind: 'oneOf', rollUp: 'counts', choices: CHOICES, required: { when: 'item_0 > 0' } },
  { ...ANSWER, kind: 'date', rollUp: 'latest' },
  { ...ANSWER, kind: 'severalOf', rollUp: 'counts', choices: CHOICES },
  { ...ANSWER, kind: 'computed', rollUp: 'mean', expression: '2 * item_1 + item_0' },
  { ...ANSWER, kind: 'text', rollUp: 'none', shownWhen: 'item_0 > 1' },
  { ...COUNT, kind: 'decimal' },
]

/**
 * Publishes a form of a name with so many cells that every facility reports from October on: what is filled in it is
 * new to the district. Each cell but the first has a rule.
 * @param ofAllKinds after two numbers every kind of answer in turn, with conditions and what is computed
 */
export async function publishForm(
  admin: Client,
  cells: number,
  code = 'bench',
  ofAllKinds = false,
): Promise<BenchForm> {
  const codes = Array.from({ length: cells }, (_, at) => `item_${at}`)
  const draft: Edition = {
    dataset: code,
    number: 1,
    name: { en: `Form ${code}` },
    frequency: 'month',
    timing: { opensAhead: 0, dueDays: 30, closeDays: 90 },
    axes: [],
    indicators: [],
    sections: [
      {
        code: 'all',
        name: { en: 'All' },
        items: codes.map((code, at) => ({
          ...(ofAllKinds && at > 1 ? KINDS[(at - 2) % KINDS.length]! : COUNT),
          code,
          name: { en: code },
          definition: { en: code },
          axes: [],
        })),
      },
    ],
    rules: (ofAllKinds ? codes.slice(1, 2) : codes.slice(1)).map((code, at) => ({
      code: `rule_${at}`,
      name: { en: code },
      expression: `${code} <= 2 * item_0`,
      strength: 'mustFix' as const,
      blanks: 'notJudged' as const,
      forClerk: {},
      forOfficer: {},
    })),
  }
  const kept = await admin.send('PUT', `/api/drafts/${code}`, {
    version: 0,
    draft,
    reports: [{ by: 'level', level: 4, branch: null, from: '2026-10-01', to: null }],
  })
  const published = await admin.post(`/api/drafts/${code}/publish`, { version: 1 })
  if (kept.status !== 200 || published.status !== 200)
    throw new Error(`The form was refused: ${kept.text.slice(0, 200)} ${published.text.slice(0, 200)}`)
  return { name: `Form ${code}`, round: `${code}~2026-10`, cells: codes }
}
