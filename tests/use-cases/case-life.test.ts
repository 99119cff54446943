import '../support/use-memory'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { countedRegister } from '#core/cases/counted'
import { compileRegister } from '#core/cases/compile-register'
import type { CaseAct } from '#core/cases/life'
import type { DeskEvent } from '#core/contract/desk'
import type { AnswerValue } from '#core/form/answer'
import type { Edition } from '#core/report/edition'
import { must } from '#core/result'
import { MEASLES_CASES } from '../../demo/registers/measles'
import { caseCountFile, caseCounts } from '../../server/case-counts/compare'
import { applyEntries } from '../../server/cases/apply-entries'
import { caseFile } from '../../server/cases/file'
import { actOnCase } from '../../server/cases/life'
import { listCases } from '../../server/cases/list'
import { mergePair, undoPair } from '../../server/cases/pair-acts'
import { listPairs } from '../../server/cases/pair-list'
import { isToJudge, judgeAgain } from '../../server/checks/judge-again'
import { closeDatabase, type Database } from '../../server/database'
import { receiveSince } from '../../server/desk/receive'
import { reportFile } from '../../server/reports/file'
import { verify } from '../../server/verification/verify'
import { addRegister, entryMade, filled, takeEntries } from '../support/cases'
import { fillReport, sendReport } from '../support/facility'
import { addDataset, makeInstallation, personOf, SMALL } from '../support/installation'

const ROUND = 'counting~2026-10'
const GIRLS = 'count(measles_cases where sex = "f")'
const north = personOf('officer', 'north')
const south = personOf('officer', 'south')
const elm = personOf('clerk', 'elm')
const oak = personOf('clerk', 'oak')
const words = (en: string) => ({ en, fr: en })
const COUNTING: Edition = {
  ...SMALL,
  dataset: 'counting',
  rules: [
    {
      code: 'girls_within',
      name: words('Fewer tested than girls in the register'),
      expression: `tested >= ${GIRLS}`,
      strength: 'explain',
      blanks: 'notJudged',
      forClerk: words('The register has more.'),
      forOfficer: words('The register has more.'),
    },
  ],
  counts: [countedRegister(must(compileRegister(MEASLES_CASES)))],
  caseCounts: [
    {
      code: 'girls',
      name: words('Girls with measles'),
      register: 'measles_cases',
      cells: ['tested'],
      where: 'sex = "f"',
      place: 'care',
      date: 'rash_on',
    },
  ],
}
let sql: Database
let number = 0
const NAMES = ['Ila Marsh', 'Tavi Quill', 'Orsel Brannoch', 'Wenna Drift', 'Kester Vale', 'Perran Osk']
/** A girl with measles, registered at Elm. */
function sick(more: Record<string, AnswerValue> = {}, unit = 'elm') {
  number++
  const values = {
    case_number: `ELM-26-${String(number).padStart(4, '0')}`,
    full_name: NAMES[number % NAMES.length]!,
    sex: 'f',
    told_age: number * 3,
    rash_on: '2026-10-12',
    notified_on: '2026-10-13',
    ...more,
  }
  return entryMade(uuid(), values, { unit })
}
const move = (to: string, since: string | null): CaseAct => ({ act: 'move', to, since, text: 'Referred' })
const close: CaseAct = { act: 'close', on: '2026-10-20', outcome: 'lost' }
const figure = async (who: typeof elm, unit: string) =>
  (await reportFile(who, ROUND, unit)).counts?.numbers[GIRLS]?.[0]
const newsFor = async (who: typeof elm, since?: string) => {
  const { events, cursor } = await receiveSince(who, { ...(since && { since }) })
  const of = <Kind extends DeskEvent['kind']>(kind: Kind) =>
    events.filter((event): event is Extract<DeskEvent, { kind: Kind }> => event.kind === kind)
  return { cursor, entries: of('entry'), cases: of('case') }
}

beforeAll(async () => {
  sql = await makeInstallation()
  await addRegister(sql, MEASLES_CASES)
  await sql.transaction(tx => addDataset(tx, COUNTING, '2026-01-01'))
})
afterAll(closeDatabase)

