import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync, truncateSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, describe, expect, it } from 'vitest'
import type { ReportFile } from '#core/contract/reports'
import { Client, OCTOBER } from '../support/client'
import { DEMO, demoFolder, startServer } from '../support/server'

const data = demoFolder()
const place = mkdtempSync(join(tmpdir(), 'lantern-export-'))
const [folder, fresh, cut] = ['export', 'fresh', 'cut'].map(name => join(place, name)) as [
  string,
  string,
  string,
]
afterAll(() => {
  for (const one of [data, place]) rmSync(one, { recursive: true, force: true })
})

const run = (...args: string[]) =>
  execFileSync(process.execPath, ['scripts/move.mjs', ...args], { encoding: 'utf8', stdio: 'pipe' })

/** The report of a facility as a server on this folder shows it. */
async function reportIn(place: string): Promise<ReportFile> {
  const server = await startServer(place, DEMO)
  try {
    const officer = await Client.signedIn(server.address, 'officer.ashmere')
    return (await officer.get<ReportFile>(`/api/reports/${OCTOBER}/pell_harbour`)).body
  } finally {
    await server.stop()
  }
}

describe('the commands export and import', () => {
  it('fill a fresh installation with everything of another one, which then says the same', async () => {
    expect(run('export', data, folder)).toMatch(/Everything is in .*: keep it where nobody else reads it/)
    expect(run('import', folder, fresh)).toContain('Everything is there, and the same.')
    const [before, after] = [await reportIn(data), await reportIn(fresh)]
    expect(after).toEqual(before)
    expect(after.cells.length).toBeGreaterThan(50)
  })

  it('say in a sentence what is wrong with an export, and end with 1', () => {
    truncateSync(join(folder, 'person.jsonl'), 100)
    expect(() => run('import', folder, cut)).toThrow(
      /person\.jsonl was cut or changed\. Nothing was taken in/,
    )
    expect(() => run('export', data, folder)).toThrow(/is there already/)
    expect(() => run('export', data)).toThrow(/Say from where and where to/)
  })
})
