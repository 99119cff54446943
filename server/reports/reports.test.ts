import '../../tests/support/use-memory'
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import { closeDatabase, type Database } from '../database'
import { ask, reopen, settle } from '../discrepancies/act'
import { listDiscrepancies } from '../discrepancies/list'
import { discrepancyFile } from '../discrepancies/read'
import { districtCsv } from '../district-reports/csv'
import { districtReport, signDistrict } from '../district-reports/district-report'
import { seal, verifySignatures } from '../district-reports/signatures'
import { answerQuestion, fillReport, sendReport, type CellValues } from '../../tests/support/facility'
import { makeInstallation, NOW, OCTOBER, personOf } from '../../tests/support/installation'
import { today } from '../overview/today'
import { reportFile } from './file'
import { acceptClean, acceptReport, sendBack, undoAccept } from '../reporting/review'

let sql: Database
beforeAll(async () => {
  sql = await makeInstallation()
})
afterAll(closeDatabase)

const clerkOf = (unit: string) => personOf('clerk', unit)
const officer = personOf('officer', 'north')
const AT = '2026-11-05T12:30:00Z'

const versions = new Map<string, number>()
/** Changes cells of a unit's October report, on the versions that it has. */
async function fill(unit: string, numbers: Record<string, number | null>, why?: string) {
  const values: CellValues = Object.fromEntries(
    Object.entries(numbers).map(([cell, value]) => [
      cell,
      { value, base: versions.get(`${unit} ${cell}`) ?? 0 },
    ]),
  )
  const outcomes = await fillReport(clerkOf(unit), OCTOBER, unit, values, { ...(why && { why }) })
  Object.keys(values).forEach((cell, at) => versions.set(`${unit} ${cell}`, outcomes[at]!.version!))
}
const GOOD = { tested: 10, positive: 4, 'seen.f': 20, 'seen.m': 30 }
const stateOf = async (unit: string) => (await reportFile(officer, OCTOBER, unit)).state
const linesOf = async (unit: string) =>
  (await listDiscrepancies(officer, { round: OCTOBER })).lines.filter(line => line.unit.code === unit)

describe('a report', () => {
  it('is awaited until its first answer, then a draft', async () => {
    expect(await reportFile(clerkOf('elm'), OCTOBER, 'elm')).toMatchObject({
      state: 'awaited',
      cells: [],
      receivedAt: null,
    })
    await fill('elm', { tested: 10 })
    expect(await stateOf('elm')).toBe('draft')
    expect((await reportFile(clerkOf('elm'), OCTOBER, 'elm')).cells).toEqual([
      { cell: 'tested', content: { kind: 'value', value: 10 }, version: 1 },
    ])
  })

  it('keeps every change as an event', async () => {
    await fill('elm', { tested: 11 })
    await fill('elm', { tested: 10 })
    const events = await sql.query<{ old: { value: number }; new: { value: number }; origin: string }>(
      'SELECT e.old, e.new, e.origin FROM cell_event e JOIN report p ON p.id = e.report WHERE p.unit = $1 AND e.cell = $2 ORDER BY e.seq',
      ['elm', 'tested'],
    )
    expect(events.map(event => event.new.value)).toEqual([10, 11, 10])
    expect(events[1]!.old.value).toBe(10)
    expect(new Set(events.map(({ origin }) => origin))).toEqual(new Set(['desk']))
  })

  it('takes the same content on an old version as one that it already has', async () => {
    const outcomes = await fillReport(clerkOf('elm'), OCTOBER, 'elm', { tested: { value: 10, base: 1 } })
    expect(outcomes[0]).toMatchObject({ outcome: 'alreadyHad', version: 3 })
  })

  it('of a round that has closed, or has not opened, takes nothing', async () => {
    await expect(fillReport(clerkOf('elm'), 'small~2026-07', 'elm', { tested: 1 })).rejects.toMatchObject({
      code: 'round-closed',
    })
    await expect(fillReport(clerkOf('elm'), 'small~2026-11', 'elm', { tested: 1 })).rejects.toMatchObject({
      code: 'not-found',
    })
  })

  it('of another branch is refused', async () => {
    await expect(reportFile(officer, OCTOBER, 'ash')).rejects.toMatchObject({
      status: 403,
      code: 'outside-branch',
    })
    await expect(
      fillReport(clerkOf('oak'), OCTOBER, 'elm', { tested: { value: null, base: 9 } }),
    ).rejects.toMatchObject({ code: 'outside-branch' })
  })
})

