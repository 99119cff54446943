import start from './0001_start.sql'
import type { Migration } from '../migrate'

/** All migrations, in order. A migration is never edited after it landed: add the next number. */
export const MIGRATIONS: readonly Migration[] = [
  { number: 1, name: 'start', sql: start },
]
