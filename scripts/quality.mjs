/** `npm run quality`: measures how well duplicates are found, and writes docs/quality-of-checks.md. */
import { runBundled } from './run-bundled.mjs'

await runBundled('bench/quality/main.ts', 'bench-quality')
