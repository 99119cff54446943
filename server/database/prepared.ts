import { protocol, type PGlite } from '@electric-sql/pglite'
import type {
  BackendMessage,
  DatabaseError,
  DataRowMessage,
  ParameterDescriptionMessage,
  RowDescriptionMessage,
} from 'pg-protocol/dist/messages'
import { Parser } from 'pg-protocol/dist/parser'

/** A statement that the engine has read before, and what it said of it. */
interface Prepared {
  name: string
  /** The types of its parameters, by their numbers in PostgreSQL's catalog. */
  types: number[]
  /** The names and types of its columns; none where it answers no rows. */
  columns: readonly { name: string; dataTypeID: number }[]
  /** How often it was answered since it was read last. */
  answered: number
}

/** So many statements are kept; the one that was asked longest ago makes room. */
const MOST_KEPT = 400
/** So many are known to have come once. */
const MOST_SEEN = 4_000
/**
 * So often PostgreSQL plans a statement for the values that are asked about; from then on it may keep one plan for
 * all values (its manual, PREPARE, notes).
 */
const PLANNED_ANEW = 5
/** A statement that changes tables: what others answer may have other columns afterwards. */
const CHANGES_TABLES = /^\s*(alter|create|drop)\b/i
const { serialize } = protocol

const messageOf = <M extends BackendMessage>(name: M['name'], messages: readonly BackendMessage[]) =>
  messages.find(message => message.name === name) as M | undefined

/**
 * Asks statements of the engine in one exchange each, where `PGlite.query` needs six, and lets it read a
 * statement that comes again only every fifth time: reading a statement often takes longer than answering it. A plan
 * is still made each time, for the values that are asked about. (`force_custom_plan` would have the lookup of each
 * foreign key planned anew as well, for each row: ten times what the lookup takes.)
 *
 * A statement that comes for the first time goes the usual way: many never come again.
 *
 * What the engine says is read by the parser of `pg`: a thousand rows take half the time of PGlite's own,
 * which copies the bytes of each value.
 */
export function preparedStatements(pg: PGlite) {
  const seen = new Set<string>()
  const kept = new Map<string, Prepared>()
  let last = 0

  /** @throws DatabaseError */
  async function send(...messages: Uint8Array[]): Promise<BackendMessage[]> {
    const said: BackendMessage[] = []
    const parser = new Parser()
    await pg.execProtocolRawStream(Buffer.concat([...messages, serialize.sync()]), {
      syncToFs: false,
      // A copy: the parser keeps the beginning of a message until its end comes, and this memory is the engine's.
      onRawData: bytes => parser.parse(Buffer.from(bytes), message => said.push(message)),
    })
    const error = messageOf<DatabaseError>('error', said)
    if (error) throw error
    return said
  }

  function rowsOf(columns: Prepared['columns'], said: readonly BackendMessage[]): object[] {
    const readers = columns.map(({ name, dataTypeID }) => ({
      name,
      read: pg.parsers[dataTypeID],
      dataTypeID,
    }))
    return said.flatMap(message => {
      if (message.name !== 'dataRow') return []
      const { fields } = message as DataRowMessage
      const row: Record<string, unknown> = {}
      readers.forEach(({ name, read, dataTypeID }, at) => {
        const text = fields[at] as string | null
        row[name] = text === null || !read ? text : read(text, dataTypeID)
      })
      return [row]
    })
  }

  async function prepare(text: string): Promise<Prepared> {
    const name = `s${++last}`
    const said = await send(serialize.parse({ name, text }), serialize.describe({ type: 'S', name }))
    const described = {
      name,
      types: messageOf<ParameterDescriptionMessage>('parameterDescription', said)!.dataTypeIDs,
      columns: messageOf<RowDescriptionMessage>('rowDescription', said)?.fields ?? [],
      answered: 0,
    }
    kept.set(text, described)
    const [oldest] = kept.size > MOST_KEPT ? kept.entries() : []
    if (oldest) {
      kept.delete(oldest[0])
      await send(serialize.close({ type: 'S', name: oldest[1].name }))
    }
    return described
  }

  async function ask(text: string, params: readonly unknown[]): Promise<object[]> {
    const known = kept.get(text)
    if (known) {
      // The order of the map is that of the last use.
      kept.delete(text)
      kept.set(text, known)
    }
    const statement = known ?? (await prepare(text))
    const { name, types, columns } = statement
    const values = params.map((value, at) => {
      if (value === null || value === undefined) return null
      const serializer = pg.serializers[types[at]!]
      return serializer ? (serializer(value) as string) : String(value)
    })
    const isReadAgain = statement.answered === PLANNED_ANEW
    if (!isReadAgain) statement.answered++
    const said = await send(
      ...(isReadAgain ? [serialize.close({ type: 'S', name }), serialize.parse({ name, text })] : []),
      serialize.bind({ statement: name, values }),
      serialize.execute({}),
    )
    // Not where it failed: a transaction that has failed reads nothing, and the next time it is to be read all the same.
    if (isReadAgain) statement.answered = 1
    return rowsOf(columns, said)
  }

  /** To be called when tables may have changed. */
  async function forget(): Promise<void> {
    seen.clear()
    kept.clear()
    await pg.exec('DEALLOCATE ALL')
  }
  return {
    forget,
    async query(text: string, params: readonly unknown[]): Promise<object[]> {
      if (seen.has(text)) return pg.runExclusive(() => ask(text, params))
      if (seen.size >= MOST_SEEN) seen.clear()
      const { rows } = await pg.query<object>(text, params as unknown[])
      if (CHANGES_TABLES.test(text)) await forget()
      else seen.add(text)
      return rows
    },
  }
}
