import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { ReportFileView } from '#core/contract/report-files'
import type { Board } from '#core/contract/rounds'
import { isReceived } from '#core/report/state'
import { OCTOBER, type Client } from '../support/client'
import { signedInAtBoth, startTwo, type TwoServers } from '../support/two-servers'

/** More than one transaction takes in, so that two go on side by side. */
const MORE_THAN_ONE = 20
const PATIENCE = 90_000

let two: TwoServers
let officers: Client[]
beforeAll(async () => {
  two = await startTwo()
  officers = await signedInAtBoth(two, 'officer.sorrel_downs', 2)
})
afterAll(() => two?.stop())

interface Cell {
  cell: string
  content: { kind: string; value?: number }
  version: number
}
const cellsOf = async (unit: string) =>
  (await officers[1]!.get<{ cells: Cell[] }>(`/api/reports/${OCTOBER}/${unit}`)).body.cells

/** Waits until the job has done with a file. */
async function until(id: string, state: string): Promise<ReportFileView> {
  for (const end = Date.now() + PATIENCE; ;) {
    const { body } = await officers[1]!.get<ReportFileView>(`/api/report-files/${id}`)
    if (body.line.state === state || Date.now() > end) return body
    await new Promise(resolve => {
      setTimeout(resolve, 500)
    })
  }
}

describe('a file of more reports than one transaction takes', () => {
  it('is taken in whole, and back, each value once', async () => {
    const { body: board } = await officers[0]!.get<Board>(`/api/rounds/${OCTOBER}/board`)
    const units = board.rows.filter(({ state }) => isReceived(state)).map(({ unit }) => unit.code)
    expect(units.length).toBeGreaterThan(MORE_THAN_ONE)
    const before = await Promise.all(units.map(cellsOf))
    const { cell } = before[0]!.find(({ content }) => content.kind === 'value')!
    const text = [`unit,period,${cell}`, ...units.map((unit, at) => `${unit},2026-10,${200 + at}`)].join('\n')
    const { status, body: looked } = await officers[0]!.post<ReportFileView>('/api/report-files', {
      ...{ dataset: 'monthly_summary', name: 'october.csv', language: 'en' },
      base64: Buffer.from(text).toString('base64'),
    })
    expect([status, looked.line.counts.reports]).toEqual([200, units.length])
    const at = `/api/report-files/${looked.line.id}`
    await officers[0]!.post(`${at}/apply`, { why: 'Counted anew at the office.' })
    expect((await until(looked.line.id, 'applied')).line).toMatchObject({
      state: 'applied',
      counts: { done: units.length, refused: 0 },
    })
    const value = (cells: Cell[]) => cells.find(one => one.cell === cell)
    const after = await Promise.all(units.map(cellsOf))
    expect(after.map(value)).toMatchObject(
      before.map((cells, number) => ({
        content: { kind: 'value', value: 200 + number },
        version: (value(cells)?.version ?? 0) + 1,
      })),
    )
    await officers[0]!.post(`${at}/undo`, {})
    expect((await until(looked.line.id, 'undone')).line.counts).toMatchObject({ undone: units.length })
    const back = await Promise.all(units.map(cellsOf))
    expect(back.map(cells => value(cells)?.content)).toEqual(before.map(cells => value(cells)?.content))
  })
})
