import type pg from 'pg'
import { requestNow } from '../give-way'

/** So many connections one request asks on. */
const MOST = 2

/** A connection on which a request asks, as long as one of its statements is not answered. */
interface Shared {
  client: Promise<pg.PoolClient>
  unanswered: number
}

/** The statement that was under way says so; without a listener the process would end. */
const saidElsewhere = () => undefined

async function take(pool: pg.Pool): Promise<pg.PoolClient> {
  const client = await pool.connect()
  client.on('error', saidElsewhere)
  return client
}

function giveBack({ client }: Shared): void {
  client.then(
    taken => {
      taken.off('error', saidElsewhere)
      // One that was lost is not used again: the pool sees it.
      taken.release()
    },
    // There was none to take, which each of its statements has said.
    saidElsewhere,
  )
}

/**
 * Statements of a request that are asked at the same time go out on two connections, one behind the other
 * (docs/decisions/0068). Those of other work take one each.
 *
 * @returns asks on a connection
 */
export function requestConnections(pool: pg.Pool) {
  const byRequest = new WeakMap<object, Shared[]>()
  return async <T>(ask: (connection: pg.Pool | pg.PoolClient) => Promise<T>): Promise<T> => {
    const request = requestNow()
    if (!request) return ask(pool)
    const taken = byRequest.get(request) ?? []
    byRequest.set(request, taken)
    if (taken.length < MOST) taken.push({ client: take(pool), unanswered: 0 })
    const one = taken.reduce((least, other) => (other.unanswered < least.unanswered ? other : least))
    one.unanswered++
    try {
      return await ask(await one.client)
    } finally {
      if (--one.unanswered === 0) {
        taken.splice(taken.indexOf(one), 1)
        giveBack(one)
      }
    }
  }
}
