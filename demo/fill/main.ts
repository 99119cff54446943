import { Hash } from '@adonisjs/hash'
import { Scrypt } from '@adonisjs/hash/drivers/scrypt'
import { closeDatabase, database } from '../../server/database'
import { DEMO_PASSWORD } from '../people'
import { fillDemo } from './fill'

/** Fills the empty database of LANTERN_DATA with the demo. The server knows nothing of it. */
const started = performance.now()
const sql = await database()
const [unit] = await sql.query('SELECT 1 FROM unit LIMIT 1')
if (unit) {
  console.error(`The database in ${process.env.LANTERN_DATA} is not empty: the demo was not filled in.`)
  process.exit(1)
}
// As the server hashes passwords: nuxt-auth-utils with its defaults.
await fillDemo(sql, await new Hash(new Scrypt({})).make(DEMO_PASSWORD))
// What was written and written over meanwhile would be read again by each question.
await sql.query('VACUUM (ANALYZE)')
await closeDatabase()
console.log(`The demo was generated in ${((performance.now() - started) / 1000).toFixed(1)} s.`)
