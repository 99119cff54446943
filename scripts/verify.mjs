/**
 * `npm run verify -- <backup>`: restores a backup elsewhere, beside nothing that is used, and says whether it is whole.
 * `npm run verify`: computes anew what the database of LANTERN_DATA or DATABASE_URL keeps because it is asked
 * for often, and compares. The server of a folder must be stopped; one on PostgreSQL may go on.
 */
import { runBundled } from './run-bundled.mjs'

await runBundled('server/proof/main.ts', 'verify')
