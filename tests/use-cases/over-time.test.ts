import '../support/use-memory'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { totalOf } from '#core/quality/over-time'
import { closeDatabase, type Database } from '../../server/database'
import { board } from '../../server/overview/board'
import { reportingOverTime } from '../../server/overview/over-time'
import { takePaperReport } from '../../server/reporting/paper'
import { fillReport, sendReport } from '../support/facility'
import { makeInstallation, OCTOBER, personOf } from '../support/installation'
import { paperReport } from '../support/samples'

const admin = personOf('administrator', null)
const officer = personOf('officer', 'north')
const SEPTEMBER = 'small~2026-09'
let sql: Database
beforeAll(async () => {
  // Oak moved to the other district in September; yew closed in August.
  sql = await makeInstallation({
    oak: [
      { from: '2020-01-01', to: '2026-09-01', parent: 'quay' },
      { from: '2026-09-01', to: null, parent: 'mill' },
    ],
    yew: [{ from: '2020-01-01', to: '2026-08-15', parent: 'mill' }],
  })
  const clerk = personOf('clerk', 'elm')
  await fillReport(clerk, OCTOBER, 'elm', { tested: 1, positive: 0, 'seen.f': 1, 'seen.m': 1 })
  await sendReport(clerk, OCTOBER, 'elm')
  await fillReport(personOf('clerk', 'ash'), OCTOBER, 'ash', { tested: 1 })
  await takePaperReport(
    admin,
    SEPTEMBER,
    'ash',
    paperReport({
      cells: [
        {
          id: '00000000-0000-4000-8000-0000000000c1',
          cell: 'tested',
          base: 0,
          content: { kind: 'value', value: 3 },
        },
      ],
    }),
  )
})
afterAll(closeDatabase)

const signsOf = ({ rows }: Awaited<ReturnType<typeof reportingOverTime>>) =>
  Object.fromEntries(rows.map(({ unit, marks }) => [unit.code, marks.map(mark => mark?.sign ?? null)]))

describe('reporting over time', () => {
  it('has a place for each unit and round, and none where a unit was not expected', async () => {
    const all = await reportingOverTime(admin, OCTOBER, { rounds: 4 })
    expect(all.rounds.map(({ period }) => period)).toEqual(['2026-07', '2026-08', '2026-09', '2026-10'])
    expect(signsOf(all)).toEqual({
      elm: ['overdue', 'overdue', 'overdue', 'sent'],
      oak: ['overdue', 'overdue', 'overdue', 'awaited'],
      ash: ['overdue', 'overdue', 'sent', 'draft'],
      yew: ['overdue', 'overdue', null, null],
    })
  })

  it('counts a unit in the district that it was in then', async () => {
    expect(signsOf(await reportingOverTime(officer, OCTOBER, { rounds: 3 }))).toEqual({
      elm: ['overdue', 'overdue', 'sent'],
      oak: ['overdue', null, null],
    })
  })

  it('says the same as the board of each round, and as SQL', async () => {
    for (const access of [admin, officer]) {
      const { rounds, rows } = await reportingOverTime(access, OCTOBER, { rounds: 4 })
      for (const [at, round] of rounds.entries()) {
        const total = totalOf(rows.map(({ marks }) => marks[at]!))
        const { reporting, rows: onBoard } = await board(access, round.id)
        expect(total).toMatchObject(reporting)
        expect(total.complete).toBe(onBoard.filter(({ complete }) => complete).length)
      }
    }
    const [counted] = await sql.query(
      `SELECT count(*)::int AS received, (count(*) FILTER (WHERE p.first_received_at < r.due_at))::int AS "onTime"
       FROM report p JOIN round r ON r.id = p.round WHERE p.state IN ('sent', 'accepted')`,
    )
    const { rows } = await reportingOverTime(admin, OCTOBER, { rounds: 60 })
    expect(totalOf(rows.flatMap(({ marks }) => marks))).toMatchObject(counted!)
  })

  it('says how much is answered of what is in', async () => {
    const { rows } = await reportingOverTime(admin, OCTOBER, { rounds: 2 })
    expect(totalOf(rows.flatMap(({ marks }) => marks)).itemCompleteness).toBe((4 + 1) / 8)
  })

  it('is closed to another branch', async () => {
    await expect(reportingOverTime(officer, OCTOBER, { unit: 'south' })).rejects.toMatchObject({
      status: 403,
    })
  })
})