describe('a case that is transferred', () => {
  const entry = sick()
  const wrong = sick()
  let [atElm, atOak] = ['', '']

  it('is told to both facilities, with all its entries to the one that gets it', async () => {
    await takeEntries(sql, [entry, wrong])
    ;({ cursor: atElm } = await newsFor(elm))
    ;({ cursor: atOak } = await newsFor(oak))
    await actOnCase(north, entry.case, move('oak', '2026-10-20'))
    const moves = [{ from: 'elm', to: 'oak', since: '2026-10-20' }]
    const here = { case: entry.case, unit: 'oak', moves, isHere: true }
    expect((await newsFor(elm, atElm)).cases).toMatchObject([here])
    const news = await newsFor(oak, atOak)
    expect(news.cases).toMatchObject([here])
    expect(news.entries).toMatchObject([{ id: entry.id, answers: entry.answers }])
  })

  it('is told to a device of an earlier version from the beginning: its place in the histories knows none of it', async () => {
    const earlier = atElm.split('.').slice(0, 4).join('.')
    const { entries, cases } = await newsFor(elm, earlier)
    expect(cases).toMatchObject([{ case: entry.case, unit: 'oak' }])
    // The entries come once more: the device knows them by their identifiers.
    expect(entries).toMatchObject([{ id: entry.id }])
  })

  it('is had by a new device of either facility, too', async () => {
    for (const who of [elm, oak]) expect((await newsFor(who)).entries.map(one => one.id)).toContain(entry.id)
  })

  it('stays in the count of the facility that had it on its day', async () => {
    expect(await figure(elm, 'elm')).toBe(2)
    expect(await figure(oak, 'oak')).toBe(0)
  })

  it('counts at the other one for all days where it was registered at the wrong one', async () => {
    await actOnCase(north, wrong.case, move('oak', null))
    expect(await figure(elm, 'elm')).toBe(1)
    expect(await figure(oak, 'oak')).toBe(1)
    const { rows } = await caseCounts(north, ROUND, {})
    expect(rows).toEqual([])
  })

  it('has the reports judged again that count it, at both facilities', async () => {
    await fillReport(elm, ROUND, 'elm', { tested: 1, positive: 0 })
    await sendReport(elm, ROUND, 'elm')
    await fillReport(oak, ROUND, 'oak', { tested: 0, positive: 0 })
    await actOnCase(north, entry.case, move('elm', null))
    expect(await isToJudge()).toBe(true)
    expect((await judgeAgain()).numbers).toMatchObject({ judged: 1 })
    const { rows } = await caseCounts(north, ROUND, {})
    expect(rows).toMatchObject([{ unit: { code: 'elm' }, reported: 1, registered: 1 }])
    const file = await caseCountFile(north, ROUND, 'girls', 'elm')
    expect(file.near.map(({ line, why }) => [line.id, why])).toEqual([[wrong.case, 'elsewhere']])
  })

  it('is found by what it is at, and by where it went', async () => {
    const found = async (state: 'open' | 'gone') =>
      (await listCases(elm, { state })).lines.map(({ id }) => id)
    expect(await found('open')).toEqual([entry.case])
    expect(await found('gone')).toEqual([wrong.case])
  })

  it('takes what the former facility fills, and is moved by its own facility only', async () => {
    const visit = entryMade(wrong.case, { home_visited_on: '2026-10-14' }, { form: 'home_visit' })
    const [outcome] = await sql.transaction(tx =>
      applyEntries(tx, elm, [visit], at => at, { device: null }, 'UTC'),
    )
    expect(outcome).toEqual({ id: visit.id, outcome: 'received' })
    await expect(actOnCase(elm, wrong.case, move('elm', null))).rejects.toMatchObject({ status: 403 })
    const view = await caseFile(elm, wrong.case)
    expect(view).toMatchObject({ mine: false, unit: { code: 'oak' } })
    expect(view.life).toMatchObject([
      { act: 'moved', from: { code: 'elm' }, to: { code: 'oak' }, text: 'Referred' },
    ])
    await expect(caseFile(south, wrong.case)).rejects.toMatchObject({ status: 403 })
  })

  it('goes to no unit that is no facility, is unknown, or was not open then', async () => {
    const refused = (to: string, since: string | null) => actOnCase(north, entry.case, move(to, since))
    await expect(refused('quay', '2026-10-20')).rejects.toMatchObject({ code: 'no-facility' })
    await expect(refused('nowhere', '2026-10-20')).rejects.toMatchObject({ code: 'no-unit' })
    await expect(refused('oak', '1990-01-01')).rejects.toMatchObject({ code: 'unit-closed' })
    await expect(refused('oak', '2036-01-01')).rejects.toMatchObject({ code: 'day-to-come' })
    await expect(refused('elm', null)).rejects.toMatchObject({ code: 'case-there' })
  })

  it('goes by all this to the same as its events say', async () => {
    expect(await verify()).toEqual([])
    await sql.query(`UPDATE case_record SET moves = '[]' WHERE id = $1`, [wrong.case])
    expect(await verify()).toMatchObject([{ what: 'lifeOfCase', id: wrong.case }])
    await sql.query('UPDATE case_record SET moves = $2 WHERE id = $1', [
      wrong.case,
      JSON.stringify([{ from: 'elm', to: 'oak', since: null }]),
    ])
  })
})

