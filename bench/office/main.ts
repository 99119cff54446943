import { database, closeDatabase } from '../../server/database'
import { accessById } from '../../server/access/access'
import { asRequest } from '../../server/give-way'
import { inTurns, measurement, report, type Measurement } from '../measure'
import { questions, type Question } from './questions'

/** How much longer than the plainest statement a question may take. */
const MOST = 3

const sql = await database()
const ids = await sql.query<{ id: string }>('SELECT id FROM person')
const people = await Promise.all(ids.map(({ id }) => accessById(id, sql)))
const byName = new Map(people.map(person => [person.userName, person]))
const valueOf = (name: string) =>
  process.argv.includes(name) ? process.argv[process.argv.indexOf(name) + 1] : undefined
/** `--only cases` asks only the questions with that in their names, `--rounds 1` each only once. */
const only = valueOf('--only') ?? ''
const rounds = Number(valueOf('--rounds') ?? 5)
const asked = (plain: Question['plain']) => async () => {
  if (typeof plain === 'function') return plain()
  for (const [text, params] of plain) await sql.query(text, params)
}
const measurements: Measurement[] = []
for (const { name, ask, plain, allowed } of questions(userName => byName.get(userName)!)) {
  if (!name.includes(only)) continue
  const { ours, other } = await inTurns(
    { ours: () => asRequest(async () => void (await ask())), other: asked(plain) },
    rounds,
  )
  const most = allowed?.(other)
  measurements.push(
    most
      ? measurement(name, ours, most.ms, most.said, 'ms', 1)
      : measurement(name, ours, other, 'plain SQL', 'ms', MOST),
  )
}
report(`office-${sql.engine}`, measurements)
await closeDatabase()
