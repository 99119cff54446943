import { USUAL_CALENDAR } from '#core/calendar/period'
import '../support/use-memory'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import { JOB_KINDS } from '#core/contract/jobs'
import { ROUTES, type RouteName } from '#core/contract/routes'
import { MEASLES_CASES } from '../../demo/registers/measles'
import { exportBundle } from '../../server/bundles/bundle'
import { caseCountFile, caseCounts } from '../../server/case-counts/compare'
import { caseFile } from '../../server/cases/file'
import { listCases } from '../../server/cases/list'
import { listPairs, pairFile } from '../../server/cases/pair-list'
import { deskRegisters } from '../../server/cases/registers'
import { caseOpenings } from '../../server/cases/openings'
import { closeDatabase, type Database } from '../../server/database'
import { openEngine } from '../../server/database/engine-client'
import { listEditions } from '../../server/datasets/history'
import { listPapers, savePaper } from '../../server/definitions/papers'
import { listCards } from '../../server/desk/cards'
import { contactsOf } from '../../server/desk/contacts'
import { listDevices } from '../../server/desk/device-list'
import { receiveSince } from '../../server/desk/receive'
import { deskDefinitions, deskWork } from '../../server/desk/work'
import { caseDoubtFile, listCaseDoubts } from '../../server/discrepancies/about-cases'
import { ask } from '../../server/discrepancies/act'
import { countedCases } from '../../server/discrepancies/counted-cases'
import { listDiscrepancies } from '../../server/discrepancies/list'
import { discrepancyFile } from '../../server/discrepancies/read'
import { districtReport } from '../../server/district-reports/district-report'
import { longerReport } from '../../server/district-reports/longer'
import { jobPlan, listJobs } from '../../server/jobs/list'
import { askForJob } from '../../server/queue/job-table'
import { dataDictionary } from '../../server/extracts/dictionary'
import { askForFile, listExtractFiles } from '../../server/extracts/files'
import { listExtracts, saveExtract } from '../../server/extracts/saved'
import { listMakers } from '../../server/extracts/makers'
import { fieldList, listSources } from '../../server/extracts/sources'
import { listReportFiles, reportFileView } from '../../server/files/list'
import { previewReportFile } from '../../server/files/plan'
import { reportTemplate } from '../../server/files/template'
import { listNudges } from '../../server/nudges/list'
import { nudgeRules } from '../../server/nudges/rules'
import { board } from '../../server/overview/board'
import { dueList } from '../../server/overview/due'
import { facilityFile } from '../../server/overview/facility'
import { reportingOverTime } from '../../server/overview/over-time'
import { today } from '../../server/overview/today'
import { readFeed } from '../../server/machines/feed'
import { caseRecords, reportRecords } from '../../server/machines/records'
import { listPeople, makePerson } from '../../server/people/manage'
import { metrics } from '../../server/health/metrics'
import { listTokens } from '../../server/people/tokens'
import { listCodes, useOwnCodes } from '../../server/recipients/codes'
import { addRecipient, listRecipients } from '../../server/recipients/recipients'
import { sendingsOfReport } from '../../server/sending/list'
import { listDatasets } from '../../server/publishing/dataset-list'
import { draftFile, listDrafts, publishDraft, saveDraft } from '../../server/publishing/dataset-drafts'
import { choiceLists, saveChoiceList } from '../../server/registers/choice-lists'
import {
  listRegisters,
  publishRegister,
  registerEditions,
  registerFile,
  saveRegister,
} from '../../server/registers/drafts'
import { conflictSides } from '../../server/reports/conflicts'
import { cellStory } from '../../server/reports/cell-story'
import { reportFile } from '../../server/reports/file'
import { reportStory } from '../../server/reports/report-story'
import { servicesOf } from '../../server/reports/services'
import { listRounds } from '../../server/rounds/list'
import { openRoundsAt } from '../../server/rounds/open-rounds'
import { search } from '../../server/search/search'
import { listUnitChanges } from '../../server/units/change'
import { listGroups, saveGroup } from '../../server/units/groups'
import { writeLatest } from '../../server/units/latest'
import { branchMap } from '../../server/units/outlines'
import { exportUnits, listPlaces, listUnits, unitFile } from '../../server/units/read'
import { visitProposals } from '../../server/visits/proposals'
import { recountChoices, recountSheet, saveRecount } from '../../server/visits/recount'
import { verification } from '../../server/visits/verification'
import { listVisits, planVisit } from '../../server/visits/visits'
import { fillReport, sendChanges, sendReport } from '../support/facility'
import { addRegister, entryMade } from '../support/cases'
import { makeInstallation, NOW, OCTOBER, personOf, SMALL } from '../support/installation'
import { EXTRACT, PNG } from '../support/samples'

