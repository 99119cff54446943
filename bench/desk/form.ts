import type { Edition } from '#core/report/edition'
import type { Client } from '../../tests/support/client'

/** A published form: its name on the list of what is due, its round of October, and its cells. */
export interface BenchForm {
  name: string
  round: string
  cells: string[]
}

/**
 * Publishes a form of a name with so many cells that every facility reports from October on: what is filled in it is
 * new to the district. Each cell but the first has a rule.
 */
export async function publishForm(admin: Client, cells: number, code = 'bench'): Promise<BenchForm> {
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
        items: codes.map(code => ({
          code,
          name: { en: code },
          definition: { en: code },
          unitOfMeasure: 'count',
          kind: 'wholeNumber' as const,
          rollUp: 'sum' as const,
          range: { method: 'modifiedZ' as const, limit: 3.5, raises: 'explain' as const },
          axes: [],
        })),
      },
    ],
    rules: codes.slice(1).map((code, at) => ({
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