describe('a case that is closed', () => {
  const entry = sick()
  const visit = (on: string, more: Partial<Parameters<typeof entryMade>[2]> = {}) =>
    entryMade(
      entry.case,
      { home_visited_on: on, next_visit_on: '2026-10-30' },
      { form: 'home_visit', ...more },
    )
  const first = visit('2026-10-16')
  const line = async () => (await listCases(elm, {})).lines.find(({ id }) => id === entry.case)!

  it('needs no visit any more, and says how it ended', async () => {
    await takeEntries(sql, [entry, first])
    expect(await line()).toMatchObject({ nextVisit: '2026-10-30', closed: null })
    await actOnCase(elm, entry.case, close)
    expect(await line()).toMatchObject({ nextVisit: null, closed: { on: '2026-10-20', outcome: 'lost' } })
    expect((await listCases(elm, { state: 'closed' })).lines.map(({ id }) => id)).toEqual([entry.case])
    expect((await newsFor(elm)).cases).toContainEqual(
      expect.objectContaining({ case: entry.case, closed: { on: '2026-10-20', outcome: 'lost' } }),
    )
  })

  it('stays closed when a form of before, or a correction, comes later', async () => {
    await takeEntries(sql, [visit('2026-10-18'), { ...visit('2026-10-25'), corrects: first.id }])
    expect((await line()).closed).not.toBeNull()
  })

  it('is opened again by a form of a later day, which is kept with it', async () => {
    const late = visit('2026-10-28')
    await takeEntries(sql, [late])
    expect(await line()).toMatchObject({ closed: null, nextVisit: '2026-10-30' })
    const { life } = await caseFile(elm, entry.case)
    expect(life.map(({ act, isByForm }) => [act, isByForm])).toEqual([
      ['closed', false],
      ['reopened', true],
    ])
  })

  it('cannot be closed before its last form, nor twice, nor by somebody of another branch', async () => {
    await expect(actOnCase(elm, entry.case, close)).rejects.toMatchObject({ code: 'case-later-entry' })
    const later: CaseAct = { act: 'close', on: '2026-10-29', outcome: 'completed' }
    await expect(actOnCase(oak, entry.case, later)).rejects.toMatchObject({ status: 403 })
    await actOnCase(north, entry.case, later)
    await expect(actOnCase(elm, entry.case, later)).rejects.toMatchObject({ code: 'case-closed' })
    await actOnCase(elm, entry.case, { act: 'reopen', text: 'She came back.' })
    await expect(actOnCase(elm, entry.case, { act: 'reopen', text: 'Again' })).rejects.toMatchObject({
      code: 'case-open',
    })
    expect(await verify()).toEqual([])
  })
})

describe('a case that is merged into one of another facility', () => {
  const twin = { full_name: 'Sorrel Hyde', sex: 'f', told_age: 30, rash_on: '2026-10-12' }
  const kept = sick(twin)
  const merged = sick(twin, 'oak')
  let pair = ''

  it('is told to both, with the entries of the other one', async () => {
    await takeEntries(sql, [kept, merged])
    const [{ cursor: atElm }, { cursor: atOak }] = [await newsFor(elm), await newsFor(oak)]
    const before = [await figure(elm, 'elm'), await figure(oak, 'oak')]
    pair = (await listPairs(north, { case: kept.case })).lines[0]!.id
    await mergePair(north, pair, kept.case)
    for (const [who, since] of [
      [elm, atElm],
      [oak, atOak],
    ] as const) {
      const { entries, cases } = await newsFor(who, since)
      expect(entries.map(({ id }) => id).sort()).toEqual([kept.id, merged.id].sort())
      expect(cases).toContainEqual(
        expect.objectContaining({ case: merged.case, mergedInto: kept.case, isHere: true }),
      )
      expect(cases).toContainEqual(expect.objectContaining({ case: kept.case, unit: 'elm', isHere: true }))
    }
    // One person, registered first at Elm, counts there only.
    expect([await figure(elm, 'elm'), await figure(oak, 'oak')]).toEqual([before[0], before[1]! - 1])
  })

  it('is forgotten by the other facility when they are taken apart', async () => {
    const [{ cursor: atElm }, { cursor: atOak }] = [await newsFor(elm), await newsFor(oak)]
    await undoPair(north, pair)
    const isHere = async (who: typeof elm, since: string) =>
      Object.fromEntries((await newsFor(who, since)).cases.map(one => [one.case, one.isHere]))
    expect(await isHere(elm, atElm)).toEqual({ [kept.case]: true, [merged.case]: false })
    expect(await isHere(oak, atOak)).toEqual({ [kept.case]: false, [merged.case]: true })
    expect((await newsFor(oak)).entries.map(({ id }) => id)).not.toContain(kept.id)
  })
})

describe('answers of a case that was moved', () => {
  it('are corrected by either facility', async () => {
    const entry = sick()
    await takeEntries(sql, [entry])
    await actOnCase(north, entry.case, move('oak', '2026-10-20'))
    const answers = { ...entry.answers, ...filled({ sex: 'm' }) }
    for (const [who, unit] of [
      [elm, 'elm'],
      [oak, 'oak'],
    ] as const) {
      const made = { ...entry, id: uuid(), unit, answers, corrects: entry.id }
      const [outcome] = await sql.transaction(tx =>
        applyEntries(tx, who, [made], at => at, { device: null }, 'UTC'),
      )
      expect(outcome).toMatchObject({ outcome: 'received' })
    }
  })
})
