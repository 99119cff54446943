import '../support/use-memory'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { RecountNew, VisitMove } from '#core/contract/visits'
import { closeDatabase, type Database } from '../../server/database'
import { settle } from '../../server/discrepancies/act'
import { listDiscrepancies } from '../../server/discrepancies/list'
import { readDiscrepancies } from '../../server/discrepancies/read'
import { visitProposals } from '../../server/visits/proposals'
import { recountChoices, recountSheet, saveRecount, withdrawRecount } from '../../server/visits/recount'
import { verification } from '../../server/visits/verification'
import { listVisits, moveVisit, planVisit } from '../../server/visits/visits'
import { sendBack } from '../../server/reporting/review'
import { fillReport, sendReport } from '../support/facility'
import { makeInstallation, OCTOBER, personOf } from '../support/installation'

const officer = personOf('officer', 'north')
const elsewhere = personOf('officer', 'south')
const SEPTEMBER = 'small~2026-09'
let sql: Database

/** Elm has two months in, oak one; neither breaks a rule. */
beforeAll(async () => {
  sql = await makeInstallation()
  for (const round of [SEPTEMBER, OCTOBER])
    await sql.query(`UPDATE round SET closes_at = '2026-11-30T00:00:00Z' WHERE id = $1`, [round])
  for (const [unit, round] of [
    ['elm', SEPTEMBER],
    ['elm', OCTOBER],
    ['oak', OCTOBER],
  ] as const) {
    const clerk = personOf('clerk', unit)
    await fillReport(clerk, round, unit, { tested: 40, positive: 4, 'seen.f': 30, 'seen.m': 10 })
    await sendReport(clerk, round, unit)
  }
})
afterAll(closeDatabase)

const refusal = (code: string) => ({ code })
const recount = (cells: Record<string, number>, more: Partial<RecountNew> = {}): RecountNew => ({
  ...{ id: uuid(), countedOn: '2026-11-04', countedBy: 'Ines Marlow', onPaper: false },
  cells: Object.entries(cells).map(([cell, value]) => ({ cell, value })),
  ...more,
})
const doubtsOf = async (unit: string) =>
  (await listDiscrepancies(officer, { unit, filter: 'unsettled' })).lines.filter(
    ({ source }) => source === 'recount',
  )

