import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { cellsOf } from '#core/report/edition'
import { MONTHLY_SUMMARY } from '../../demo/monthly/edition'
import { cardFor, Client, OCTOBER } from '../support/client'
import { contactEntry } from '../support/samples'
import { TestDevice } from '../support/test-device'
import { startTwo, type TwoServers } from '../support/two-servers'

/** How long the devices send: half a minute in `npm test`, longer by `npm run test:races`. */
const SECONDS = Number(process.env.LANTERN_RACE_SECONDS ?? 30)
const CELLS = cellsOf(MONTHLY_SUMMARY)
  .map(({ key }) => key)
  .filter(key => !key.includes(':'))

let two: TwoServers
beforeAll(async () => {
  two = await startTwo()
})
afterAll(() => two?.stop())

/** A device at one of the two processes. One that is being started again is asked once more. */
async function deviceAt(which: number, unit: string): Promise<TestDevice> {
  return TestDevice.pair(two.address(which), `clerk.${unit}`, await cardFor(two.address(which), unit, 1), 3)
}

/**
 * Several of them, one after the other: who signs in many times at once is taken for somebody who guesses.
 */
async function devicesAt(places: readonly (readonly [which: number, unit: string])[]): Promise<TestDevice[]> {
  const devices: TestDevice[] = []
  for (const [which, unit] of places) devices.push(await deviceAt(which, unit))
  return devices
}

type Heard = { cursor: string; more: boolean; events: { kind: string; id?: string; last?: string }[] }

/** Asks again and again from where the last answer ended, until told to stop; then until nothing is left. */
async function listen(client: Client, isOver: () => boolean): Promise<Set<string>> {
  const heard = new Set<string>()
  let since = '0.0.0.0'
  for (let more = true; more || !isOver();) {
    const over = isOver()
    const answer = await client.get<Heard>(`/api/desk/receive?since=${since}&most=50`).catch(() => null)
    // Its process was killed a moment ago: it asks again.
    if (answer?.status !== 200) continue
    for (const event of answer.body.events) heard.add(event.id ?? event.last ?? '')
    since = answer.body.cursor
    more = answer.body.more || !over
  }
  return heard
}

describe('devices of some facilities, at two processes of which one is killed now and then', () => {
  it(
    'hear everything that was confirmed to any of them, once, and nothing is lost',
    async () => {
      const units = ['tern_row', 'sedge_bay', 'lowgate']
      const senders = await devicesAt(units.flatMap(unit => [0, 1].map(which => [which, unit] as const)))
      const listeners = await devicesAt(units.map((unit, at) => [at, unit] as const))
      const end = performance.now() + SECONDS * 1000
      let isOver = false
      const hearing = listeners.map(device => listen(device.person, () => isOver))
      const sending = senders.map(async (device, at) => {
        const unit = units[Math.floor(at / 2)]!
        for (let turn = 0; performance.now() < end; turn++) {
          for (let count = 0; count < 3; count++) device.add(contactEntry(unit))
          device.write(OCTOBER, unit, CELLS[(turn * 7 + at) % CELLS.length]!, turn)
          // Its process was killed a moment ago.
          await device.sendAll(3).catch(() => new Promise(resolve => setTimeout(resolve, 300)))
        }
      })
      const killing = (async () => {
        while (performance.now() < end - 8_000) {
          await new Promise(resolve => setTimeout(resolve, 6_000))
          await two.kill(1)
        }
      })()
      await Promise.all([...sending, killing])
      for (const device of senders) await device.sendAll()
      isOver = true
      const heard = await Promise.all(hearing)
      for (const [at, device] of senders.entries()) {
        expect(device.left).toBe(0)
        const own = heard[Math.floor(at / 2)]!
        const received = [...device.outcomes.values()].filter(({ outcome }) => outcome !== 'conflict')
        expect(received.map(({ outcome }) => outcome).filter(one => one === 'refused')).toEqual([])
        const entries = device.made.filter(({ kind }) => kind === 'entry')
        expect(entries.filter(({ id }) => !own.has(id))).toEqual([])
      }
      const sent = senders.reduce((sum, device) => sum + device.made.length, 0)
      console.log(`${sent} changes from ${senders.length} devices, all confirmed and all heard.`)
      expect(sent).toBeGreaterThan(SECONDS * 10)
    },
    SECONDS * 1000 + 120_000,
  )
})

describe('a report that nobody has begun', () => {
  it('is begun by four devices at once: one report, and every value stands or is in conflict', async () => {
    const officer = await Client.signedIn(two.address(0), 'officer.ashmere')
    const { body } = await officer.get<{ rows: { unit: { code: string }; state: string }[] }>(
      `/api/rounds/${OCTOBER}/board`,
    )
    const awaited = body.rows.filter(({ state }) => state === 'awaited').slice(0, 3)
    expect(awaited.length).toBeGreaterThan(0)
    for (const { code: unit } of awaited.map(row => row.unit)) {
      const devices = await devicesAt([0, 1, 2, 3].map(which => [which, unit] as const))
      const answers = await Promise.all(
        devices.map((device, at) =>
          device.sendNow([
            {
              kind: 'cell',
              id: uuid(),
              madeAt: '2026-11-08T10:00:00Z',
              round: OCTOBER,
              unit,
              cell: CELLS[0],
              base: 0,
              content: { kind: 'value', value: at },
            },
          ]),
        ),
      )
      expect(answers.map(({ status }) => status)).toEqual([200, 200, 200, 200])
      const outcomes = answers.map(({ body }) => body.outcomes[0]!)
      expect(outcomes.filter(({ outcome }) => outcome === 'received' || outcome === 'conflict')).toHaveLength(
        4,
      )
      expect(outcomes.filter(({ outcome }) => outcome === 'received')).toHaveLength(1)
    }
  })
})

describe('an answer with a correction, against changes of the same report', () => {
  it('ends in outcomes, never in a deadlock', async () => {
    const officer = await Client.signedIn(two.address(0), 'officer.ashmere')
    const { body } = await officer.get<{ lines: { id: string; state: string; unit: { code: string } }[] }>(
      `/api/discrepancies?round=${OCTOBER}`,
    )
    const doubt = body.lines.find(({ state, unit }) => state !== 'settled' && unit.code !== 'tern_row')!
    const { body: file } = await officer.get<{ cells: { cell: string; version: number }[] }>(
      `/api/discrepancies/${doubt.id}`,
    )
    const unit = doubt.unit.code
    const devices = await devicesAt([0, 1, 2, 3].map(which => [which, unit] as const))
    for (let turn = 0; turn < 10; turn++) {
      const answers = await Promise.all(
        devices.map((device, at) =>
          device.sendNow([
            at % 2
              ? {
                  kind: 'answer',
                  id: uuid(),
                  madeAt: '2026-11-08T10:00:00Z',
                  discrepancy: doubt.id,
                  text: 'We counted again.',
                  corrections: file.cells.map(({ cell, version }) => ({
                    cell,
                    base: version,
                    content: { kind: 'value', value: turn },
                  })),
                }
              : {
                  kind: 'cell',
                  id: uuid(),
                  madeAt: '2026-11-08T10:00:00Z',
                  round: OCTOBER,
                  unit,
                  cell: file.cells[0]!.cell,
                  base: file.cells[0]!.version,
                  content: { kind: 'value', value: 100 + turn },
                  why: 'Counted again.',
                },
          ]),
        ),
      )
      expect(answers.map(({ status }) => status)).toEqual([200, 200, 200, 200])
    }
  })
})