/** How many statements the database was asked since the count was last set to 0. */
let statements = 0
vi.mock('../../server/database/engine-client', async original => {
  const real = await original<{ openEngine: typeof openEngine }>()
  return {
    openEngine: async (data: string) => {
      const engine = await real.openEngine(data)
      const query: typeof engine.query = (text, params) => {
        statements++
        return engine.query(text, params)
      }
      return { ...engine, query }
    },
  }
})

const admin = personOf('administrator', null)
const officer = personOf('officer', 'north')
const clerk = personOf('clerk', 'elm')
let sql: Database
let grown = 0
let discrepancy = ''
let recipient = ''
let ofCase = ''
let ofPair = ''
let ofDoubt = ''
let ofFile = ''

/** A file of reports of every facility that there is. */
async function aFile(): Promise<string> {
  const codes = Array.from({ length: grown }, (_, at) => `more_${at + 1}`)
  const text = ['unit,period,tested', ...codes.map(code => `${code},2026-10,${grown + 20}`)].join('\n')
  const base64 = Buffer.from(text).toString('base64')
  return (await previewReportFile(officer, { dataset: 'small', name: 'a.csv', base64, language: 'en' })).line
    .id
}

/** A facility more, with everything that a list could hold of it. */
async function grow(): Promise<void> {
  const code = `more_${++grown}`
  await sql.transaction(tx => askForJob(tx, JOB_KINDS[grown % JOB_KINDS.length]!))
  await sql.query('INSERT INTO unit (code) VALUES ($1)', [code])
  await sql.query(
    `INSERT INTO unit_span (unit, from_day, to_day, parent, name, level, kind, path) VALUES ($1, '2020-01-01', NULL, 'quay', $1, 4, 'place', $2)`,
    [code, ['coast', 'north', 'quay', code]],
  )
  await writeLatest(sql, [code])
  await everythingAt(code)
}

