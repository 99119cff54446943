import { setTimeout } from 'node:timers/promises'
import { Client } from '../../tests/support/client'
import { measurement, type Measurement } from '../measure'
import type { Question } from './questions'

/** How long anybody may wait behind a request of somebody else, in milliseconds. */
const LONGEST = 200
const ROUNDS = 3

/** Asks for the server's health again and again. @returns the longest wait while the work went on. */
async function longestWait(address: string, work: () => Promise<unknown>): Promise<number> {
  let isOver = false
  let longest = 0
  const asking = (async () => {
    while (!isOver) {
      const before = performance.now()
      await fetch(`${address}/api/health`)
      longest = Math.max(longest, performance.now() - before)
      await setTimeout(2)
    }
  })()
  await work()
  isOver = true
  await asking
  return longest
}

/** How long a health check waits while each question is asked of a server, once after the other. */
export async function waitsBehind(
  address: string,
  engine: string,
  questions: readonly Question[],
): Promise<Measurement[]> {
  const clients = new Map<string, Client>()
  const found: Measurement[] = []
  for (const { name, http } of questions) {
    if (!http) continue
    const client = clients.get(http.userName) ?? (await Client.signedIn(address, http.userName))
    clients.set(http.userName, client)
    let longest = 0
    for (let round = 0; round < ROUNDS; round++)
      longest = Math.max(
        longest,
        await longestWait(address, async () => {
          const { status, text } = await (http.body
            ? client.post(http.path, http.body)
            : client.get(http.path))
          if (status !== 200) throw new Error(`${http.path}: ${status} ${text.slice(0, 200)}`)
        }),
      )
    found.push(measurement(`${engine}: health behind ${name}`, longest, LONGEST, 'the most', 'ms', 1))
  }
  return found
}