describe('sending', () => {
  it('is stopped by a must-fix doubt', async () => {
    await fill('elm', { ...GOOD, positive: 12 })
    await expect(sendReport(clerkOf('elm'), OCTOBER, 'elm', {})).rejects.toMatchObject({
      code: 'must-fix',
    })
    expect(await stateOf('elm')).toBe('draft')
  })

  it('what users met, 11: a must-fix doubt that cannot be corrected is sent with a sentence, which the officer reads', async () => {
    await expect(sendReport(clerkOf('elm'), OCTOBER, 'elm', { 'rule:within': '  ' })).rejects.toMatchObject({
      code: 'must-fix',
    })
    await sendReport(clerkOf('elm'), OCTOBER, 'elm', {
      'rule:within': 'Two were tested elsewhere and counted here.',
    })
    const [line] = await linesOf('elm')
    expect([await stateOf('elm'), line!.strength, line!.state]).toEqual(['sent', 'mustFix', 'answered'])
    expect((await discrepancyFile(officer, line!.id)).thread.at(-1)).toMatchObject({
      act: 'explained',
      text: 'Two were tested elsewhere and counted here.',
    })
    // It blocks until the officer decides.
    await expect(acceptReport(officer, OCTOBER, 'elm', AT)).rejects.toMatchObject({ code: 'doubts-left' })
    await sql.query('DELETE FROM discrepancy_event')
    await sql.query('DELETE FROM discrepancy')
    await sql.query(`UPDATE report SET state = 'draft', first_received_at = NULL, received_at = NULL`)
  })

  it('asks for a sentence, and keeps it as the discrepancy’s answer', async () => {
    await fill('elm', { positive: 4, 'seen.f': 90 })
    await expect(sendReport(clerkOf('elm'), OCTOBER, 'elm', { 'rule:many': '  ' })).rejects.toMatchObject({
      code: 'explanation-missing',
    })
    await sendReport(clerkOf('elm'), OCTOBER, 'elm', { 'rule:many': 'A fair was in town.' })
    expect(await stateOf('elm')).toBe('sent')
    const [line] = await linesOf('elm')
    expect(line).toMatchObject({ state: 'answered', strength: 'explain', holds: true })
    expect((await discrepancyFile(officer, line!.id)).thread).toMatchObject([
      { act: 'found', by: null },
      { act: 'explained', by: 'The clerk', text: 'A fair was in town.' },
    ])
  })

  it('twice is refused', async () => {
    await expect(sendReport(clerkOf('elm'), OCTOBER, 'elm', {})).rejects.toMatchObject({
      code: 'state',
    })
  })

  it('again after it was sent back keeps the time of the first arrival', async () => {
    const first = await sql.query<{ at: string }>(
      'SELECT first_received_at AS at FROM report WHERE unit = $1',
      ['elm'],
    )
    await sendBack(officer, OCTOBER, 'elm', 'Look at the girls again.')
    expect(await reportFile(clerkOf('elm'), OCTOBER, 'elm')).toMatchObject({
      state: 'sentBack',
      sentBackWhy: 'Look at the girls again.',
    })
    await sendReport(clerkOf('elm'), OCTOBER, 'elm', { 'rule:many': 'Still the fair.' })
    expect(await sql.query('SELECT first_received_at AS at FROM report WHERE unit = $1', ['elm'])).toEqual(
      first,
    )
  })
})

