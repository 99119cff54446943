import { database, closeDatabase } from '../../server/database'
import type { Access } from '../../server/access/access'
import { inTurns, measurement, report, type Measurement } from '../measure'
import { questions, type Question } from './questions'

/** How much longer than the plainest statement a question may take. */
const MOST = 3
const ROUNDS = 5

const sql = await database()
const people = await sql.query<Access>(
  'SELECT id, user_name AS "userName", display_name AS "displayName", role, branch, own_only AS "ownOnly" FROM person',
)
const byName = new Map(people.map(person => [person.userName, person]))
const asked = (plain: Question['plain']) => async () => {
  if (typeof plain === 'function') return plain()
  for (const [text, params] of plain) await sql.query(text, params)
}
const measurements: Measurement[] = []
for (const { name, ask, plain } of questions(userName => byName.get(userName)!)) {
  const { ours, other } = await inTurns({ ours: ask, other: asked(plain) }, ROUNDS)
  measurements.push(measurement(name, ours, other, 'plain SQL', 'ms', MOST))
}
report(`office-${sql.engine}`, measurements)
await closeDatabase()
