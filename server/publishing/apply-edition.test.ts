import '../../tests/support/use-memory'
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import type { Edition } from '#core/report/edition'
import { fillReport, sendReport } from '../../tests/support/facility'
import { makeInstallation, OCTOBER, personOf, SMALL } from '../../tests/support/installation'
import { closeDatabase, type Database } from '../database'
import { judgeAgain } from '../checks/judge-again'
import { reportFile } from '../reports/file'
import { roundById } from '../rounds/round'
import { draftFile, publishDraft, saveDraft } from '../publishing/dataset-drafts'

const officer = personOf('administrator', null)
const clerkOf = (unit: string) => personOf('clerk', unit)
let sql: Database
beforeAll(async () => {
  sql = await makeInstallation()
})
afterAll(closeDatabase)

const fill = (unit: string, values: Record<string, number>) =>
  fillReport(clerkOf(unit), OCTOBER, unit, values)

async function publish(change: (draft: Edition) => Edition, from?: string | null): Promise<number> {
  const file = await draftFile(officer, 'small')
  const kept = await saveDraft(officer, 'small', {
    version: file.version,
    draft: change(file.draft),
    reports: file.reports,
  })
  expect(kept.lacks.filter(({ weight }) => weight === 'must')).toEqual([])
  return publishDraft(officer, 'small', kept.version, from)
}
const withRule =
  (code: string, expression: string) =>
  (draft: Edition): Edition => ({
    ...draft,
    rules: [...draft.rules, { ...SMALL.rules[1]!, code, expression }],
  })
const editions = async () =>
  Object.fromEntries(
    (
      await sql.query<{ unit: string; edition: number }>(
        'SELECT unit, edition FROM report WHERE round = $1',
        [OCTOBER],
      )
    ).map(({ unit, edition }) => [unit, edition]),
  )
const doubts = async (unit: string) =>
  (await reportFile(clerkOf(unit), OCTOBER, unit)).discrepancies.map(({ code, state }) => [code, state])

describe('a rule that is published while a round is open', () => {
  beforeAll(async () => {
    await fill('elm', { tested: 10, positive: 4, 'seen.f': 30, 'seen.m': 10 })
    await sendReport(clerkOf('elm'), OCTOBER, 'elm', {})
    await fill('oak', { tested: 10 })
  })
  beforeEach(async () => {
    expect(await sql.query('SELECT 1 FROM report_to_judge')).toEqual([])
  })

  it('is offered to the rounds that are open, and enters none where the officer says so', async () => {
    expect((await draftFile(officer, 'small')).openRounds.map(({ id }) => id)).toEqual([OCTOBER])
    expect(await publish(withRule('later', 'tested < 5'), null)).toBe(2)
    expect([(await roundById(sql, OCTOBER)).edition, await editions()]).toEqual([1, { elm: 1, oak: 1 }])
  })

  it('judges what was sent by a job, and drafts at their next opening, when the items are the same', async () => {
    expect(await publish(withRule('few', 'tested < 8'))).toBe(3)
    expect([(await roundById(sql, OCTOBER)).edition, await editions()]).toEqual([3, { elm: 3, oak: 3 }])
    expect(await doubts('elm')).toEqual([])
    await judgeAgain()
    expect((await doubts('elm')).sort()).toEqual([
      ['few', 'open'],
      ['later', 'open'],
    ])
    expect(
      (await reportFile(clerkOf('oak'), OCTOBER, 'oak')).edition.rules.map(({ code }) => code),
    ).toContain('few')
    // Closed rounds stay as they are.
    expect((await roundById(sql, 'small~2026-09')).edition).toBe(1)
  })

  it('leaves begun reports in their edition where the items differ; awaited ones take the new one', async () => {
    const more = (draft: Edition): Edition => ({
      ...draft,
      sections: [
        {
          ...draft.sections[0]!,
          items: [...draft.sections[0]!.items, { ...draft.sections[0]!.items[0]!, code: 'invited' }],
        },
      ],
    })
    expect(await publish(more)).toBe(4)
    expect(await editions()).toEqual({ elm: 3, oak: 3 })
    expect((await reportFile(clerkOf('ash'), OCTOBER, 'ash')).edition.number).toBe(4)
    expect((await reportFile(clerkOf('oak'), OCTOBER, 'oak')).edition.number).toBe(3)
  })

  it('that cannot be judged for one report is tried again, and holds up no other', async () => {
    await sendReport(clerkOf('oak'), OCTOBER, 'oak', {
      'rule:later': 'So few came.',
      'rule:few': 'So few came.',
    })
    const ids = await sql.query<{ id: number; unit: string }>(
      'SELECT id, unit FROM report WHERE round = $1 ORDER BY unit',
      [OCTOBER],
    )
    await sql.query(
      'INSERT INTO report_to_judge (report, since) SELECT id, now() FROM report WHERE round = $1',
      [OCTOBER],
    )
    await sql.query('UPDATE report SET edition = 99 WHERE id = $1', [ids[0]!.id]).catch(() => undefined)
    const error = process.stderr.write
    const said: string[] = []
    process.stderr.write = ((text: string) => {
      said.push(text)
      return true
    }) as typeof process.stderr.write
    await judgeAgain()
    process.stderr.write = error
    const left = await sql.query<{ report: number }>('SELECT report FROM report_to_judge')
    expect(left.map(({ report }) => report)).toEqual([ids[0]!.id])
    expect(said.join('')).toContain(`Report ${ids[0]!.id} could not be judged again`)
    await sql.query('UPDATE report SET edition = 3 WHERE id = $1', [ids[0]!.id])
    await judgeAgain()
  })
})
