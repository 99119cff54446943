import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  acknowledge,
  applyBatch,
  contentOn,
  emptyDevice,
  emptyDistrict,
  hear,
  nextBatch,
  since,
  write,
  type Answer,
  type MemoryDevice,
  type MemoryDistrict,
} from '../../tests/support/memory-sync'
import type { Change } from './change'
import { queuePlace, stateAfterOutcome } from './queue'

const same = (one: number, other: number) => one === other
const change = (id: string, content: number, more: Partial<Change<number>> = {}): Change<number> => ({
  id,
  field: 'x',
  base: 0,
  content,
  ...more,
})
const taken = (...batches: Change<number>[][]) =>
  batches.reduce<{ district: MemoryDistrict<number>; answers: Answer<number>[] }>(
    (at, batch) => applyBatch(at.district, batch, same),
    { district: emptyDistrict(), answers: [] },
  )
const outcomes = (answers: Answer<number>[]) => answers.map(({ outcome }) => outcome)

describe('a change that comes', () => {
  it('is applied when it was made on what stands there', () => {
    const { district, answers } = taken([change('a', 5)], [change('b', 7, { base: 1 })])
    expect(answers).toEqual([
      { id: 'b', field: 'x', outcome: 'received', here: { content: 7, version: 2, last: 'b' } },
    ])
    expect(district.events.map(({ seq, content }) => [seq, content])).toEqual([
      [1, 5],
      [2, 7],
    ])
  })

  it('twice, changes nothing more; also when somebody changed the field since', () => {
    const { district, answers } = taken([change('a', 5)], [change('b', 7, { base: 1 })], [change('a', 5)])
    expect(answers).toEqual([
      { id: 'a', field: 'x', outcome: 'alreadyHad', here: { content: 7, version: 2, last: 'b' } },
    ])
    expect(district.events).toHaveLength(2)
  })

  it('made on something that is gone is a conflict with both contents, and never wins by coming later', () => {
    const { district, answers } = taken([change('a', 5)], [change('b', 6)])
    expect(outcomes(answers)).toEqual(['conflict'])
    expect(district.fields.get('x')!.content).toBe(5)
    expect(district.conflicts).toMatchObject([{ id: 'b', field: 'x', content: 6 }])
  })

  it('on another field of the same report is merged', () => {
    expect(outcomes(taken([change('a', 5)], [change('b', 6, { field: 'y' })]).answers)).toEqual(['received'])
  })

  it('that says what stands there is no conflict, and what was made on it goes on', () => {
    const { district, answers } = taken([change('a', 5)], [change('b', 5)], [change('c', 8, { after: 'b' })])
    expect(outcomes(answers)).toEqual(['received'])
    expect(district.fields.get('x')).toEqual({ content: 8, version: 2, last: 'c' })
  })

  it('before the one that it was made on is early, and stays with the device', () => {
    const early = taken([change('c', 8, { after: 'b' })])
    expect(outcomes(early.answers)).toEqual(['early'])
    expect(
      outcomes(applyBatch(early.district, [change('b', 5), change('c', 8, { after: 'b' })], same).answers),
    ).toEqual(['received', 'received'])
  })

  it('made on a change in conflict is in conflict too, though its number would fit', () => {
    const { district, answers } = taken(
      [change('a', 5)],
      [change('b', 6), change('c', 7, { base: 1, after: 'b' })],
    )
    expect(outcomes(answers)).toEqual(['conflict', 'conflict'])
    expect(district.conflicts.map(({ id }) => id)).toEqual(['b', 'c'])
  })

  it('twice stays a conflict when it was one', () => {
    expect(outcomes(taken([change('a', 5)], [change('b', 6)], [change('b', 6)]).answers)).toEqual([
      'conflict',
    ])
  })
})

describe('the queue of a device', () => {
  it('gives a new change what the replaced one decided, and what it was made on', () => {
    const queue = [
      { id: 'a', base: 3, left: true },
      { id: 'b', base: 3, after: 'a', settles: ['z'] },
    ]
    expect(queuePlace(queue, 9, ['y'])).toEqual({ base: 3, after: 'a', settles: ['y', 'z'], replaces: ['b'] })
    expect(queuePlace([], 9)).toEqual({ base: 9, settles: [], replaces: [] })
    // Somebody wrote version 9 since, and this person has not seen it: it may not be overwritten.
    expect(queuePlace([{ id: 'b', base: 3 }], 9)).toMatchObject({ base: 3, replaces: ['b'] })
    expect(queuePlace([{ id: 'b', base: 3, after: 'a' }], 9, ['y'])).toEqual({
      base: 9,
      settles: ['y'],
      replaces: ['b'],
    })
  })

  it('keeps a change that came early, and shows a person what was refused or is in conflict', () => {
    expect(
      (['early', 'received', 'alreadyHad', 'conflict', 'refused'] as const).map(stateAfterOutcome),
    ).toEqual(['waiting', 'confirmed', 'confirmed', 'needsYou', 'needsYou'])
  })
})