async function everythingAt(code: string): Promise<void> {
  const access = personOf('clerk', code)
  await fillReport(access, OCTOBER, code, { tested: 5, positive: 9, 'seen.f': 90, 'seen.m': 90 })
  await sendReport(access, OCTOBER, code, { 'rule:within': 'So it is.', 'rule:many': 'A fair.' })
  for (const { id, unit } of (await listDiscrepancies(officer, {})).lines)
    if (unit.code === code) {
      discrepancy = id
      await ask(officer, id, 'Is it so?')
    }
  await planVisit(officer, { id: uuid(), unit: code, plannedFor: '2026-11-20' })
  await saveRecount(officer, OCTOBER, code, {
    ...{ id: uuid(), countedOn: '2026-11-04', countedBy: 'Ines Marlow', onPaper: false },
    cells: [{ cell: 'tested', value: 9 }],
  })
  ofCase = uuid()
  // The same person at each facility, whose specimen was taken before the rash: pairs and doubts grow with them.
  const who = { full_name: 'Ila Marsh', sex: 'f', born_on: '2021-05-03', rash_on: '2026-10-20' }
  await sendChanges(access, [
    entryMade(ofCase, who, { unit: code }),
    entryMade(ofCase, { specimen_number: 'S-1', taken_on: '2026-10-02' }, { unit: code, form: 'specimen' }),
  ])
  for (const { id } of (await listCaseDoubts(officer, { case: ofCase })).lines) {
    ofDoubt = id
    await ask(officer, id, 'Is it so?')
  }
  await makePerson(admin, {
    userName: `clerk.${code}`,
    displayName: code,
    role: 'clerk',
    branch: code,
    ownOnly: false,
  })
  await saveGroup(admin, `of_${code}`, {
    name: { en: code, fr: code },
    members: [{ unit: code, from: '2026-01-01', to: null }],
  })
  const definition = { ...EXTRACT, of: 'small', columns: [{ key: '@unit' }] }
  await saveExtract(officer, { name: code, definition, shared: false, repeats: null, onlyNew: false })
  await askForFile(officer, { extracts: [{ name: code, definition }] })
  await savePaper(admin, { kind: 'dataset', code: 'small' }, PNG.toString('base64'))
  const name = { en: code, fr: code }
  await saveChoiceList(admin, `of_${code}`, { version: 0, list: { code: `of_${code}`, name, choices: [] } })
  await anotherDataset(`of_${code}`)
  await publishAgain()
}

/** A dataset of its own, with a round that is open. */
async function anotherDataset(code: string): Promise<void> {
  const reports = [{ by: 'level' as const, level: 4, branch: 'coast', from: '2026-10-01', to: null }]
  const draft = { ...SMALL, dataset: code, number: 1 }
  const { version } = await saveDraft(admin, code, { version: 0, draft, reports })
  await publishDraft(admin, code, version)
}

/** Publishes the next edition of the dataset and of the register. */
async function publishAgain(): Promise<void> {
  const dataset = await draftFile(admin, 'small')
  const saved = await saveDraft(admin, 'small', { ...dataset, reports: dataset.reports })
  await publishDraft(admin, 'small', saved.version, null)
  const register = await registerFile(admin, MEASLES_CASES.code)
  const { version } = await saveRegister(admin, MEASLES_CASES.code, {
    version: register.version,
    draft: register.draft,
  })
  await publishRegister(admin, MEASLES_CASES.code, version)
}

/** Twelve rounds more. */
async function moreRounds(): Promise<void> {
  await sql.query(`UPDATE assignment SET from_day = from_day - interval '1 year'`)
  await sql.transaction(tx => openRoundsAt(tx, Date.parse(NOW), { ...USUAL_CALENDAR, timeZone: 'UTC' }))
}

