import '../support/use-memory'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { PaperReport } from '#core/contract/paper-report'
import { closeDatabase, type Database } from '../../server/database'
import { listDiscrepancies } from '../../server/discrepancies/list'
import { takePaperReport } from '../../server/reporting/paper'
import { cellStory } from '../../server/reports/cell-story'
import { reportFile } from '../../server/reports/file'
import { reportStory } from '../../server/reports/report-story'
import { fillReport, sendReport } from '../support/facility'
import { makeInstallation, NOW, OCTOBER, personOf } from '../support/installation'
import { paperReport } from '../support/samples'

const officer = personOf('officer', 'north')
let sql: Database
beforeAll(async () => {
  sql = await makeInstallation()
})
afterAll(closeDatabase)

const GOOD = { tested: 10, positive: 4, 'seen.f': 20, 'seen.m': 30 }
const paper = (values: Record<string, number>, more: Partial<PaperReport> = {}, base = 0) =>
  paperReport({
    cells: Object.entries(values).map(([cell, value]) => ({
      id: uuid(),
      cell,
      base,
      content: { kind: 'value', value },
    })),
    ...more,
  })
const numbersOf = async (unit: string, round = OCTOBER) =>
  Object.fromEntries(
    (await reportFile(officer, round, unit)).cells.map(({ cell, content }) => [
      cell,
      content.kind === 'value' ? content.value : content.kind,
    ]),
  )
const refusal = (code: string) => ({ code })

describe('a report on paper', () => {
  it('is sent in one act, and says which paper it is and who entered it', async () => {
    const first = paper(GOOD)
    expect(await takePaperReport(officer, OCTOBER, 'elm', first)).toMatchObject({ state: 'sent' })
    expect(await numbersOf('elm')).toEqual(GOOD)
    const story = await reportStory(officer, OCTOBER, 'elm')
    expect(story.papers).toEqual([
      { paperOn: '2026-11-02', filledBy: 'Sister Alda', by: 'The officer', at: expect.any(String) },
    ])
    expect(story.filled).toMatchObject([{ by: 'The officer', device: null, origin: 'paper', cells: 4 }])
    expect(story.moves.map(({ to }) => to)).toEqual(['sent', 'draft'])
    expect((await cellStory(officer, OCTOBER, 'elm', 'tested')).events[0]).toMatchObject({ origin: 'paper' })
  })

  it('changes nothing more when it comes twice', async () => {
    const twice = paper(GOOD)
    await takePaperReport(officer, OCTOBER, 'oak', twice)
    expect(await takePaperReport(officer, OCTOBER, 'oak', twice)).toMatchObject({ state: 'sent' })
    expect((await reportStory(officer, OCTOBER, 'oak')).papers).toHaveLength(1)
    await expect(takePaperReport(officer, 'small~2026-09', 'oak', twice)).rejects.toMatchObject(
      refusal('change-reused'),
    )
  })

  it('changes what the district has with a reason only, and is looked at again', async () => {
    const again = paper({ tested: 12 }, {}, 1)
    await expect(takePaperReport(officer, OCTOBER, 'elm', again)).rejects.toMatchObject(
      refusal('why-missing'),
    )
    await takePaperReport(officer, OCTOBER, 'elm', { ...again, why: 'The second sheet came.' })
    expect(await numbersOf('elm')).toMatchObject({ tested: 12 })
  })

  it('is kept whole or not at all', async () => {
    const bad = paper({ ...GOOD, tested: 2.5 })
    await expect(takePaperReport(officer, 'small~2026-09', 'elm', bad)).rejects.toMatchObject({
      code: 'paper-cells',
      problems: [expect.objectContaining({ at: 'cells/tested' })],
    })
    const wrong = paper({ ...GOOD, positive: 11 })
    await expect(takePaperReport(officer, 'small~2026-09', 'elm', wrong)).rejects.toMatchObject(
      refusal('must-fix'),
    )
    expect(await reportFile(officer, 'small~2026-09', 'elm')).toMatchObject({ state: 'awaited', cells: [] })
  })

  it('is taken in after closing, with what the paper says of a doubt', async () => {
    const closed = 'small~2026-07'
    const file = await reportFile(officer, closed, 'elm')
    expect(Date.parse(file.round.closesAt)).toBeLessThan(Date.parse(NOW))
    const values = { ...GOOD, positive: 11 }
    await expect(takePaperReport(officer, closed, 'elm', paper(values))).rejects.toMatchObject(
      refusal('must-fix'),
    )
    const explanations = { 'rule:within': 'Both columns are copied from the paper.' }
    await takePaperReport(officer, closed, 'elm', paper(values, { explanations }))
    const { lines } = await listDiscrepancies(officer, { round: closed })
    expect(lines.filter(({ unit }) => unit.code === 'elm')).toMatchObject([{ state: 'answered' }])
  })

  it('does not overwrite what a phone changed meanwhile', async () => {
    await fillReport(
      personOf('clerk', 'elm'),
      'small~2026-10',
      'elm',
      { positive: { value: 5, base: 1 } },
      {
        why: 'Counted again.',
      },
    )
    await expect(
      takePaperReport(officer, OCTOBER, 'elm', paper({ positive: 6 }, { why: 'As the paper says.' }, 1)),
    ).rejects.toMatchObject({ code: 'paper-changed', problems: [{ at: 'cells/positive' }] })
    expect(await numbersOf('elm')).toMatchObject({ positive: 5 })
    const [conflicts] = await sql.query<{ count: number }>(
      'SELECT count(*)::int AS count FROM field_conflict',
    )
    expect(conflicts!.count).toBe(0)
  })

  it('is refused for a day to come, for another district, and where nothing is expected', async () => {
    await expect(
      takePaperReport(officer, 'small~2026-09', 'elm', paper(GOOD, { paperOn: '2026-11-06' })),
    ).rejects.toMatchObject(refusal('paper-day'))
    await expect(takePaperReport(officer, OCTOBER, 'ash', paper(GOOD))).rejects.toMatchObject(
      refusal('outside-branch'),
    )
    await expect(takePaperReport(officer, OCTOBER, 'quay', paper(GOOD))).rejects.toMatchObject(
      refusal('not-found'),
    )
  })

  it('is a draft of the phone, finished at the office', async () => {
    const clerk = personOf('clerk', 'oak')
    await fillReport(clerk, 'small~2026-09', 'oak', { tested: 7 }).catch(() => undefined)
    await takePaperReport(officer, 'small~2026-09', 'oak', paper({ ...GOOD, tested: 7 }, {}, 0))
    expect(await numbersOf('oak', 'small~2026-09')).toEqual({ ...GOOD, tested: 7 })
    await expect(sendReport(clerk, 'small~2026-09', 'oak')).rejects.toMatchObject({
      code: expect.stringMatching(/state|round-closed/),
    })
  })
})