describe('a device', () => {
  it('replaces what has not left, and follows what has', () => {
    let device = write(write(emptyDevice<number>(), 'a', 'x', 1), 'b', 'x', 2)
    expect(device.waiting.map(({ id }) => id)).toEqual(['b'])
    device = write(nextBatch(device, 10).device, 'c', 'x', 3)
    expect(device.waiting.map(({ id, after }) => [id, after])).toEqual([
      ['b', undefined],
      ['c', 'b'],
    ])
    expect(contentOn(device, 'x')).toBe(3)
  })

  it('drops nothing but what the district has, and is not led astray by an old answer', () => {
    const sent = nextBatch(write(emptyDevice<number>(), 'a', 'x', 1), 10).device
    expect(acknowledge(sent, []).waiting).toHaveLength(1)
    expect(acknowledge(sent, [{ id: 'a', field: 'x', outcome: 'early' }]).waiting).toHaveLength(1)
    const heard = hear(
      acknowledge(sent, [
        { id: 'a', field: 'x', outcome: 'received', here: { content: 1, version: 1, last: 'a' } },
      ]),
      [
        { seq: 1, field: 'x', content: 1, version: 1, last: 'a' },
        { seq: 2, field: 'x', content: 9, version: 2, last: 'z' },
      ],
    )
    expect(
      contentOn(
        acknowledge(heard, [
          { id: 'a', field: 'x', outcome: 'received', here: { content: 1, version: 1, last: 'a' } },
        ]),
        'x',
      ),
    ).toBe(9)
  })

  it('that misses an event does not pass over it', () => {
    const event = (seq: number) => ({ seq, field: 'x', content: seq, version: seq, last: String(seq) })
    const device = hear(emptyDevice<number>(), [event(2), event(1), event(3)])
    expect([device.seen, contentOn(device, 'x')]).toEqual([1, 1])
    expect(hear(device, [event(1), event(2), event(3)]).seen).toBe(3)
  })
})

/** One step of a random history. */
type Step =
  | { act: 'write'; device: number; field: string; content: number }
  | { act: 'send'; device: number; most: number; shuffled: boolean }
  /** A request on the line arrives, or is lost; it may arrive again. */
  | { act: 'arrive'; which: number; again: boolean; lost: boolean }
  /** An answer on the line arrives, or is lost. */
  | { act: 'answer'; which: number; again: boolean; lost: boolean }
  | { act: 'hear'; device: number; skip: number }

const who = fc.nat(1)
const steps = fc.array(
  fc.oneof(
    {
      weight: 4,
      arbitrary: fc.record({
        act: fc.constant('write' as const),
        device: who,
        field: fc.constantFrom('x', 'y'),
        content: fc.nat(3),
      }),
    },
    {
      weight: 3,
      arbitrary: fc.record({
        act: fc.constant('send' as const),
        device: who,
        most: fc.integer({ min: 1, max: 4 }),
        shuffled: fc.boolean(),
      }),
    },
    {
      weight: 3,
      arbitrary: fc.record({
        act: fc.constant('arrive' as const),
        which: fc.nat(9),
        again: fc.boolean(),
        lost: fc.boolean(),
      }),
    },
    {
      weight: 3,
      arbitrary: fc.record({
        act: fc.constant('answer' as const),
        which: fc.nat(9),
        again: fc.boolean(),
        lost: fc.boolean(),
      }),
    },
    { weight: 2, arbitrary: fc.record({ act: fc.constant('hear' as const), device: who, skip: fc.nat(2) }) },
  ),
  { maxLength: 40 },
) as fc.Arbitrary<Step[]>

