import '../support/use-memory'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import type { DeskChange } from '#core/contract/desk'
import type { CellContent } from '#core/report/cell'
import { closeDatabase, type Database } from '../../server/database'
import { applySent } from '../../server/desk/send'
import type { Device } from '../../server/desk/devices'
import { today } from '../../server/overview/today'
import { decideConflicts } from '../../server/reporting/settle-conflicts'
import { cellStory } from '../../server/reports/cell-story'
import { conflictSides } from '../../server/reports/conflicts'
import { reportFile } from '../../server/reports/file'
import { pairAt, sendReport } from '../support/facility'
import { makeInstallation, OCTOBER, personOf } from '../support/installation'

const admin = personOf('administrator', null)
const officer = personOf('officer', 'north')
const clerk = personOf('clerk', 'elm')
const number = (value: number): CellContent => ({ kind: 'value', value })
let sql: Database
let phones: [Device, Device, Device]

beforeAll(async () => {
  sql = await makeInstallation()
  phones = [await pairAt('elm', clerk), await pairAt('elm', clerk), await pairAt('elm', clerk)]
})
afterAll(closeDatabase)

const type = (device: Device, cells: Record<string, number>, base = 0) =>
  applySent(clerk, device, {
    clockOffset: 0,
    changes: Object.entries(cells).map(([cell, value]): DeskChange => ({
      ...{ kind: 'cell', id: uuid(), madeAt: '2026-11-05T10:00:00Z', round: OCTOBER, unit: 'elm' },
      ...{ cell, base, content: number(value) },
    })),
  })
const stored = async (cell: string) => {
  const { cells } = await reportFile(officer, OCTOBER, 'elm')
  return cells.find(one => one.cell === cell)!
}
const sides = () => conflictSides(officer, OCTOBER, 'elm')
/** What the officer decides who saw everything: for each cell a content. */
async function decide(contents: Record<string, CellContent>, access = officer) {
  const { conflicts } = await sides()
  const decisions = []
  for (const [cell, content] of Object.entries(contents)) {
    const seen = conflicts.flatMap(one => (one.cell === cell ? [one.id] : []))
    decisions.push({ cell, base: (await stored(cell)).version, content, seen })
  }
  return decideConflicts(access, OCTOBER, 'elm', decisions)
}

beforeEach(async () => {
  for (const table of ['field_conflict', 'known_change', 'received_change', 'cell_event', 'cell_value'])
    await sql.query(`DELETE FROM ${table}`)
  await sql.query('DELETE FROM discrepancy_event')
  await sql.query('DELETE FROM discrepancy')
  await sql.query('DELETE FROM report_event')
  await sql.query('DELETE FROM report')
  await type(phones[0], { tested: 10, positive: 3, 'seen.f': 4, 'seen.m': 4 })
  await type(phones[1], { tested: 12, positive: 3, 'seen.f': 5 })
})

describe('two devices with one report', () => {
  it('are shown side by side, each with who, on which device and when', async () => {
    const { conflicts, standing } = await sides()
    expect(conflicts.map(({ cell, content }) => [cell, content])).toEqual([
      ['tested', number(12)],
      ['seen.f', number(5)],
    ])
    expect(standing.map(({ cell }) => cell).sort()).toEqual(['seen.f', 'tested'])
    expect(standing[0]).toMatchObject({ by: 'The clerk', device: 'Phone of elm 1' })
    expect((await today(officer)).conflicts).toMatchObject([{ unit: { code: 'elm' }, changes: 2 }])
    expect((await today(personOf('officer', 'south'))).conflicts).toEqual([])
  })

  it('what came is taken: what stood there stays in the history, and the other conflict stays open', async () => {
    await decide({ tested: number(12) })
    expect(await stored('tested')).toMatchObject({ content: number(12), version: 2 })
    expect((await sides()).conflicts.map(({ cell }) => cell)).toEqual(['seen.f'])
    const { events } = await cellStory(officer, OCTOBER, 'elm', 'tested')
    expect(JSON.stringify(events)).toContain('10')
  })

  it('what stands is kept, and the history says who decided it', async () => {
    await decide({ tested: number(10), 'seen.f': number(4) })
    expect(await stored('tested')).toMatchObject({ content: number(10), version: 2 })
    expect((await sides()).conflicts).toEqual([])
    expect(await sql.query('SELECT DISTINCT settled_by FROM field_conflict')).toEqual([
      { settled_by: officer.id },
    ])
  })

  it('a third value came meanwhile: nobody settles what they did not see', async () => {
    const before = await sides()
    const seen = before.conflicts.flatMap(({ id, cell }) => (cell === 'tested' ? [id] : []))
    await type(phones[2], { tested: 14 })
    const decision = { cell: 'tested', base: 1, content: number(12), seen }
    await expect(decideConflicts(officer, OCTOBER, 'elm', [decision])).rejects.toMatchObject({
      status: 409,
      code: 'conflict-changed',
      problems: [{ at: 'cells/tested' }],
    })
    await decide({ tested: number(14) })
    expect(await stored('tested')).toMatchObject({ content: number(14) })
  })

  it('the value was corrected meanwhile: all of the decision is refused, the good part too', async () => {
    const { conflicts } = await sides()
    const idOf = (cell: string) => conflicts.find(one => one.cell === cell)!.id
    await type(phones[0], { tested: 11 }, 1)
    const decisions = [
      { cell: 'seen.f', base: 1, content: number(5), seen: [idOf('seen.f')] },
      { cell: 'tested', base: 1, content: number(12), seen: [idOf('tested')] },
    ]
    await expect(decideConflicts(officer, OCTOBER, 'elm', decisions)).rejects.toMatchObject({ status: 409 })
    expect(await stored('seen.f')).toMatchObject({ content: number(4) })
    expect((await sides()).conflicts).toHaveLength(2)
  })

  it('a report that the district has is judged again by what was decided', async () => {
    await sendReport(clerk, OCTOBER, 'elm')
    await decide({ tested: number(2) }).catch(() => undefined)
    // Any content may be decided that the cell takes; two tested of three positive must be fixed.
    const { discrepancies, state } = await reportFile(officer, OCTOBER, 'elm')
    expect(state).toBe('sent')
    expect(discrepancies).toMatchObject([{ code: 'within', holds: true }])
  })

  it('beyond the border, and by a cell that there is not, is refused', async () => {
    await expect(decide({ tested: number(12) }, personOf('officer', 'south'))).rejects.toMatchObject({
      status: 403,
    })
    const decision = { cell: 'nothing', base: 0, content: number(1), seen: [uuid()] }
    await expect(decideConflicts(admin, OCTOBER, 'elm', [decision])).rejects.toMatchObject({ status: 409 })
  })
})
