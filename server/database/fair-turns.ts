type Work = () => Promise<void>
/** What one request has asked for and nobody has begun yet, in its order. */
interface Line {
  of: object
  works: Work[]
}

/**
 * Lets pieces of work on one connection follow one another, a piece of each request in turn: so nobody stands
 * behind everything that a page asks for at once. The pieces of one request keep their order. Work of no request
 * is in line as a request of its own.
 *
 * @param requestNow the request whose work it is
 * @returns does work when its turn comes
 * @example const inTurn = fairTurns(requestNow); const rows = await inTurn(() => engine.query('SELECT 1'))
 */
export function fairTurns(requestNow: () => object | undefined) {
  /** The lines in which somebody waits: the first is served next. */
  const lines = new Map<object, Line>()
  /** The one that is served now: it stands last again when that is done. */
  let served: Line | undefined

  async function serveAll(): Promise<void> {
    for (const [of, line] of lines) {
      lines.delete(of)
      served = line
      await line.works.shift()!()
      // A map goes through what is added meanwhile, too.
      if (line.works.length) lines.set(of, line)
    }
    served = undefined
  }

  return <T>(work: () => Promise<T>): Promise<T> =>
    new Promise((resolve, reject) => {
      const of = requestNow() ?? {}
      const own = served?.of === of ? served : (lines.get(of) ?? { of, works: [] })
      own.works.push(() => Promise.resolve().then(work).then(resolve, reject))
      if (own !== served) lines.set(of, own)
      if (!served) void serveAll()
    })
}
