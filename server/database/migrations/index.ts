import start from './0001_start.sql'
import unitChanges from './0002_unit_changes.sql'
import datasetDrafts from './0003_dataset_drafts.sql'
import define from './0004_define.sql'
import desk from './0005_desk.sql'
import deskSessions from './0006_desk_sessions.sql'
import nothingLost from './0007_nothing_lost.sql'
import usersMet from './0008_users_met.sql'
import unitCodes from './0009_unit_codes.sql'
import plainNames from './0010_plain_names.sql'
import keptFigures from './0011_kept_figures.sql'
import jobs from './0012_jobs.sql'
import lookedUp from './0013_looked_up.sql'
import kindsOfItems from './0014_kinds_of_items.sql'
import knownOfCases from './0015_known_of_cases.sql'
import casePairs from './0016_case_pairs.sql'
import doubtsAboutCases from './0017_doubts_about_cases.sql'
import rulesThatCountCases from './0018_rules_that_count_cases.sql'
import caseOpenings from './0019_case_openings.sql'
import paperEntries from './0020_paper_entries.sql'
import unitsOfPairs from './0021_units_of_pairs.sql'
import caseLife from './0022_case_life.sql'
import paperReports from './0023_paper_reports.sql'
import countsOfCases from './0024_counts_of_cases.sql'
import deviceContacts from './0025_device_contacts.sql'
import nudges from './0026_nudges.sql'
import reportFiles from './0027_report_files.sql'
import unitOutlines from './0028_unit_outlines.sql'
import visits from './0029_visits.sql'
import sharingAndDevices from './0030_sharing_and_devices.sql'
import extracts from './0031_extracts.sql'
import tokensAndChanges from './0032_tokens_and_changes.sql'
import sendingOn from './0033_sending_on.sql'
import packedParts from './0034_packed_parts.sql'
import extractsSent from './0035_extracts_sent.sql'
import cellsByOneWriter from './0036_cells_by_one_writer.sql'
import casesOfUnitsCounted from './0037_cases_of_units_counted.sql'
import rowsOfDevices from './0038_rows_of_devices.sql'
import clerksOfAWard from './0039_clerks_of_a_ward.sql'
import type { Migration } from '../migrate'

/** All migrations, in order. A migration is never edited after it landed: add the next number. */
export const MIGRATIONS: readonly Migration[] = [
  { number: 1, name: 'start', sql: start },
  { number: 2, name: 'unit_changes', sql: unitChanges },
  { number: 3, name: 'dataset_drafts', sql: datasetDrafts },
  { number: 4, name: 'define', sql: define },
  { number: 5, name: 'desk', sql: desk },
  { number: 6, name: 'desk_sessions', sql: deskSessions },
  { number: 7, name: 'nothing_lost', sql: nothingLost },
  { number: 8, name: 'users_met', sql: usersMet },
  { number: 9, name: 'unit_codes', sql: unitCodes },
  { number: 10, name: 'plain_names', sql: plainNames },
  { number: 11, name: 'kept_figures', sql: keptFigures },
  { number: 12, name: 'jobs', sql: jobs },
  { number: 13, name: 'looked_up', sql: lookedUp },
  { number: 14, name: 'kinds_of_items', sql: kindsOfItems },
  { number: 15, name: 'known_of_cases', sql: knownOfCases },
  { number: 16, name: 'case_pairs', sql: casePairs },
  { number: 17, name: 'doubts_about_cases', sql: doubtsAboutCases },
  { number: 18, name: 'rules_that_count_cases', sql: rulesThatCountCases },
  { number: 19, name: 'case_openings', sql: caseOpenings },
  { number: 20, name: 'paper_entries', sql: paperEntries },
  { number: 21, name: 'units_of_pairs', sql: unitsOfPairs },
  { number: 22, name: 'case_life', sql: caseLife },
  { number: 23, name: 'paper_reports', sql: paperReports },
  { number: 24, name: 'counts_of_cases', sql: countsOfCases },
  { number: 25, name: 'device_contacts', sql: deviceContacts },
  { number: 26, name: 'nudges', sql: nudges },
  { number: 27, name: 'report_files', sql: reportFiles },
  { number: 28, name: 'unit_outlines', sql: unitOutlines },
  { number: 29, name: 'visits', sql: visits },
  { number: 30, name: 'sharing_and_devices', sql: sharingAndDevices },
  { number: 31, name: 'extracts', sql: extracts },
  { number: 32, name: 'tokens_and_changes', sql: tokensAndChanges },
  { number: 33, name: 'sending_on', sql: sendingOn },
  { number: 34, name: 'packed_parts', sql: packedParts },
  { number: 35, name: 'extracts_sent', sql: extractsSent },
  { number: 36, name: 'cells_by_one_writer', sql: cellsByOneWriter },
  { number: 37, name: 'cases_of_units_counted', sql: casesOfUnitsCounted },
  { number: 38, name: 'rows_of_devices', sql: rowsOfDevices },
  { number: 39, name: 'clerks_of_a_ward', sql: clerksOfAWard },
]