describe('a recount', () => {
  it('within the tolerance raises nothing, and verifies', async () => {
    await saveRecount(officer, OCTOBER, 'elm', recount({ tested: 38 }))
    expect(await doubtsOf('elm')).toEqual([])
    const { counted } = await recountSheet(officer, OCTOBER, 'elm')
    expect(counted).toMatchObject([
      { cell: 'tested', recounted: 38, reported: 40, factor: 0.95, verdict: 'verified' },
    ])
  })

  it('beyond the tolerance is a discrepancy, with who counted when and what it would move', async () => {
    const first = recount({ 'seen.f': 20, 'seen.m': 10 })
    await saveRecount(officer, OCTOBER, 'elm', first)
    await saveRecount(officer, OCTOBER, 'elm', first)
    const [line, ...others] = await doubtsOf('elm')
    expect(others).toEqual([])
    expect(line).toMatchObject({
      ...{ strength: 'explain', state: 'open', holds: true },
      title: { en: 'seen: the recount says another number' },
    })
    const [file] = await readDiscrepancies(officer, [line!.id])
    expect(file!.doubt).toMatchObject({
      cells: ['seen.f', 'seen.m'],
      explanation: { left: { value: 40 }, relation: '>', right: { value: 30 }, by: 10 },
      recount: { on: '2026-11-04', by: 'Ines Marlow', cells: { 'seen.f': 20, 'seen.m': 10 } },
    })
    // The district has two reports of 40: one of 30 makes 70 of 80.
    expect(file!.shifts[0]).toMatchObject({ item: 'seen', figure: 80, cured: 70, share: 0.125 })
    expect(line!.effect).toBe(0.125)
  })

  it('is not told the number of the report before it has counted', async () => {
    const sheet = await recountSheet(officer, OCTOBER, 'elm')
    expect(sheet.cells).toEqual(['tested', 'positive', 'seen.f', 'seen.m'])
    expect(sheet.counted.map(({ cell }) => cell)).toEqual(['tested', 'seen.f', 'seen.m'])
    expect(JSON.stringify(sheet.counted)).not.toContain('positive')
  })

  it('is explained for the numbers it had: another recount opens it again', async () => {
    const [line] = await doubtsOf('elm')
    await settle(officer, line!.id, 'explained', 'Ten were of the outreach.', [])
    expect(await doubtsOf('elm')).toEqual([])
    await saveRecount(officer, OCTOBER, 'elm', recount({ 'seen.f': 18 }))
    expect(await doubtsOf('elm')).toMatchObject([{ id: line!.id, state: 'lapsed' }])
  })

  it('that is withdrawn holds no more: the one before does, and at last none', async () => {
    const { recounts } = await recountSheet(officer, OCTOBER, 'elm')
    expect(recounts.map(({ cells }) => cells)).toEqual([1, 2, 1])
    await withdrawRecount(officer, recounts[0]!.id)
    await withdrawRecount(officer, recounts[0]!.id)
    const { counted } = await recountSheet(officer, OCTOBER, 'elm')
    expect(counted.find(({ cell }) => cell === 'seen.f')).toMatchObject({ recounted: 20 })
    await withdrawRecount(officer, recounts[1]!.id)
    const [line] = await doubtsOf('elm')
    expect(line).toMatchObject({ holds: false })
  })

  it('does not hold up a report that comes back: its facility does not know of it', async () => {
    const clerk = personOf('clerk', 'oak')
    await saveRecount(officer, OCTOBER, 'oak', recount({ positive: 9 }))
    await sendBack(officer, OCTOBER, 'oak', 'Please look at the tests again.')
    await sendReport(clerk, OCTOBER, 'oak')
    expect(await doubtsOf('oak')).toMatchObject([{ state: 'open', holds: true }])
    await withdrawRecount(officer, (await recountSheet(officer, OCTOBER, 'oak')).recounts[0]!.id)
  })

  it('is settled by a correction to what was counted', async () => {
    await saveRecount(officer, OCTOBER, 'oak', recount({ positive: 8 }))
    const [line] = await doubtsOf('oak')
    const corrections = [{ cell: 'positive', base: 1, content: { kind: 'value' as const, value: 8 } }]
    await settle(officer, line!.id, 'corrected', 'A page was left out.', corrections)
    expect(await doubtsOf('oak')).toEqual([])
    expect((await recountSheet(officer, OCTOBER, 'oak')).counted[0]).toMatchObject({ factor: 1 })
  })

  it('is refused at its place, and nothing of it is kept', async () => {
    const of = (cells: Record<string, number>, more: Partial<RecountNew> = {}) =>
      saveRecount(officer, OCTOBER, 'oak', recount(cells, more))
    await expect(of({ nothing: 3, tested: 1.5 })).rejects.toMatchObject({
      code: 'recount-cells',
      problems: [{ at: 'cells/nothing' }, { at: 'cells/tested' }],
    })
    await expect(of({ tested: 3 }, { countedOn: '2026-11-06' })).rejects.toMatchObject(refusal('paper-day'))
    await expect(of({ tested: 3 }, { countedOn: '2026-09-30' })).rejects.toMatchObject({
      code: 'recount-early',
      problems: [{ at: 'countedOn' }],
    })
    await expect(of({ tested: 3 }, { visit: uuid() })).rejects.toMatchObject(refusal('visit-elsewhere'))
    const known = recount({ tested: 40 })
    await saveRecount(officer, OCTOBER, 'oak', known)
    await expect(saveRecount(officer, OCTOBER, 'elm', known)).rejects.toMatchObject(refusal('change-reused'))
    await expect(saveRecount(officer, SEPTEMBER, 'oak', recount({ tested: 3 }))).rejects.toMatchObject(
      refusal('report-missing'),
    )
    expect((await recountSheet(officer, OCTOBER, 'oak')).counted.map(({ recounted }) => recounted)).toEqual([
      40, 8,
    ])
  })

  it('ends at the border of the branch', async () => {
    await expect(recountSheet(elsewhere, OCTOBER, 'elm')).rejects.toMatchObject(refusal('outside-branch'))
    await expect(saveRecount(elsewhere, OCTOBER, 'elm', recount({ tested: 3 }))).rejects.toMatchObject(
      refusal('outside-branch'),
    )
    const [one] = (await recountSheet(officer, OCTOBER, 'elm')).recounts
    await expect(withdrawRecount(elsewhere, one!.id)).rejects.toMatchObject(refusal('outside-branch'))
    await expect(recountChoices(elsewhere, 'elm')).rejects.toMatchObject(refusal('outside-branch'))
  })
})

describe('the verification of a quarter', () => {
  it('divides what was recounted by what was reported, added up by facility and item', async () => {
    await saveRecount(officer, SEPTEMBER, 'elm', recount({ tested: 60, 'seen.f': 30 }))
    const third = await verification(officer, { quarter: '2026-Q3' })
    expect(third.lines).toMatchObject([
      {
        unit: { code: 'elm' },
        items: [
          { item: { en: 'seen' }, recounted: 30, reported: 30, factor: 1, verdict: 'verified' },
          { item: { en: 'tested' }, recounted: 60, reported: 40, factor: 1.5, verdict: 'underReported' },
        ],
      },
    ])
    const fourth = await verification(officer, { quarter: '2026-Q4' })
    expect(fourth.lines.map(({ unit }) => unit.code)).toEqual(['elm', 'oak'])
    // 38 and 40 were counted where 40 and 40 were reported.
    expect(fourth.totals.find(({ item }) => item.en === 'tested')).toMatchObject({
      ...{ recounted: 78, reported: 80, factor: 0.975, reports: 2, cells: 2 },
    })
    expect((await verification(elsewhere, { quarter: '2026-Q4' })).totals).toEqual([])
    await expect(verification(elsewhere, { quarter: '2026-Q4', unit: 'elm' })).rejects.toMatchObject(
      refusal('outside-branch'),
    )
  })

  it('says the same as the recounts one by one in SQL', async () => {
    const { totals } = await verification(officer, { quarter: '2026-Q3' })
    const [plain] = await sql.query<{ recounted: number; reported: number }>(
      `SELECT sum(c.value) AS recounted, sum(v.value) AS reported FROM recount_cell c JOIN recount r ON r.id = c.recount
       JOIN cell_value v ON v.report = r.report AND v.cell = c.cell JOIN report p ON p.id = r.report
       WHERE p.round = $1 AND r.withdrawn_at IS NULL`,
      [SEPTEMBER],
    )
    const sum = (of: 'recounted' | 'reported') => totals.reduce((total, one) => total + (one[of] ?? 0), 0)
    expect([sum('recounted'), sum('reported')]).toEqual([plain!.recounted, plain!.reported])
  })
})

