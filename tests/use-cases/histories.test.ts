import '../support/use-memory'
import 'fake-indexeddb/auto'
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import type { CellChange, DeskChange, DeskOutcome } from '#core/contract/desk'
import { newDataKey } from '#core/protect/seal'
import { BLANK, sameContent, type CellContent } from '#core/report/cell'
import { isNewer } from '#core/sync/queue'
import { ApiProblem } from '../../app/common/useApi'
import { saveCellChange } from '../../app/device/useChangeQueue'
import { onOutcome, sendWaiting } from '../../app/device/useDeskSend'
import { eraseWork, WorkStore } from '../../app/device/useDeskStore'
import { reportPlace } from '../../app/device/useDeskWork'
import { nowText } from '../../server/clock'
import { closeDatabase, type Database } from '../../server/database'
import type { Device } from '../../server/desk/devices'
import { applySent } from '../../server/desk/send'
import { standing } from '../../server/desk/standing'
import { reportFile } from '../../server/reports/file'
import { pairAt } from '../support/facility'
import { makeInstallation, OCTOBER, personOf } from '../support/installation'
import { giveGlobals } from '../support/nuxt-globals'

/**
 * Random histories of two devices over a bad line, through the code that ships: the storage of a device
 * (IndexedDB) around `core/sync/queue`, and the database of the district (PostgreSQL) around
 * `core/sync/merge`. The same rules are played thousands of times in memory in `core/sync/sync.test.ts`.
 */
const UNIT = 'elm'
const CELLS = ['tested', 'positive'] as const
const clerk = personOf('clerk', UNIT)
const place = reportPlace(OCTOBER, UNIT)
let sql: Database

/** What the line does with the next request: it arrives, or not; its answer comes, or not; it comes again later. */
type Line = 'good' | 'lost' | 'answerLost' | 'twice' | 'lostThenLate'
type Step =
  | { act: 'write'; who: number; cell: (typeof CELLS)[number]; value: number }
  | { act: 'send'; who: number; line: Line }
  | { act: 'read'; who: number }
  | { act: 'lateRequest'; which: number }

const who = fc.nat(1)
const steps = fc.array(
  fc.oneof(
    {
      weight: 5,
      arbitrary: fc.record({
        act: fc.constant('write' as const),
        who,
        cell: fc.constantFrom(...CELLS),
        value: fc.nat(3),
      }),
    },
    {
      weight: 4,
      arbitrary: fc.record({
        act: fc.constant('send' as const),
        who,
        line: fc.constantFrom<Line>('good', 'good', 'lost', 'answerLost', 'twice', 'lostThenLate'),
      }),
    },
    { weight: 2, arbitrary: fc.record({ act: fc.constant('read' as const), who }) },
    { weight: 1, arbitrary: fc.record({ act: fc.constant('lateRequest' as const), which: fc.nat(5) }) },
  ),
  { maxLength: 30 },
) as fc.Arbitrary<Step[]>

const paired: Device[] = []
beforeAll(async () => {
  sql = await makeInstallation()
  paired.push(await pairAt(UNIT, clerk), await pairAt(UNIT, clerk))
  // Only now: the database engine would take a `window` for a browser.
  giveGlobals({
    localStorage: { getItem: () => null, setItem: () => undefined },
    window: Object.assign(globalThis, { name: '' }),
  })
})
afterAll(async () => {
  vi.unstubAllGlobals()
  await closeDatabase()
})

/** One device with a page that shows the report: what a person sees there decides what a change is made on. */
class Phone {
  readonly made = new Map<string, { content: CellContent; saw: CellContent }>()
  private readonly known = new Map<string, { content: CellContent; version: number }>()
  /** What the person saw below the changes that never left. */
  private readonly sawBelow = new Map<string, CellContent>()
  private readonly forget: () => void

  private constructor(
    readonly name: string,
    readonly store: WorkStore,
  ) {
    this.forget = onOutcome(place, ({ id, change }, outcome) => this.note(id, change as CellChange, outcome))
  }

  static async unlock(name: string): Promise<Phone> {
    return new Phone(name, new WorkStore(name, await newDataKey()))
  }

  private note(id: string, { cell, content }: CellChange, { outcome, version, theirs }: DeskOutcome): void {
    if (!this.made.has(id) || version === undefined) return
    const stands = outcome === 'conflict' ? theirs!.content : content
    // Sent twice, it may have been followed by another value: then the report is read again.
    if (outcome !== 'early' && isNewer({ version }, this.known.get(cell)))
      this.known.set(cell, { content: stands, version })
  }

  async write(cell: string, value: number): Promise<void> {
    const content: CellContent = { kind: 'value', value }
    const queue = (await this.store.unsettled(place)).filter(
      one => one.cell === cell && one.state === 'waiting',
    )
    const left = queue.findLast(one => one.left)?.change as CellChange | undefined
    const isReplaced = queue.some(one => !one.left)
    const saw = isReplaced
      ? this.sawBelow.get(cell)!
      : (left?.content ?? this.known.get(cell)?.content ?? BLANK)
    this.sawBelow.set(cell, saw)
    const id = await saveCellChange(
      this.store,
      { round: OCTOBER, unit: UNIT, cell },
      () => this.known.get(cell)?.version ?? 0,
      content,
    )
    this.made.set(id, { content, saw })
  }

  async read(): Promise<void> {
    for (const { cell, content, version } of (await reportFile(clerk, OCTOBER, UNIT)).cells)
      if (isNewer({ version }, this.known.get(cell))) this.known.set(cell, { content, version })
  }

