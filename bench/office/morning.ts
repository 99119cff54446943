import { v7 as uuid } from 'uuid'
import { Client } from '../../tests/support/client'
import { TestDevice } from '../../tests/support/test-device'
import { allPeople } from '../all-people'
import { percentile } from '../measure'
import { NEWEST } from './questions'

/** Officers and clerks who work at once. */
const OFFICERS = 12
const CLERKS = 24
/** How long they are measured, after as much time again in which caches fill. */
const MEASURED_MS = 12_000

interface Person {
  client: Client
  /** What this person does, over and over. */
  steps: (() => Promise<{ status: number }>)[]
}

const pick = <T>(from: readonly T[], at: number): T => from[at % from.length]!

/** An officer looks at the day, the board, reports and doubts, searches, and writes a comment now and then. */
async function officer(address: string, userName: string): Promise<Person> {
  const client = await Client.signedIn(address, userName)
  const { body } = await client.get<{ lines: { id: string; unit: { code: string } }[] }>('/api/discrepancies')
  const lines = body.lines.length ? body.lines : null
  const { body: board } = await client.get<{ rows: { unit: { code: string }; state: string }[] }>(
    `/api/rounds/${NEWEST}/board`,
  )
  const begun = board.rows.filter(({ state }) => state !== 'awaited').map(({ unit }) => unit.code)
  let turn = 0
  return {
    client,
    steps: [
      () => client.get('/api/today'),
      () => client.get(`/api/rounds/${NEWEST}/board`),
      () => client.get(`/api/reports/${NEWEST}/${pick(begun, turn++)}`),
      () => client.get('/api/discrepancies'),
      () => client.get(lines ? `/api/discrepancies/${pick(lines, turn++).id}` : '/api/discrepancies'),
      () => client.get('/api/search?q=am'),
      () => client.get('/api/search?q=amb'),
      () => client.get('/api/cases'),
      () =>
        client.post(`/api/reports/${NEWEST}/${pick(begun, turn++)}/cells/days_open/comments`, {
          text: 'Asked by telephone.',
        }),
    ],
  }
}

/** A clerk's telephone fetches its work and what is new, and sends what was said at cells. */
async function clerk(address: string, unit: string): Promise<Person> {
  const device = await TestDevice.at(address, unit)
  const client = device.person
  const receive = () => client.get('/api/desk/receive')
  const send = async () => {
    for (let more = 0; more < 10; more++)
      device.add({
        kind: 'comment',
        id: uuid(),
        madeAt: '2026-11-09T10:00:00Z',
        round: NEWEST,
        unit,
        cell: 'days_open',
        text: 'Seen in the register.',
      })
    await device.sendOnce()
    return { status: 200 }
  }
  return {
    client,
    steps: [
      () => client.get('/api/desk/work'),
      receive,
      send,
      receive,
      () => client.get(`/api/reports/${NEWEST}/${unit}`),
    ],
  }
}

/**
 * 36 people in the mix of a morning, each with one request after the other, spread over the processes.
 * @returns milliseconds for each request of all together, and how long single ones took
 */
export async function morning(addresses: readonly string[]): Promise<{ each: number; slow: number }> {
  const admin = await Client.signedIn(addresses[0]!, 'admin')
  const everybody = await allPeople(admin)
  const officers = everybody.filter(({ role }) => role === 'officer')
  // Clerks of all districts, not of the first one only.
  const clerks = everybody.filter(({ role }) => role === 'clerk')
  const people: Person[] = []
  for (let at = 0; at < OFFICERS; at++)
    people.push(await officer(pick(addresses, at), pick(officers, at).userName))
  for (let at = 0; at < CLERKS; at++) {
    const { branch } = pick(clerks, at * Math.floor(clerks.length / CLERKS))
    people.push(await clerk(pick(addresses, at), branch!.code))
  }
  const begun = performance.now()
  const [from, until] = [begun + MEASURED_MS, begun + 2 * MEASURED_MS]
  const times: number[] = []
  await Promise.all(
    people.map(async ({ steps }, at) => {
      for (let step = at; performance.now() < until; step++) {
        const before = performance.now()
        const { status } = await pick(steps, step)()
        if (status !== 200) throw new Error(`A request of the morning was answered ${status}.`)
        if (before >= from) times.push(performance.now() - before)
      }
    }),
  )
  return { each: MEASURED_MS / times.length, slow: percentile(times, 0.95) }
}
