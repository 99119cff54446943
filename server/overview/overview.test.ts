import '../../tests/support/use-memory'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { closeDatabase, database } from '../database'
import { listDatasets } from '../publishing/dataset-list'
import { search } from '../search/search'
import { fillReport, sendReport } from '../../tests/support/facility'
import { addDataset, makeInstallation, OCTOBER, personOf, SMALL } from '../../tests/support/installation'
import { board } from './board'
import { dueList } from './due'
import { placeReports } from '../units/latest'
import { today } from './today'

const officer = personOf('officer', 'north')
const clerk = personOf('clerk', 'elm')

beforeAll(async () => {
  await makeInstallation({ oak: [{ from: '2026-08-10', to: null, parent: 'quay' }] })
  await fillReport(clerk, OCTOBER, 'elm', { tested: 3, positive: 1, 'seen.f': 60, 'seen.m': 60 })
  await sendReport(clerk, OCTOBER, 'elm', { 'rule:many': 'A campaign.' })
  await fillReport(personOf('clerk', 'oak'), OCTOBER, 'oak', { tested: 3 })
})
afterAll(closeDatabase)

describe('the board', () => {
  it('has a row for each expected unit, with its state, doubts, share filled and lanterns', async () => {
    const { rows, reporting } = await board(officer, OCTOBER)
    expect(rows).toMatchObject([
      {
        unit: { code: 'elm' },
        zone: { code: 'quay' },
        state: 'sent',
        explain: 1,
        mustFix: 0,
        filled: 1,
        daysLate: 0,
      },
      { unit: { code: 'oak' }, state: 'draft', filled: 0.25, receivedAt: null },
    ])
    expect(reporting).toEqual({ expected: 2, received: 1, onTime: 1, completeness: 0.5, timeliness: 0.5 })
    // Oak opened in August, so June and July did not expect it; what nobody sent is overdue.
    expect(rows[1]!.lanterns.map(({ sign }) => sign)).toEqual([null, null, 'overdue', 'overdue', 'draft'])
  })

  it('is bounded by the branch', async () => {
    expect(
      (await board(personOf('reader', 'coast'), OCTOBER, 'south')).rows.map(({ unit }) => unit.code),
    ).toEqual(['ash', 'yew'])
    await expect(board(officer, OCTOBER, 'south')).rejects.toMatchObject({ code: 'outside-branch' })
    await expect(board(officer, OCTOBER, 'nowhere')).rejects.toMatchObject({ code: 'no-unit' })
  })
})

describe('today', () => {
  it('counts what needs somebody in the rounds that are open', async () => {
    const { rounds, unit } = await today(officer)
    expect(unit!.code).toBe('north')
    expect(rounds.map(({ round }) => round.period)).toEqual(['2026-10'])
    expect(rounds[0]).toMatchObject({
      drafts: 1,
      overdue: 0,
      explain: 1,
      answered: 1,
      toAccept: 0,
      state: 'gathering',
      changedSince: 0,
    })
  })
})

describe('what is due', () => {
  it('is there without choosing: now, coming and sent', async () => {
    const oak = await dueList(personOf('clerk', 'oak'))
    expect(oak.now).toMatchObject([{ state: 'draft', answered: 1, applies: 4, sign: 'draft' }])
    expect(oak.coming).toMatchObject([
      { period: '2026-11', opensAt: '2026-12-01T00:00:00.000Z', dueAt: '2026-12-08T00:00:00.000Z' },
    ])
    const elm = await dueList(clerk)
    expect(elm.now).toEqual([])
    expect(elm.sent).toMatchObject([{ state: 'sent', round: { period: '2026-10' } }])
  })
})

describe('the search', () => {
  it('finds units and rounds in the branch by part of a name', async () => {
    expect((await search(officer, 'EL')).map(({ code }) => code)).toEqual(['elm'])
    expect(await search(officer, 'yew')).toEqual([])
    expect(await search(officer, 'small 2026-10')).toMatchObject([{ kind: 'round', code: OCTOBER }])
    // What users met, 14: periods by the words that people use, in both languages.
    expect((await search(officer, 'october')).map(({ code }) => code)).toEqual([OCTOBER])
    expect((await search(officer, 'août 2026')).map(({ code }) => code)).toEqual(['small~2026-08'])
    expect((await search(officer, 'small august')).map(({ code }) => code)).toEqual(['small~2026-08'])
    // What users met, 14: zones, items and people too, each for those who may open them.
    expect(await search(officer, 'quay')).toMatchObject([
      { kind: 'unit', code: 'quay', path: expect.stringContaining('north') as string },
    ])
    expect(await search(officer, 'seen')).toMatchObject([{ kind: 'item', code: 'seen', of: 'small' }])
    expect(await search(clerk, 'seen')).toEqual([])
    expect([
      await search(officer, 'the reader'),
      await search(personOf('administrator', null), 'the reader'),
    ]).toMatchObject([[], [{ kind: 'person', code: 'reader' }]])
    // A pattern's own signs are only letters here.
    expect(await search(officer, '%')).toEqual([])
  })
})

describe('the datasets', () => {
  it('come with their newest edition and how many units of the branch report them', async () => {
    expect(await listDatasets(officer)).toMatchObject([
      { edition: { dataset: 'small', number: 1 }, expectedNow: 2 },
    ])
  })
})

describe('what is due beside a daily form', () => {
  it('what users met, 2 and 18: all that is open or begun is reachable beside a daily form, for each facility of a zone', async () => {
    const sql = await database()
    await sql.transaction(async tx => {
      await addDataset(
        tx,
        {
          ...SMALL,
          dataset: 'daily',
          name: { en: 'Daily' },
          frequency: 'day',
          timing: { opensAhead: 0, dueDays: 1, closeDays: 24 },
        },
        '2026-08-01',
      )
      // Begun long ago, and closed since.
      await tx.query(
        `INSERT INTO report (round, unit, edition, state) VALUES ('small~2026-08', 'elm', 1, 'draft'), ('daily~2026-09-02', 'elm', 1, 'sentBack')`,
      )
      await placeReports(tx, 'true', [])
    })
    const elm = await dueList(clerk)
    const days = elm.now.filter(({ round }) => round.dataset === 'daily').map(({ round }) => round.period)
    expect([days.length, days[0], days.at(-1)]).toEqual([25, '2026-11-04', '2026-10-11'])
    expect(elm.closed.map(({ round, state }) => [round.id, state])).toEqual([
      ['daily~2026-09-02', 'sentBack'],
      ['small~2026-08', 'draft'],
    ])
    const zone = await dueList(personOf('clerk', 'quay'))
    expect(zone.unit.code).toBe('quay')
    expect([...new Set(zone.now.map(({ unit }) => unit.code))].sort()).toEqual(['elm', 'oak'])
    expect(zone.now.filter(({ unit }) => unit.code === 'elm').length).toBe(elm.now.length)
  })
})