describe('a visit', () => {
  const plan = (unit: string, plannedFor: string, id = uuid()) =>
    planVisit(officer, { id, unit, plannedFor, note: 'Bring the register.' })
  const move = (id: string, to: VisitMove) => moveVisit(officer, id, to)

  it('is proposed where the data give reasons, with each of them', async () => {
    await sql.query(`UPDATE device SET last_contact_at = '2026-10-26T12:00:00Z' WHERE unit = 'oak'`)
    const { lines, counts, more } = await visitProposals(officer, {})
    expect(more).toBe(false)
    expect(counts).toEqual({ withReason: 2, facilities: 2 })
    const reasonsOf = (code: string) => lines.find(({ unit }) => unit.code === code)?.reasons
    // The recount of September was half more than reported; of October it verified.
    expect(reasonsOf('elm')).toContainEqual({ why: 'recount', value: 1, of: 2 })
    expect(reasonsOf('oak')).toContainEqual({ why: 'silent', value: 10, of: null })
    expect((await visitProposals(elsewhere, {})).lines.map(({ unit }) => unit.code)).not.toContain('elm')
  })

  it('is planned once for a facility, with what spoke for it then', async () => {
    const id = uuid()
    await plan('elm', '2026-11-20', id)
    await plan('elm', '2026-11-20', id)
    await expect(plan('elm', '2026-11-21')).rejects.toMatchObject(refusal('visit-planned'))
    await expect(plan('oak', '2026-11-04')).rejects.toMatchObject({
      code: 'visit-day',
      problems: [{ at: 'plannedFor' }],
    })
    await expect(plan('oak', '2028-01-01')).rejects.toMatchObject(refusal('visit-day'))
    await expect(plan('quay', '2026-11-20')).rejects.toMatchObject(refusal('not-facility'))
    await expect(plan('ash', '2026-11-20')).rejects.toMatchObject(refusal('outside-branch'))
    const { lines, counts } = await listVisits(officer, {})
    expect(counts).toEqual({ planned: 1, made: 0, dropped: 0 })
    expect(lines[0]).toMatchObject({ plannedFor: '2026-11-20', note: 'Bring the register.' })
    expect(lines[0]!.reasons.map(({ why }) => why)).toContain('recount')
    expect((await recountChoices(officer, 'elm')).planned).toBe(id)
  })

  it('is made with what was recounted at it, dropped with the reason, or planned again', async () => {
    const { id } = (await listVisits(officer, {})).lines[0]!
    await saveRecount(officer, OCTOBER, 'elm', recount({ positive: 4 }, { visit: id }))
    await expect(move(id, { to: 'made', day: '2026-11-06', by: 'Ines Marlow' })).rejects.toMatchObject(
      refusal('paper-day'),
    )
    await move(id, { to: 'made', day: '2026-11-05', by: 'Ines Marlow', text: 'The register is kept well.' })
    await expect(move(id, { to: 'dropped', text: 'No boat.' })).rejects.toMatchObject(refusal('state'))
    expect((await listVisits(officer, { show: 'made' })).lines).toMatchObject([
      {
        id,
        madeOn: '2026-11-05',
        madeBy: 'Ines Marlow',
        recounted: 1,
        outcome: 'The register is kept well.',
      },
    ])
    const { lines } = await visitProposals(officer, {})
    expect(lines.find(({ unit }) => unit.code === 'elm')).toMatchObject({ lastVisit: '2026-11-05' })
    await move(id, { to: 'planned', day: '2026-11-25' })
    await move(id, { to: 'dropped', text: 'No boat.' })
    expect((await listVisits(officer, { show: 'dropped' })).lines).toMatchObject([
      { id, madeOn: null, outcome: 'No boat.', plannedFor: '2026-11-25' },
    ])
    const events = await sql.query<{ act: string }>('SELECT act FROM visit_event ORDER BY seq')
    expect(events.map(({ act }) => act)).toEqual(['planned', 'made', 'planned', 'dropped'])
    await expect(moveVisit(elsewhere, id, { to: 'dropped', text: 'No boat.' })).rejects.toMatchObject(
      refusal('outside-branch'),
    )
  })
})