/** What each route that reads does, as an office and as a device. */
const READS: Partial<Record<RouteName, () => Promise<unknown>>> = {
  'GET /api/search': () => search(officer, 'more'),
  'GET /api/today': () => today(officer),
  'GET /api/due': () => dueList(clerk),
  'GET /api/datasets': () => listDatasets(officer),
  'GET /api/rounds': () => listRounds(officer),
  'GET /api/rounds/:round/over-time': () => reportingOverTime(officer, OCTOBER, {}),
  'GET /api/rounds/:round/board': () => board(officer, OCTOBER),
  'GET /api/reports/:round/:unit': () => reportFile(officer, OCTOBER, 'elm'),
  'GET /api/reports/:round/:unit/story': () => reportStory(officer, OCTOBER, 'elm'),
  'GET /api/reports/:round/:unit/conflicts': () => conflictSides(officer, OCTOBER, 'elm'),
  'GET /api/reports/:round/:unit/cells/:cell': () => cellStory(officer, OCTOBER, 'elm', 'tested'),
  'GET /api/drafts': () => listDrafts(),
  'GET /api/drafts/:dataset': () => draftFile(officer, 'small'),
  'GET /api/drafts/:dataset/editions': () => listEditions('small'),
  'GET /api/services/:dataset/:unit': () => servicesOf(officer, 'small', 'elm'),
  'GET /api/registers': () => listRegisters(),
  'GET /api/registers/:register': () => registerFile(officer, MEASLES_CASES.code),
  'GET /api/registers/:register/editions': () => registerEditions(MEASLES_CASES.code),
  'GET /api/choice-lists': () => choiceLists(),
  'GET /api/papers/:kind/:code': () => listPapers({ kind: 'dataset', code: 'small' }),
  'GET /api/definitions': () => exportBundle(officer),
  'GET /api/pairing-cards': () => listCards(officer),
  'GET /api/devices': () => listDevices(officer, { find: 'elm' }, null),
  'GET /api/devices/:id/contacts': async () => {
    const [device] = await sql.query<{ id: string }>('SELECT id FROM device ORDER BY paired_at LIMIT 1')
    return contactsOf(officer, device!.id, {})
  },
  'GET /api/desk/receive': () => receiveSince(clerk, {}),
  'GET /api/desk/work': () => deskWork(personOf('clerk', 'quay')),
  'GET /api/desk/definitions': () => deskDefinitions(clerk),
  'GET /api/desk/registers': () => deskRegisters(),
  'GET /api/cases': () => listCases(officer, {}),
  'GET /api/cases/:case': () => caseFile(officer, ofCase),
  'GET /api/cases/:case/openings': () => caseOpenings(officer, ofCase, {}),
  'GET /api/rounds/:round/case-counts': () => caseCounts(officer, OCTOBER, {}),
  'GET /api/rounds/:round/case-counts/:count/:unit': () => caseCountFile(officer, OCTOBER, 'seen', 'more_1'),
  'GET /api/case-doubts': () => listCaseDoubts(officer, {}),
  'GET /api/case-doubts/:id': () => caseDoubtFile(officer, ofDoubt),
  'GET /api/case-pairs': () => listPairs(officer, {}),
  'GET /api/case-pairs/:id': () => pairFile(officer, ofPair),
  'GET /api/people': () => listPeople(admin, { find: 'a' }),
  'GET /api/tokens': () => listTokens(admin),
  'GET /api/records/reports': () => reportRecords(officer, { dataset: 'small' }),
  'GET /api/records/cases': () => caseRecords(officer, { register: MEASLES_CASES.code }),
  'GET /api/changes': () => readFeed(officer, '0'),
  'GET /api/unit-groups': () => listGroups(officer),
  'GET /api/places': () => listPlaces(),
  'GET /api/units': () => listUnits(officer, {}),
  'GET /api/units/export': () => exportUnits(officer, 'csv', undefined),
  'GET /api/report-files': () => listReportFiles(officer, {}),
  'GET /api/extract-sources': () => listSources(officer),
  'GET /api/extract-makers': () => listMakers(officer, { find: 'a' }),
  'GET /api/extract-fields': () => fieldList(officer, { of: MEASLES_CASES.code, rows: 'case' }),
  'GET /api/dictionary': () => dataDictionary(officer, { of: 'small', language: 'en' }),
  'GET /api/extracts': () => listExtracts(officer, {}),
  'GET /api/extract-files': () => listExtractFiles(officer, {}),
  'GET /api/report-files/:id': () => reportFileView(officer, ofFile),
  'GET /api/rounds/:round/template': () =>
    reportTemplate(officer, OCTOBER, { format: 'csv', language: 'en' }),
  'GET /api/map': () => branchMap(officer),
  'GET /api/facilities/:unit': () => facilityFile(officer, 'elm'),
  'GET /api/visit-proposals': () => visitProposals(officer, {}),
  'GET /api/visits': () => listVisits(officer, {}),
  'GET /api/facilities/:unit/recounts': () => recountChoices(officer, 'more_1'),
  'GET /api/reports/:round/:unit/recount': () => recountSheet(officer, OCTOBER, 'more_1'),
  'GET /api/verification': () => verification(officer, { quarter: '2026-Q4' }),
  'GET /api/nudges': () => listNudges(officer, {}),
  'GET /api/nudges/rules': () => nudgeRules(officer),
  'GET /api/units/:unit': () => unitFile(officer, 'elm'),
  'GET /api/units/changes': () => listUnitChanges(),
  'GET /api/discrepancies': () => listDiscrepancies(officer, {}),
  'GET /api/discrepancies/:id': () => discrepancyFile(officer, discrepancy),
  'GET /api/discrepancies/:id/cases': () => countedCases(officer, discrepancy),
  'GET /api/metrics': () => metrics(admin),
  'GET /api/jobs': () => listJobs(admin, {}),
  'GET /api/jobs/plan': () => jobPlan(admin),
  'GET /api/district-reports/:round': () => districtReport(officer, OCTOBER),
  'GET /api/district-reports/:round/longer': () => longerReport(officer, OCTOBER),
  'GET /api/district-reports/:round/sendings': () => sendingsOfReport(officer, OCTOBER, undefined),
  'GET /api/recipients': () => listRecipients(admin),
  'GET /api/recipients/:id/codes': () => listCodes(admin, recipient, { dataset: 'small' }),
}