/** Plays a history on two devices, a district and a bad line; then the line is good until all is quiet. */
function play(history: readonly Step[]) {
  let district = emptyDistrict<number>()
  const devices: MemoryDevice<number>[] = [emptyDevice(), emptyDevice()]
  const requests: { from: number; batch: Change<number>[] }[] = []
  const replies: { to: number; answers: Answer<number>[] }[] = []
  const made = new Map<string, { change: Change<number>; by: number; sawLast: string | undefined }>()
  const left = new Set<string>()
  const confirmed = new Set<string>()

  const arrive = ({ from, batch }: (typeof requests)[number]) => {
    const result = applyBatch(district, batch, same)
    district = result.district
    replies.push({ to: from, answers: result.answers })
  }
  const answer = ({ to, answers }: (typeof replies)[number]) => {
    devices[to] = acknowledge(devices[to]!, answers)
    for (const { id, outcome } of answers) if (outcome !== 'early') confirmed.add(id)
  }
  const send = (from: number, most: number, shuffled: boolean) => {
    const { device, batch } = nextBatch(devices[from]!, most)
    devices[from] = device
    batch.forEach(({ id }) => left.add(id))
    if (batch.length) requests.push({ from, batch: shuffled ? [...batch].reverse() : batch })
  }
  for (const step of history) {
    if (step.act === 'write') {
      const id = `${step.device}-${made.size}`
      const before = devices[step.device]!
      const queue = before.waiting.filter(({ field }) => field === step.field)
      const replaced = queue.find(({ left: gone }) => !gone)
      // Typing over what has not left yet shows nothing new of the field.
      const last = replaced
        ? made.get(replaced.id)!.sawLast
        : (queue.at(-1)?.id ?? before.known.get(step.field)?.last)
      devices[step.device] = write(before, id, step.field, step.content)
      made.set(id, { change: devices[step.device]!.waiting.at(-1)!, by: step.device, sawLast: last })
    }
    if (step.act === 'send') send(step.device, step.most, step.shuffled)
    if (step.act === 'arrive' && requests.length) {
      const at = step.which % requests.length
      if (!step.lost) arrive(requests[at]!)
      if (!step.again) requests.splice(at, 1)
    }
    if (step.act === 'answer' && replies.length) {
      const at = step.which % replies.length
      if (!step.lost) answer(replies[at]!)
      if (!step.again) replies.splice(at, 1)
    }
    if (step.act === 'hear')
      devices[step.device] = hear(
        devices[step.device]!,
        since(district, Math.max(0, devices[step.device]!.seen - step.skip)),
      )
  }
  for (let round = 0; devices.some(({ waiting }) => waiting.length) && round < 50; round++) {
    for (const at of [0, 1]) {
      send(at, 100, false)
      requests.splice(0).forEach(arrive)
      replies.splice(0).forEach(answer)
    }
  }
  for (const at of [0, 1]) devices[at] = hear(devices[at]!, since(district, devices[at]!.seen))
  return { district, devices, made, left, confirmed }
}

describe('random histories of two devices with loss, repeats and reordering', () => {
  it('lose nothing that was confirmed, count nothing twice, and never overwrite what was not seen', () => {
    let conflicts = 0
    fc.assert(
      fc.property(steps, history => {
        const { district, devices, made, left, confirmed } = play(history)
        const applied = district.events.map(({ last }) => last)
        const inConflict = district.conflicts.map(({ id }) => id)
        conflicts += inConflict.length

        // Nothing twice: each change is in the history at most once, or in one conflict.
        expect(new Set([...applied, ...inConflict]).size).toBe(applied.length + inConflict.length)
        // Nothing lost: all that ever left is with the district; each stands there, in a conflict, or said
        // what stood there.
        for (const id of left) expect(district.known.has(id)).toBe(true)
        for (const id of confirmed) {
          const { standsFor } = district.known.get(id)!
          expect(applied.includes(standsFor) || inConflict.includes(standsFor)).toBe(true)
          const said = [
            ...district.events.filter(({ last }) => last === standsFor).map(({ content }) => content),
            ...(inConflict.includes(id) ? [made.get(id)!.change.content] : []),
          ]
          expect(said).toContain(made.get(id)!.change.content)
        }
        // Everything arrives in the end, and all see the same.
        for (const device of devices) {
          expect(device.waiting).toEqual([])
          expect([...device.known].sort()).toEqual([...district.fields].sort())
        }
        // Nothing was overwritten that its writer had not seen: each applied change follows the one that it
        // was made on.
        for (const field of ['x', 'y']) {
          const own = district.events.filter(event => event.field === field)
          own.forEach((event, at) => {
            expect(event.version).toBe(at + 1)
            const saw = made.get(event.last)!.sawLast
            expect(saw === undefined ? undefined : (district.known.get(saw)?.standsFor ?? saw)).toBe(
              own[at - 1]?.last,
            )
          })
        }
      }),
      { numRuns: 5_000 },
    )
    // The histories are wild enough to have met conflicts.
    expect(conflicts).toBeGreaterThan(500)
  })
})
