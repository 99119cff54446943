import '../support/use-memory'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { namedDataset, withOthers } from '#core/define/named-datasets'
import { reportTable, tablesOfHistory } from '#core/report/period-table'
import { parsePeriod } from '#core/calendar/period-text'
import { cellsOf, type Edition } from '#core/report/edition'
import { must } from '#core/result'
import { tablesOfOthers } from '#core/rollup/other-datasets'
import { runnableRules } from '#core/rule/compile-rules'
import { findDoubts } from '#core/rule/find-doubts'
import { judgeAgain } from '../../server/checks/judge-again'
import { closeDatabase, type Database } from '../../server/database'
import { listDiscrepancies } from '../../server/discrepancies/list'
import { discrepancyFile } from '../../server/discrepancies/read'
import { draftFile, publishDraft, saveDraft } from '../../server/publishing/dataset-drafts'
import { editionOf } from '../../server/datasets/editions'
import { reportFile } from '../../server/reports/file'
import { otherFiguresOf } from '../../server/reports/other-figures'
import { fillReport, sendReport } from '../support/facility'
import { addDataset, makeInstallation, OCTOBER, personOf, SMALL } from '../support/installation'

const WEEKLY: Edition = {
  ...SMALL,
  dataset: 'watch',
  name: { en: 'Watch', fr: 'Veille' },
  frequency: 'week',
  timing: { opensAhead: 0, dueDays: 1, closeDays: 60 },
  rules: [],
}
const officer = personOf('officer', 'north')
const admin = personOf('administrator', null)
const clerk = personOf('clerk', 'elm')
const WEEKS = ['2026-W40', '2026-W41', '2026-W42', '2026-W43', '2026-W44']

let sql: Database
beforeAll(async () => {
  sql = await makeInstallation()
  await sql.transaction(tx => addDataset(tx, WEEKLY, '2026-08-31'))
  // The month gets a rule that names the weeks.
  const { draft, reports, version, datasets } = await draftFile(admin, 'small')
  expect(datasets.map(({ dataset }) => dataset)).toEqual(['watch'])
  const [rule] = draft.rules
  const next = {
    ...draft,
    rules: [
      ...draft.rules,
      { ...rule!, code: 'as_in_weeks', strength: 'explain' as const, expression: 'tested >= watch.tested' },
    ],
  }
  const saved = await saveDraft(admin, 'small', { version, draft: next, reports })
  expect(saved.lacks.filter(({ weight }) => weight === 'must')).toEqual([])
  await publishDraft(admin, 'small', saved.version)
})
afterAll(closeDatabase)

async function sendWeek(week: string, tested: number) {
  await fillReport(clerk, `watch~${week}`, 'elm', { tested })
  await sendReport(clerk, `watch~${week}`, 'elm')
}
const titles = async () =>
  (await listDiscrepancies(officer, { round: OCTOBER })).lines
    .filter(({ holds }) => holds)
    .map(({ title }) => title.en)

describe('a rule that names another dataset', () => {
  it('waits until every week of the month is in, and says how many are', async () => {
    for (const week of WEEKS.slice(0, 4)) await sendWeek(week, 5)
    await fillReport(clerk, OCTOBER, 'elm', { tested: 20, positive: 1 })
    await sendReport(clerk, OCTOBER, 'elm')
    expect(await titles()).toEqual([])
    expect((await reportFile(clerk, OCTOBER, 'elm')).others).toEqual({
      watch: expect.objectContaining({ received: [4], expected: [5], numbers: { tested: [null] } }),
    })
  })

  it('is judged when the last week comes, though the month was sent long before', async () => {
    await sendWeek('2026-W44', 5)
    expect((await judgeAgain()).numbers).toMatchObject({ judged: 1, failed: 0 })
    expect(await titles()).toEqual(['within'])
    const { lines } = await listDiscrepancies(officer, { round: OCTOBER })
    const file = await discrepancyFile(officer, lines[0]!.id)
    expect(file.doubt.explanation).toMatchObject({ relation: '<', by: 5, right: { value: 25 } })
    expect(file.items['watch.tested']!.item.name).toEqual({ en: 'tested', fr: 'tested' })
    // It can be put right in this report only: the weeks are another one.
    expect(file.cells.map(({ cell }) => cell)).toEqual(['tested'])
  })

  it('counts the weeks that have no round yet: a month that goes on is not complete', async () => {
    const ready = await editionOf(sql, 'small', 2)
    const [figures] = await otherFiguresOf(sql, [
      { round: { period: '2026-11' }, unit: { code: 'elm' }, ready },
    ])
    // W45 to W48 have their fourth day in November; none has begun on the 5th.
    expect(figures!.watch).toMatchObject({ expected: [4], received: [0], numbers: { tested: [null] } })
  })

  it('says on the device what it says at the district', async () => {
    const file = await reportFile(clerk, OCTOBER, 'elm')
    const cells = Object.fromEntries(file.cells.map(({ cell, content }) => [cell, content]))
    const table = reportTable(
      cells,
      must(parsePeriod(file.round.period)),
      tablesOfHistory(file.history),
      tablesOfOthers(file.others),
    )
    const [doubts] = findDoubts(runnableRules(file.edition), cellsOf(file.edition), table)
    expect(doubts!.map(({ code }) => code)).toEqual(['as_in_weeks'])
  })

  it('may not name one that is not finer', () => {
    const edition = withOthers(
      { ...WEEKLY, rules: [{ ...SMALL.rules[0]!, expression: 'tested <= small.tested' }] },
      [namedDataset(SMALL)],
    )
    // The server offers only what rolls up; a month does not roll up to a week.
    expect(edition.others).toHaveLength(1)
    return expect(draftFile(admin, 'watch').then(({ datasets }) => datasets)).resolves.toEqual([])
  })
})