describe('a discrepancy', () => {
  const theOne = async () => (await linesOf('elm'))[0]!

  it('has the effect of its nearest cure on the district', async () => {
    const file = await discrepancyFile(officer, (await theOne()).id)
    // 90 + 30 seen; 99 would be allowed: the item’s total goes from 120 to 99.
    expect(file.shifts[0]).toMatchObject({ figure: 120, cured: 99, share: 21 / 120 })
    expect((await theOne()).effect).toBeCloseTo(0.175)
  })

  it('cannot be settled as corrected while it holds', async () => {
    await expect(settle(officer, (await theOne()).id, 'corrected', 'It is right.', [])).rejects.toMatchObject(
      { code: 'still-holds' },
    )
  })

  it('keeps the report from being accepted, and is not settled by accepting what is clean', async () => {
    await expect(acceptReport(officer, OCTOBER, 'elm', AT)).rejects.toMatchObject({ code: 'doubts-left' })
    expect(await acceptClean(officer, OCTOBER, 'north', AT)).toEqual([])
  })

  it('settled as explained lets the report be accepted, and lapses when its values change', async () => {
    const { id } = await theOne()
    await settle(officer, id, 'explained', 'The fair.', [])
    expect(await acceptClean(officer, OCTOBER, 'north', AT)).toEqual([{ code: 'elm', name: 'elm' }])
    expect(await stateOf('elm')).toBe('accepted')
    await fill('elm', { 'seen.m': 31 }, 'one was missed')
    expect(await theOne()).toMatchObject({ state: 'lapsed', outcome: null, holds: true })
    // The report is before the officer again.
    expect(await stateOf('elm')).toBe('sent')
  })

  it('is not touched by a change of other cells', async () => {
    const { id } = await theOne()
    await settle(officer, id, 'dismissed', 'No doubt.', [])
    await fill('elm', { tested: 12 }, 'two more tests')
    expect(await theOne()).toMatchObject({ state: 'settled', outcome: 'dismissed' })
  })

  it('only takes corrections of doubted cells, on the version that is there', async () => {
    await fill('elm', { 'seen.f': 95 }, 'counted again')
    const { id } = await theOne()
    const correction = (cell: string, base: number, value: number) => [
      { cell, base, content: { kind: 'value' as const, value } },
    ]
    await ask(officer, id, 'Is it 95?')
    await expect(answerQuestion(clerkOf('elm'), id, 'No.', correction('tested', 1, 3))).rejects.toMatchObject(
      {
        code: 'not-doubted',
      },
    )
    await expect(
      answerQuestion(clerkOf('elm'), id, 'No.', correction('seen.f', 1, 59)),
    ).rejects.toMatchObject({
      code: 'changed-meanwhile',
    })
    await expect(
      answerQuestion(clerkOf('elm'), id, 'No.', correction('seen.f', versions.get('elm seen.f')!, 5.5)),
    ).rejects.toMatchObject({ code: 'cell-decimals' })
    // A refused answer leaves nothing behind: it was one transaction.
    expect((await discrepancyFile(officer, id)).line.state).toBe('asked')
    await answerQuestion(clerkOf('elm'), id, 'No, 59.', correction('seen.f', versions.get('elm seen.f')!, 59))
    versions.set('elm seen.f', versions.get('elm seen.f')! + 1)
    expect(await theOne()).toMatchObject({ state: 'answered', holds: false, effect: null })
  })

  it('what users met, 10: settled, is opened again with a reason; what was accepted at once is taken back at once', async () => {
    const { id } = await theOne()
    await settle(officer, id, 'explained', 'A fair.', [])
    await reopen(officer, id, 'The fair was in November.')
    expect(await theOne()).toMatchObject({ state: 'open', outcome: null })
    expect((await discrepancyFile(officer, id)).thread.at(-1)).toMatchObject({
      act: 'reopened',
      text: 'The fair was in November.',
    })
    await expect(reopen(officer, id, 'Again.')).rejects.toMatchObject({ code: 'state' })
    await settle(officer, id, 'dismissed', 'No doubt.', [])
    expect(await acceptClean(officer, OCTOBER, 'north', AT)).toEqual([{ code: 'elm', name: 'elm' }])
    const before = (await reportFile(officer, OCTOBER, 'elm')).receivedAt
    expect(await undoAccept(personOf('reader', 'north'), OCTOBER, ['elm'])).toBe(0)
    expect(await undoAccept(personOf('officer', 'south'), OCTOBER, ['elm'])).toBe(0)
    expect(await undoAccept(officer, OCTOBER, ['elm', 'oak'])).toBe(1)
    expect([await stateOf('elm'), (await reportFile(officer, OCTOBER, 'elm')).receivedAt]).toEqual([
      'sent',
      before,
    ])
    // What somebody touched since is left alone, and so is what was accepted long ago.
    await acceptReport(officer, OCTOBER, 'elm', AT)
    await sql.query(`UPDATE report_event SET at = at - interval '6 minutes' WHERE to_state = 'accepted'`)
    expect(await undoAccept(officer, OCTOBER, ['elm'])).toBe(0)
    await reopen(officer, id, 'For the next test.')
    await sendBack(officer, OCTOBER, 'elm', 'For the next test.')
    await sendReport(clerkOf('elm'), OCTOBER, 'elm', {})
  })

  it('that no longer holds is settled as corrected by accepting the report', async () => {
    expect(await acceptReport(officer, OCTOBER, 'elm', AT)).toMatchObject({ state: 'accepted' })
    expect(await theOne()).toMatchObject({ state: 'settled', outcome: 'corrected' })
  })
})

