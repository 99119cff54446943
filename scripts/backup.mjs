/**
 * `npm run backup`: makes a backup of the installation of LANTERN_DATA or DATABASE_URL, also while its server runs.
 * `npm run restore -- <file>`: puts one in the place of the database. The database that was there is kept beside it;
 * the server must be stopped.
 */
import { runBundled } from './run-bundled.mjs'

await runBundled('server/backups/main.ts', 'backups')
