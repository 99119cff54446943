import '../../tests/support/use-memory'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { CaseRegister } from '#core/cases/register'
import { MEASLES_CASES } from '../../demo/registers/measles'
import { makeInstallation, personOf, SMALL } from '../../tests/support/installation'
import { closeDatabase } from '../database'
import { draftFile, publishDraft, saveDraft } from '../publishing/dataset-drafts'
import { saveChoiceList } from '../registers/choice-lists'
import { publishRegister, registerFile, saveRegister } from '../registers/drafts'
import { exportBundle, takeBundle } from '../bundles/bundle'
import { savePaper, removePaper } from './papers'

const north = personOf('officer', 'north')
const south = personOf('officer', 'south')
const adminOfNorth = personOf('administrator', 'north')
const everywhere = personOf('administrator', null)
const notOwner = { status: 403, code: 'not-owner' }
const PNG = 'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg=='
const plain = JSON.parse(JSON.stringify({ ...MEASLES_CASES, rules: [] })) as CaseRegister
const reports = (branch: string) => [{ by: 'level' as const, level: 4, branch, from: '2026-06-01', to: null }]

beforeAll(async () => {
  await makeInstallation()
})
afterAll(closeDatabase)

describe('nothing lost, 14: a definition has an owner', () => {
  it('so that another district does not overwrite an unpublished draft, nor publish it', async () => {
    const draft = { ...SMALL, dataset: 'boats', rules: [] }
    await saveDraft(north, 'boats', { version: 0, draft, reports: reports('north') })
    await expect(
      saveDraft(south, 'boats', { version: 1, draft, reports: reports('south') }),
    ).rejects.toMatchObject(notOwner)
    await expect(publishDraft(south, 'boats', 1)).rejects.toMatchObject(notOwner)
    expect([
      (await draftFile(south, 'boats')).mine,
      (await draftFile(north, 'boats')).mine,
      (await draftFile(everywhere, 'boats')).mine,
    ]).toEqual([false, true, true])
    expect(await publishDraft(north, 'boats', 1)).toBe(1)
  })

  it('so that nobody but its owner publishes an edition of a register', async () => {
    await saveRegister(everywhere, 'measles', { version: 0, draft: { ...plain, code: 'measles' } })
    await expect(publishRegister(north, 'measles', 1)).rejects.toMatchObject(notOwner)
    expect(await publishRegister(everywhere, 'measles', 1)).toBe(1)
    await expect(saveRegister(north, 'measles', { version: 0, draft: plain })).rejects.toMatchObject(notOwner)
    expect((await registerFile(north, 'measles')).mine).toBe(false)
    // What one begins oneself is one's own.
    await saveRegister(north, 'wells', { version: 0, draft: { ...plain, code: 'wells' } })
    await expect(saveRegister(south, 'wells', { version: 1, draft: plain })).rejects.toMatchObject(notOwner)
  })

  it('and so have its lists and its scanned paper', async () => {
    const list = { code: 'towns', name: { en: 'Towns' }, choices: [] }
    await saveChoiceList(north, 'towns', { version: 0, list })
    await expect(saveChoiceList(south, 'towns', { version: 1, list })).rejects.toMatchObject(notOwner)
    const id = await savePaper(everywhere, { kind: 'register', code: 'measles' }, PNG)
    await expect(removePaper(adminOfNorth, { kind: 'register', code: 'measles', id })).rejects.toMatchObject(
      notOwner,
    )
    await expect(savePaper(adminOfNorth, { kind: 'register', code: 'measles' }, PNG)).rejects.toMatchObject(
      notOwner,
    )
    await removePaper(everywhere, { kind: 'register', code: 'measles', id })
  })

  it('also when it comes in a bundle', async () => {
    const text = (await exportBundle(everywhere)).replaceAll('"boats"', '"boats_of_all"')
    const bundle = JSON.parse(text) as { registers: CaseRegister[] }
    bundle.registers[0]!.name = { en: 'Measles, but another' }
    const [line] = await takeBundle(
      south,
      JSON.stringify(bundle),
      [{ what: 'register', code: 'measles' }],
      false,
    ).then(lines => lines.filter(({ what, code }) => what === 'register' && code === 'measles'))
    expect(line).toMatchObject({ verdict: 'refused' })
  })
})
