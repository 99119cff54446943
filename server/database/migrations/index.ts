import start from './0001_start.sql'
import unitChanges from './0002_unit_changes.sql'
import datasetDrafts from './0003_dataset_drafts.sql'
import type { Migration } from '../migrate'

/** All migrations, in order. A migration is never edited after it landed: add the next number. */
export const MIGRATIONS: readonly Migration[] = [
  { number: 1, name: 'start', sql: start },
  { number: 2, name: 'unit_changes', sql: unitChanges },
  { number: 3, name: 'dataset_drafts', sql: datasetDrafts },
]