  send = () =>
    sendWaiting(this.store, this.name, {
      at: 0,
      sent: 0,
      files: 0,
      refused: 0,
      received: 0,
      ended: 'done',
      acted: false,
    })

  waiting = async () => (await this.store.unsettled(place)).filter(({ state }) => state === 'waiting')

  async throwAway(): Promise<void> {
    this.forget()
    this.store.close()
    await eraseWork(this.name)
  }
}

let runs = 0

/** Plays a history; then the line is good until all is quiet. */
async function play(history: readonly Step[]) {
  const phones = [await Phone.unlock(`one-${++runs}`), await Phone.unlock(`other-${runs}`)]
  const left = new Set<string>()
  const late: { device: Device; changes: DeskChange[] }[] = []
  let line: Line = 'good'
  const apply = (device: Device, changes: readonly DeskChange[]) =>
    applySent(clerk, device, { clockOffset: 0, changes })
  vi.stubGlobal(
    'callApi',
    async (_: string, { body }: { body: { device: string; changes: DeskChange[] } }) => {
      const device = paired[phones.findIndex(({ name }) => name === body.device)]!
      body.changes.forEach(({ id }) => left.add(id))
      const lost = new ApiProblem(0, 'unreachable', '')
      if (line === 'lostThenLate') late.push({ device, changes: body.changes })
      if (line === 'lost' || line === 'lostThenLate') throw lost
      const outcomes = await apply(device, body.changes)
      if (line === 'answerLost') throw lost
      const last = line === 'twice' ? await apply(device, body.changes) : outcomes
      return { at: nowText(), outcomes: last, ...(await standing(sql)) }
    },
  )
  const send = (phone: Phone, how: Line) => {
    line = how
    return phone.send().catch((error: unknown) => {
      if (!(error instanceof ApiProblem)) throw error
    })
  }
  for (const step of history) {
    if (step.act === 'write') await phones[step.who]!.write(step.cell, step.value)
    if (step.act === 'send') await send(phones[step.who]!, step.line)
    if (step.act === 'read') await phones[step.who]!.read()
    if (step.act === 'lateRequest' && late.length) {
      const [{ device, changes }] = late.splice(step.which % late.length, 1) as [(typeof late)[number]]
      await apply(device, changes)
    }
  }
  for (const phone of phones) await send(phone, 'good')
  for (const { device, changes } of late) await apply(device, changes)
  return { phones, left }
}

async function whatTheDistrictHas() {
  const events = await sql.query<{
    id: string
    cell: string
    old: CellContent
    new: CellContent
  }>('SELECT id, cell, old, new FROM cell_event ORDER BY seq')
  const known = await sql.query<{ id: string; stands_for: string; outcome: string }>(
    'SELECT id, stands_for, outcome FROM known_change',
  )
  const conflicts = await sql.query<{ id: string; content: CellContent }>(
    'SELECT id, content FROM field_conflict',
  )
  const values = await sql.query<{ cell: string; version: number }>('SELECT cell, version FROM cell_value')
  return { events, known, conflicts, values }
}

async function clear(): Promise<void> {
  for (const table of [
    'field_conflict',
    'known_change',
    'received_change',
    'cell_event',
    'cell_value',
    'report_event',
    'report',
  ])
    await sql.query(`DELETE FROM ${table}`)
}

describe('random histories through the storage of two devices and the database', () => {
  it('lose nothing, count nothing twice, and never overwrite what was not seen', async () => {
    let inConflict = 0
    await fc.assert(
      fc.asyncProperty(steps, async history => {
        await clear()
        const { phones, left } = await play(history)
        const { events, known, conflicts, values } = await whatTheDistrictHas()
        const made = new Map(phones.flatMap(phone => [...phone.made]))
        inConflict += conflicts.length

        // Nothing waits any more, and what ever left is with the district.
        for (const phone of phones) expect(await phone.waiting()).toEqual([])
        const ids = new Set([...events.map(({ id }) => id), ...known.map(({ id }) => id)])
        expect(ids).toEqual(left)
        // Nothing twice: each change is one event, or one known change.
        expect(events.length + known.length).toBe(ids.size)
        // A device is never in conflict with itself, whatever the line does.
        if (phones.some(phone => phone.made.size === 0)) expect(conflicts).toEqual([])
        // What is in conflict is kept as it was typed; what was the same stands there as an event.
        expect(new Set(conflicts.map(({ id }) => id))).toEqual(
          new Set(known.filter(({ outcome }) => outcome === 'conflict').map(({ id }) => id)),
        )
        for (const { id, content } of conflicts) expect(content).toEqual(made.get(id)!.content)
        const byId = new Map(events.map(event => [event.id, event]))
        for (const { id, stands_for: other, outcome } of known)
          if (outcome === 'same') expect(byId.get(other)!.new).toEqual(made.get(id)!.content)
        // Nothing was overwritten unseen: each event replaced the content that its writer saw.
        for (const cell of CELLS) {
          const own = events.filter(event => event.cell === cell)
          own.forEach((event, at) => {
            const stood = own[at - 1]?.new ?? BLANK
            expect(event.old).toEqual(stood)
            expect(sameContent(made.get(event.id)!.saw, stood)).toBe(true)
            expect(event.new).toEqual(made.get(event.id)!.content)
          })
          expect(values.find(one => one.cell === cell)?.version ?? 0).toBe(own.length)
        }
        for (const phone of phones) await phone.throwAway()
      }),
      { numRuns: 200 },
    )
    // The histories are wild enough to have met conflicts.
    expect(inConflict).toBeGreaterThan(15)
  })
})
