import { closeDatabase } from '../database'
import { UNWATCHED } from '../queue/turn'
import { differenceText, verify } from './verify'

/** `npm run verify`: says what is kept and is not what it is computed from. Ends with 1 when there is something. */
const differences = await verify({
  ...UNWATCHED,
  progress: (done, total) => process.stdout.write(`${done}${total === undefined ? '' : ` of ${total}`}\n`),
})
for (const difference of differences) process.stderr.write(`${differenceText(difference)}\n`)
process.stdout.write(
  differences.length
    ? `${differences.length} differences.\n`
    : 'Everything that is kept is what it is computed from.\n',
)
await closeDatabase()
process.exitCode = differences.length ? 1 : 0
