import { closeDatabase } from '../database'
import { verify } from './verify'

/** `npm run verify`: says what is kept and is not what it is computed from. Ends with 1 when there is something. */
const differences = await verify(what => process.stdout.write(`${what}\n`))
for (const { what, id, kept, computed } of differences)
  process.stderr.write(
    `${what} of ${id}: ${JSON.stringify(kept)} is kept, ${JSON.stringify(computed)} is computed\n`,
  )
process.stdout.write(
  differences.length
    ? `${differences.length} differences.\n`
    : 'Everything that is kept is what it is computed from.\n',
)
await closeDatabase()
process.exitCode = differences.length ? 1 : 0
