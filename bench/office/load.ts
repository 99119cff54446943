import { measurement, report, type Measurement } from '../measure'
import { memoryOf } from '../process-memory'
import { morning } from './morning'
import { questions } from './questions'
import { start, stop, type Server } from './start'
import { waitsBehind } from './waits'

/**
 * What is measured of running servers: waits of others behind each question, how many requests 36 people get
 * answered, memory. One process on a folder; one and two on a PostgreSQL server.
 */
const data = process.env.DATABASE_URL || process.env.LANTERN_DATA!
const engine = process.env.DATABASE_URL ? 'server' : 'embedded'
/** Two processes answer at least this many times as many requests as one. */
const TWICE = 1.6
/** What one process may hold at a hundred facilities, in megabytes. */
const MEGABYTES = 500

const found: Measurement[] = []
const servers: Server[] = []
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
  const alone = await morning([first.address])
  console.log(
    `36 people, one process: ${(1000 / alone.each).toFixed(0)} requests a second, 95 % within ${alone.slow.toFixed(0)} ms`,
  )
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
    const both = await morning([first.address, second.address])
    console.log(
      `36 people, two processes: ${(1000 / both.each).toFixed(0)} requests a second, 95 % within ${both.slow.toFixed(0)} ms`,
    )
    found.push(
      measurement(
        'a request of 36 people, two processes',
        both.each,
        alone.each,
        'one process',
        'ms',
        1 / TWICE,
      ),
    )
  }
} finally {
  await Promise.all(servers.map(stop))
}
report(`office-load-${engine}`, found)