/** Routes that read one thing which holds no list. */
const NO_LIST: readonly RouteName[] = [
  'GET /api/health',
  'GET /api/openapi.json',
  'GET /api/setup',
  'GET /api/settings',
  'GET /api/session',
  'GET /api/drafts/:dataset/editions/:number',
  'GET /api/registers/:register/editions/:number',
  'GET /api/papers/:kind/:code/:id',
  'GET /api/extracts/:id',
  'GET /api/extract-files/:id',
  'GET /api/extract-files/:id/content',
  'GET /api/devices/:id/carry',
  'GET /api/desk/standing',
  'GET /api/files/:hash',
  'GET /api/district-reports/:round/csv',
  'GET /api/sendings/:id/document',
]

async function count(): Promise<Record<string, number>> {
  const counts: Record<string, number> = {}
  for (const [name, read] of Object.entries(READS)) {
    // Once for what is read once and cached: definitions never change.
    await read()
    statements = 0
    await read()
    counts[name] = statements
  }
  return counts
}

describe('the statements of a route that reads', () => {
  let few: Record<string, number>
  let many: Record<string, number>
  beforeAll(async () => {
    vi.stubGlobal('hashPassword', (password: string) => Promise.resolve(password))
    sql = await makeInstallation()
    const held = {
      code: 'seen',
      name: { en: 'Seen' },
      register: MEASLES_CASES.code,
      cells: ['tested'],
      place: 'care',
      date: 'rash_on',
    }
    await sql.query('UPDATE edition SET definition = definition || $1::jsonb', [{ caseCounts: [held] }])
    await addRegister(sql, MEASLES_CASES)
    recipient = (
      await addRecipient(admin, { name: 'One', format: 'adx', extracts: 'none', address: 'stand-in' })
    ).id
    await useOwnCodes(admin, recipient, 'small')
    for (let more = 0; more < 2; more++) await grow()
    ofPair = (await listPairs(officer, {})).lines[0]!.id
    ofFile = await aFile()
    few = await count()
    for (let more = 0; more < 6; more++) await grow()
    await moreRounds()
    ofFile = await aFile()
    many = await count()
  }, 180_000)
  afterAll(async () => {
    vi.unstubAllGlobals()
    await closeDatabase()
  })

  it('are counted for every such route', () => {
    const reads = (Object.keys(ROUTES) as RouteName[]).filter(name => name.startsWith('GET '))
    expect(Object.keys(few).concat(NO_LIST).sort()).toEqual(reads.sort())
    expect(few['GET /api/rounds']).toBeGreaterThan(0)
  })

  it.each(Object.keys(READS))('%s does not grow with what there is', name => {
    expect(many[name]).toBe(few[name])
  })
})