describe('the district report', () => {
  it('rolls the received reports up, and says which are missing', async () => {
    const { state, figures } = await districtReport(officer, OCTOBER)
    expect(state).toBe('ready')
    expect(figures.missing).toEqual([{ code: 'oak', name: 'oak' }])
    const seen = figures.sections[0]!.lines.find(({ item }) => item === 'seen')!
    expect(seen).toMatchObject({ value: 90, reportsIn: 1 })
    expect(figures.reporting).toMatchObject({ expected: 2, received: 1, onTime: 1, completeness: 0.5 })
  })

  it('what users met, 9: counts of those who offer the service, missing reports and received ones alike', async () => {
    const ofSeen = async () => {
      const { figures } = await districtReport(officer, OCTOBER)
      const { reportsIn, offering } = figures.sections[0]!.lines.find(({ item }) => item === 'seen')!
      return [reportsIn, offering, figures.reporting.expected]
    }
    expect(await ofSeen()).toEqual([1, 2, 2])
    await sql.query(
      `INSERT INTO not_offered (unit, dataset, item, from_day) VALUES ('oak', 'small', 'seen', '2026-10-01'), ('oak', 'small', 'tested', '2026-11-01')`,
    )
    expect(await ofSeen()).toEqual([1, 1, 2])
    expect(
      districtCsv(await districtReport(officer, OCTOBER), 'en')
        .split('\r\n')
        .filter(line => line.includes(',seen,'))
        .map(line => line.split(',').slice(-2).join(' of ')),
    ).toEqual(['1 of 1', '1 of 1', '1 of 1'])
    await sql.query('DELETE FROM not_offered')
  })

  it('is for one district only', async () => {
    await expect(districtReport(personOf('reader', null), OCTOBER)).rejects.toMatchObject({
      code: 'not-a-district',
    })
    await expect(districtReport(officer, OCTOBER, { unit: 'south' })).rejects.toMatchObject({
      code: 'outside-branch',
    })
  })

  it('is frozen by its signature', async () => {
    const ofToday = async () => {
      const { state, changedSince } = (await today(officer)).rounds[0]!
      return [state, changedSince]
    }
    expect(await ofToday()).toEqual(['ready', 0])
    await signDistrict(officer, OCTOBER, (await districtReport(officer, OCTOBER)).toSign)
    expect(await ofToday()).toEqual(['signed', 0])
    const signed = await districtReport(officer, OCTOBER)
    await fill('elm', { 'seen.f': 58 }, 'one belongs to Oak')
    const after = await districtReport(officer, OCTOBER)
    expect(after.figures).toEqual(signed.figures)
    // What users met, 8: *Today* says the same as the page.
    expect(await ofToday()).toEqual(['signed', after.changedSince.length])
    expect(after.changedSince).toMatchObject([{ kind: 'cell', cell: 'seen.f', signed: 59, now: 58 }])
    const [row] = await sql.query<{ checksum: string; snapshot: string }>(
      'SELECT checksum, snapshot FROM signature',
    )
    expect(seal(JSON.parse(row!.snapshot) as never).checksum).toBe(row!.checksum)
  })

  it('of a district without a report cannot be signed', async () => {
    const south = personOf('officer', 'south')
    await expect(
      signDistrict(south, OCTOBER, (await districtReport(south, OCTOBER)).toSign),
    ).rejects.toMatchObject({ code: 'nothing-received' })
  })

  it('nothing lost, 17: is signed as it was seen, else the difference is given', async () => {
    const { toSign } = await districtReport(officer, OCTOBER)
    await fill('elm', { 'seen.f': 57 }, 'another belongs to Oak')
    await expect(signDistrict(officer, OCTOBER, toSign)).rejects.toMatchObject({
      code: 'figures-changed',
      problems: [{ code: 'changed-cell', at: 'cells/elm/seen.f', message: '58 → 57' }],
    })
    await expect(signDistrict(officer, OCTOBER, 'f'.repeat(64))).rejects.toMatchObject({
      code: 'figures-changed',
      problems: [],
    })
    expect((await districtReport(officer, OCTOBER)).signatures).toHaveLength(1)
  })

  it('nothing lost, 17: is changed by a late report without numbers, another explanation, another completeness', async () => {
    const before = await districtReport(officer, OCTOBER)
    await signDistrict(officer, OCTOBER, before.toSign)
    expect((await districtReport(officer, OCTOBER)).changedSince).toEqual([])
    // Oak comes in without a single number.
    await sql.query(
      `INSERT INTO report (round, unit, edition, state, first_received_at, received_at) VALUES ($1, 'oak', 1, 'sent', $2, $2)`,
      [OCTOBER, NOW],
    )
    const late = (await districtReport(officer, OCTOBER)).changedSince
    expect(late).toEqual([
      { kind: 'report', unit: { code: 'oak', name: 'oak' }, signed: 'missing', now: 'received' },
      {
        kind: 'completeness',
        signed: { expected: 2, received: 1, onTime: 1 },
        now: { expected: 2, received: 2, onTime: 2 },
      },
    ])
    await signDistrict(officer, OCTOBER, (await districtReport(officer, OCTOBER)).toSign)
    await sql.query(`UPDATE discrepancy SET state = 'lapsed', outcome = NULL, strength = 'note'`)
    expect((await districtReport(officer, OCTOBER)).changedSince.map(({ kind }) => kind)).toContain(
      'discrepancy',
    )
  })

  it('nothing lost, 17: keeps every snapshot readable, each with the checksum before it, and notices one that was changed', async () => {
    const first = await districtReport(officer, OCTOBER, { amendment: 1 })
    expect(first).toMatchObject({ shows: 1, state: 'amended' })
    await expect(districtReport(officer, OCTOBER, { amendment: 9 })).rejects.toMatchObject({ status: 404 })
    const rows = await sql.query<{ checksum: string; snapshot: string }>(
      'SELECT checksum, snapshot FROM signature ORDER BY amendment',
    )
    expect(
      rows.map(({ snapshot }) => (JSON.parse(snapshot) as { previous: string | null }).previous),
    ).toEqual([null, ...rows.slice(0, -1).map(({ checksum }) => checksum)])
    expect(await verifySignatures()).toBe(0)
    await sql.query(`UPDATE signature SET snapshot = replace(snapshot, '59', '95') WHERE amendment = 1`)
    const error = vi.spyOn(process.stderr, 'write').mockReturnValue(true)
    expect(await verifySignatures()).toBe(1)
    expect(String(error.mock.calls[0]![0])).toContain('is not the one that was signed')
    error.mockRestore()
    expect((await districtReport(officer, OCTOBER)).signatures.map(({ isSound }) => isSound)).toEqual([
      false,
      true,
      true,
    ])
  })

  it('has the same checksum whatever the order of its keys', () => {
    const one = seal({ figures: { a: 1, b: [1, 2] }, cells: {} } as never)
    const other = seal({ cells: {}, figures: { b: [1, 2], a: 1 } } as never)
    expect(one).toEqual(other)
  })
})
