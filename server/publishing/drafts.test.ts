import '../../tests/support/use-memory'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { DraftReports } from '#core/contract/drafts'
import { DraftEdition } from '#core/contract/drafts'
import type { Edition } from '#core/report/edition'
import { MONTHLY_SUMMARY } from '../../demo/monthly/edition'
import { makeInstallation, personOf, SMALL } from '../../tests/support/installation'
import { closeDatabase, type Database } from '../database'
import { validate } from '../http/validate'
import { expectedUnits } from '../units/expected-units'
import { openedRounds, roundById } from '../rounds/round'
import { draftFile, listDrafts, publishDraft, saveDraft } from '../publishing/dataset-drafts'

const officer = personOf('officer', null)
const ofNorth = personOf('officer', 'north')
const admin = personOf('administrator', null)
const reportsIn = (branch: string): DraftReports => [
  { by: 'level', level: 4, branch, from: '2026-10-01', to: null },
]
const reports = reportsIn('north')
const item = (code: string) => ({
  ...SMALL.sections[0]!.items[0]!,
  code,
  name: { en: code, fr: code },
  definition: { en: 'what', fr: 'quoi' },
})
const weekly = (...codes: string[]): Edition => ({
  ...SMALL,
  dataset: 'weekly',
  frequency: 'week',
  timing: { opensAhead: 1, dueDays: 1, closeDays: 7 },
  axes: [],
  rules: [],
  sections: codes.length ? [{ code: 'all', name: { en: 'All', fr: 'Tout' }, items: codes.map(item) }] : [],
})
let sql: Database
beforeAll(async () => {
  sql = await makeInstallation()
})
afterAll(closeDatabase)

describe('a draft', () => {
  it('is kept only on the version that it was made on, and says who was quicker', async () => {
    const first = await saveDraft(ofNorth, 'weekly', { version: 0, draft: weekly(), reports })
    expect(first).toMatchObject({
      version: 1,
      reporting: { all: { count: 2 }, joins: { count: 2 }, leaves: { count: 0 } },
      published: null,
      saved: { by: 'The officer' },
    })
    expect(first.lacks.map(({ code }) => code)).toEqual(['no-items'])
    await saveDraft(ofNorth, 'weekly', { version: 1, draft: weekly('bites'), reports })
    await expect(
      saveDraft(admin, 'weekly', { version: 1, draft: weekly('fevers'), reports }),
    ).rejects.toMatchObject({
      status: 409,
      code: 'draft-changed',
      problems: [{ values: { by: 'The officer' } }],
    })
    expect((await draftFile(ofNorth, 'weekly')).draft.sections[0]!.items.map(({ code }) => code)).toEqual([
      'bites',
    ])
    expect(await listDrafts()).toMatchObject([{ dataset: 'weekly', edition: null }])
  })

  it('is not published while it lacks something that it must have', async () => {
    const { version } = await saveDraft(ofNorth, 'weekly', {
      version: 2,
      draft: { ...weekly('bites'), rules: [{ ...SMALL.rules[0]!, expression: 'bites <= gone' }] },
      reports,
    })
    await expect(publishDraft(ofNorth, 'weekly', version)).rejects.toMatchObject({ code: 'draft-not-ready' })
    await expect(publishDraft(ofNorth, 'weekly', 1)).rejects.toMatchObject({ code: 'draft-changed' })
    await expect(publishDraft(ofNorth, 'nothing', 1)).rejects.toMatchObject({ status: 404 })
  })

  it('becomes edition 1, with its rounds and the units that report it', async () => {
    const { version } = await saveDraft(ofNorth, 'weekly', {
      version: 3,
      draft: weekly('bites', 'fevers'),
      reports,
    })
    expect(await publishDraft(ofNorth, 'weekly', version)).toBe(1)
    const rounds = (await openedRounds(sql))
      .filter(({ dataset }) => dataset === 'weekly')
      .map(({ period }) => period)
    expect(rounds).toContain('2026-W45')
    expect(
      (await expectedUnits(sql, await roundById(sql, 'weekly~2026-W45'), null)).map(({ code }) => code),
    ).toEqual(['elm', 'oak'])
    expect(await listDrafts()).toEqual([])
  })

  it('of what is published begins from it, keeps its frequency, and tells what differs', async () => {
    const file = await draftFile(ofNorth, 'weekly')
    expect(file).toMatchObject({ version: 0, draft: { number: 2 }, differences: [], reports })
    const changed = await saveDraft(ofNorth, 'weekly', {
      version: 0,
      draft: { ...weekly('fevers'), frequency: 'day' },
      reports,
    })
    expect(changed.draft).toMatchObject({ number: 2, frequency: 'week' })
    expect(changed.differences).toMatchObject([{ what: 'item', change: 'removed', code: 'bites' }])
    expect(await publishDraft(ofNorth, 'weekly', 1, null)).toBe(2)
    // Where the officer says so, rounds that are open keep the edition that they opened with.
    expect((await roundById(sql, 'weekly~2026-W45')).edition).toBe(1)
  })

  it('stays in the branch of the person', async () => {
    await expect(
      saveDraft(ofNorth, 'other', {
        version: 0,
        draft: { ...weekly('bites'), dataset: 'other' },
        reports: reportsIn('south'),
      }),
    ).rejects.toMatchObject({ code: 'outside-branch' })
    await expect(saveDraft(ofNorth, 'small', { version: 0, draft: SMALL, reports })).rejects.toMatchObject({
      code: 'not-owner',
    })
    await expect(
      saveDraft(officer, 'other', { version: 0, draft: weekly(), reports: reportsIn('nowhere') }),
    ).rejects.toMatchObject({ code: 'no-unit' })
    await expect(draftFile(officer, 'nothing')).rejects.toMatchObject({ status: 404 })
  })

  it('has a shape: the demo’s dataset fits it, and what has another shape is refused at the door', () => {
    expect(validate(DraftEdition, JSON.parse(JSON.stringify(MONTHLY_SUMMARY)), 'body')).toBeTruthy()
    expect(() =>
      validate(
        DraftEdition,
        { ...SMALL, sections: [{ code: 'a', name: {}, items: [{ code: 'DROP TABLE', name: {} }] }] },
        'body',
      ),
    ).toThrow()
    expect(() => validate(DraftEdition, { ...SMALL, more: 1 }, 'body')).toThrow()
  })
})
