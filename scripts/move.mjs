/**
 * `npm run move -- <from> <to>`: brings an installation from the embedded engine to a PostgreSQL server, or back.
 * `npm run export -- <from> <folder>` writes everything as JSON lines; `npm run import -- <folder> <to>` fills an
 * empty installation with it. Each checks that everything is the same. Stop the servers first; an export from a
 * PostgreSQL server may go on beside them.
 */
import { runBundled } from './run-bundled.mjs'

await runBundled('server/moving/main.ts', 'move')
