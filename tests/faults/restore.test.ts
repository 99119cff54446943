import { execFileSync } from 'node:child_process'
import { readdirSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { DeskChange } from '#core/contract/desk'
import type { ReportFile } from '#core/contract/reports'
import { Client, OCTOBER } from '../support/client'
import { DEMO, demoFolder, type RunningServer, startServer } from '../support/server'
import { TestDevice } from '../support/test-device'

const UNIT = 'tern_row'
let data: string
let server: RunningServer

beforeAll(() => {
  data = demoFolder()
})
afterAll(async () => {
  await server.stop()
  rmSync(data, { recursive: true, force: true })
})

const entry = (name: string): DeskChange => ({
  kind: 'entry',
  id: uuid(),
  madeAt: new Date().toISOString(),
  case: uuid(),
  register: 'measles_contacts',
  edition: 1,
  form: 'contact',
  unit: UNIT,
  answers: { contact_name: { kind: 'value', value: name } },
})

async function reportOf(): Promise<ReportFile> {
  const officer = await Client.signedIn(server.address, 'officer.ashmere')
  return (await officer.get<ReportFile>(`/api/reports/${OCTOBER}/${UNIT}`)).body
}

describe('nothing lost, 2b and 2c: yesterday’s backup put back under three devices', () => {
  it('brings back everything that came after it, each change once, without a conflict that was none', async () => {
    server = await startServer(data, DEMO)
    const devices = [1, 2, 3].map(() => TestDevice.at(server.address, UNIT))
    const [one, two, three] = (await Promise.all(devices)) as [TestDevice, TestDevice, TestDevice]
    const all = [one, two, three]

    const version = async (cell: string) =>
      (await reportOf()).cells.find(found => found.cell === cell)?.version ?? 0
    const known = (await reportOf()).edition.sections
      .flatMap(section => section.items)
      .filter(({ axes }) => !axes.length)
      .map(({ code: item }) => item)
    const [first, second] = known as [string, string]
    one.write(OCTOBER, UNIT, first, 11, await version(first))
    all.forEach((device, at) => device.add(entry(`Before ${at}`)))
    for (const device of all) await device.sendAll()
    await server.stop()

    // The backup of the night, made while the server runs.
    server = await startServer(data, { ...DEMO, LANTERN_BACKUP_HOURS: '0.001' })
    for (let wait = 0; !server.output().includes('A backup was made') && wait < 600; wait++)
      await new Promise(resolve => {
        setTimeout(resolve, 100)
      })
    await Promise.all(all.map(device => device.comeBack(server.address, 'clerk.tern_row')))

    // The day after: each builds on what another one wrote.
    two.write(OCTOBER, UNIT, first, 22, await version(first))
    await two.sendAll()
    three.write(OCTOBER, UNIT, first, 33, await version(first))
    three.write(OCTOBER, UNIT, second, 5, await version(second))
    await three.sendAll()
    all.forEach((device, at) => {
      for (let count = 0; count < 20; count++) device.add(entry(`After ${at} ${count}`))
    })
    for (const device of all) await device.sendAll()
    const before = await reportOf()
    await server.stop()

    const [backup] = readdirSync(join(data, 'backups'))
    execFileSync(process.execPath, ['scripts/backup.mjs', 'restore', join(data, 'backups', backup!)], {
      env: { ...process.env, LANTERN_DATA: data },
    })
    server = await startServer(data, DEMO)
    expect(server.output()).toContain('was put back from the backup')
    expect((await reportOf()).cells.find(({ cell }) => cell === first)!.content).toEqual({
      kind: 'value',
      value: 11,
    })

    // The one whose change came last meets the district first: it was made on what is still missing.
    await Promise.all(all.map(device => device.comeBack(server.address, 'clerk.tern_row')))
    for (const device of [three, two, one, three]) {
      await device.receiveAll()
      await device.sendAll(20)
    }
    const after = await reportOf()
    expect(all.map(({ left }) => left)).toEqual([0, 0, 0])
    expect(after.cells.sort((a, b) => a.cell.localeCompare(b.cell))).toEqual(
      before.cells.sort((a, b) => a.cell.localeCompare(b.cell)),
    )
    expect(after.conflicts).toEqual([])
    const events = await one.receiveAll()
    const there = events.map(({ last, id }) => last ?? id)
    for (const device of all)
      for (const { id } of device.made)
        expect(
          there.filter(found => found === id),
          id,
        ).toHaveLength(1)
  })
})
