import { measurement, report, type Measurement } from '../measure'
import { memoryOf } from '../process-memory'
import { slowProcesses } from '../slow-process'
import { morning } from './morning'
import { questions } from './questions'
import { start, stop, type Server } from './start'
import { waitsBehind } from './waits'

/**
 * What is measured of running servers: waits of others behind each question, how many requests 36 people get
 * answered, memory. One process on a folder; one and two on a PostgreSQL server.
 *
 * How many more requests two processes answer is measured with a part of a processor for each of them, so that
 * the others have room on this machine: the database and the 36 people. At full speed it is only said, because
 * one process, the database and the people fill two processors by themselves.
 */
const data = process.env.DATABASE_URL || process.env.LANTERN_DATA!
const engine = process.env.DATABASE_URL ? 'server' : 'embedded'
/** Two processes answer at least this many times as many requests as one. */
const TWICE = 1.6
/** What each process has of a processor when one and two of them are compared. */
const SHARE = 0.25
/** What one process may hold at a hundred facilities, in megabytes. */
const MEGABYTES = 500

const found: Measurement[] = []
const servers: Server[] = []
async function morningOf(said: string, at: readonly Server[]) {
  const measured = await morning(at.map(({ address }) => address))
  console.log(
    `36 people, ${said}: ${(1000 / measured.each).toFixed(0)} requests a second, 95 % within ${measured.slow.toFixed(0)} ms`,
  )
  return measured
}
const begin = async () => {
  const server = await start(data)
  servers.push(server)
  return server
}
try {
  const first = await begin()
  found.push(
    ...(await waitsBehind(
      first.address,
      engine,
      questions(userName => ({ userName }) as never),
    )),
  )
  const alone = await morningOf('one process', [first])
  found.push(
    measurement(
      `${engine}: memory at the most`,
      memoryOf(first.child.pid, 'VmHWM'),
      MEGABYTES,
      'the most at 100 facilities',
      'MB',
      1,
    ),
  )
  if (engine === 'server') {
    const second = await begin()
    const both = await morningOf('two processes', [first, second])
    console.log(`two processes answer ${(alone.each / both.each).toFixed(2)} times as many`)
    const speedUp = slowProcesses(
      [first, second].map(({ child }) => child.pid),
      SHARE,
    )
    try {
      const one = await morningOf('one slow process', [first])
      const two = await morningOf('two slow processes', [first, second])
      found.push(
        measurement(
          `a request of 36 people, two processes on ${SHARE} of a processor each`,
          two.each,
          one.each,
          'one process',
          'ms',
          1 / TWICE,
        ),
      )
    } finally {
      speedUp()
    }
  }
} finally {
  await Promise.all(servers.map(stop))
}
report(`office-load-${engine}`, found)
