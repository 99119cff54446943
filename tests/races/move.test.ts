import { spawnSync } from 'node:child_process'
import { rmSync } from 'node:fs'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { openAt } from '../../server/database'
import { exportTo, importFrom } from '../../server/moving/export'
import { move } from '../../server/moving/move'
import { CannotMove } from '../../server/moving/tables'
import { cardFor, Client, OCTOBER } from '../support/client'
import { DEMO, demoFolder, demoPlace, startServer, type Place } from '../support/server'
import { TestDevice } from '../support/test-device'

let folder: string
let server: Place
let back: string
beforeAll(async () => {
  folder = demoFolder()
  server = await demoPlace('template0')
  back = `${folder}-back`
})
afterAll(async () => {
  for (const one of [folder, back]) rmSync(one, { recursive: true, force: true })
  await server?.remove()
})

async function moveFrom(from: string, to: string): Promise<number> {
  const [source, target] = [await openAt(from), await openAt(to)]
  let rows = 0
  try {
    await move(source, target, (_table, count) => {
      rows += count
    })
  } finally {
    await source.close()
    await target.close()
  }
  return rows
}

describe('an installation', () => {
  it('is moved from the embedded engine to a PostgreSQL server, and its devices go on', async () => {
    const before = await startServer(folder, DEMO)
    const device = await TestDevice.pair(
      before.address,
      'clerk.tern_row',
      await cardFor(before.address, 'tern_row'),
    )
    device.write(OCTOBER, 'tern_row', 'days_open', 24)
    await device.sendAll()
    const heard = (await device.receiveAll()).length
    await before.stop()
    expect(await moveFrom(folder, server.data)).toBeGreaterThan(100_000)
    const after = await startServer(server.data, DEMO)
    try {
      await device.comeBack(after.address, 'clerk.tern_row')
      device.write(OCTOBER, 'tern_row', 'days_open', 25, 1)
      await device.sendAll()
      expect([...device.outcomes.values()].map(({ outcome }) => outcome)).toEqual(['received', 'received'])
      expect((await device.receiveAll()).length).toBe(heard + 1)
    } finally {
      await after.stop()
    }
  })

  it('is moved back, and nothing is moved onto what is there', async () => {
    expect(await moveFrom(server.data, back)).toBeGreaterThan(100_000)
    await expect(moveFrom(folder, server.data)).rejects.toThrow(CannotMove)
  })

  it('is backed up by command while its server goes on, proved elsewhere, and put into a fresh database', async () => {
    const running = await startServer(server.data, DEMO)
    const fresh = await demoPlace('template0')
    const backups = `${back}-backups`
    const run = (script: string, args: readonly string[], env: Record<string, string>) =>
      spawnSync(process.execPath, [`scripts/${script}.mjs`, ...args], {
        env: { ...process.env, ...env },
        encoding: 'utf8',
      })
    try {
      const made = run('backup', ['backup'], { DATABASE_URL: server.data, LANTERN_BACKUPS: backups })
      const file = /The backup is (\S+)/.exec(made.stdout)?.[1] ?? made.stderr
      const proved = run('verify', [file], {})
      expect([proved.status, proved.stderr]).toEqual([0, ''])
      const restored = run('backup', ['restore', file], { DATABASE_URL: fresh.data })
      expect([restored.status, restored.stderr]).toEqual([0, ''])
      // Not onto what is there.
      expect(run('backup', ['restore', file], { DATABASE_URL: fresh.data })).toMatchObject({
        status: 1,
        stderr: expect.stringContaining('not empty') as string,
      })
      const again = await startServer(fresh.data, DEMO)
      const officer = await Client.signedIn(again.address, 'officer.ashmere')
      expect((await officer.get('/api/today')).status).toBe(200)
      await again.stop()
    } finally {
      await running.stop()
      await fresh.remove()
      rmSync(backups, { recursive: true, force: true })
    }
    // Four commands and two starts: on a machine that others share it took over two minutes.
  }, 300_000)

  it('is exported while its server goes on, and fills a fresh one', async () => {
    const running = await startServer(server.data, DEMO)
    const fresh = await demoPlace('template0')
    const folder = `${back}-export`
    try {
      const source = await openAt(server.data)
      const { tables } = await exportTo(source, folder)
      await source.close()
      expect(tables.reduce((sum, { rows }) => sum + rows, 0)).toBeGreaterThan(100_000)
      const target = await openAt(fresh.data)
      // Each table is compared before anything is kept.
      await importFrom(folder, target)
      await target.close()
      const restored = await startServer(fresh.data, DEMO)
      const officer = await Client.signedIn(restored.address, 'officer.ashmere')
      expect((await officer.get('/api/today')).status).toBe(200)
      await restored.stop()
    } finally {
      await running.stop()
      await fresh.remove()
      rmSync(folder, { recursive: true, force: true })
    }
  })
})
