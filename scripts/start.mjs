/**
 * `npm start`: a real installation. LANTERN_DATA names its folder, or DATABASE_URL its PostgreSQL server; PORT
 * and HOST where it listens.
 */
import { resolve } from 'node:path'
import { ensureBuilt, ensureInstalled } from './setup.mjs'
import { followChild, serve } from './serve.mjs'

ensureInstalled()
ensureBuilt()

const { DATABASE_URL, LANTERN_DATA } = process.env
const data = DATABASE_URL || resolve(LANTERN_DATA ?? '.data/lantern')
const { child, address, ready } = serve({
  data,
  port: Number(process.env.PORT ?? 4310),
  host: process.env.HOST ?? '127.0.0.1',
})
followChild(child)
ready.then(
  () =>
    console.log(
      `Eastward Lantern is ready at ${address}, with its data ${DATABASE_URL ? 'on a PostgreSQL server' : `in ${data}`}`,
    ),
  error => console.error(error.message),
)
