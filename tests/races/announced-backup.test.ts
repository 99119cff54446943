import { spawnSync } from 'node:child_process'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { announceBackup } from '../../server/backups/announce'
import { openEmbedded } from '../../server/database/embedded'
import { MIGRATIONS } from '../../server/database/migrations'
import { openOwnDatabase, type OwnDatabase } from '../support/own-database'

let own: OwnDatabase
beforeAll(async () => {
  own = await openOwnDatabase(MIGRATIONS)
})
afterAll(() => own?.stop())

/** By the command, as the person at the console. */
function announce(began: string) {
  const { status, stdout, stderr } = spawnSync(
    process.execPath,
    ['scripts/backup.mjs', 'backup', '--began', began],
    { env: { ...process.env, DATABASE_URL: own.url }, encoding: 'utf8' },
  )
  return { status, said: `${stdout}${stderr}`.trim() }
}
const noted = async () =>
  (await own.database.query<{ at: string }>('SELECT at FROM backup')).map(({ at }) => at)

it('a backup by the tools of the server is noted with the moment at which it began', async () => {
  expect(announce('2025-11-08T23:30:00-02:00')).toEqual({
    status: 0,
    said: 'Noted: devices give up what was confirmed to them before 2025-11-09T01:30:00.000Z.',
  })
  expect(await noted()).toEqual(['2025-11-09T01:30:00.000Z'])
})

it('what is no moment, has not come yet, or is of a folder is refused, and nothing is noted', async () => {
  const noMoment = 'Say when the backup began, with its time zone, as 2026-11-09T22:00:00Z.'
  expect(announce('yesterday')).toEqual({ status: 1, said: noMoment })
  for (const began of ['', '2025-11-08', '2025-11-08T22:00', '2025-13-08T22:00Z'])
    await expect(announceBackup(own.database, began)).rejects.toThrow(noMoment)
  await expect(announceBackup(own.database, '2198-11-10T22:00:00Z')).rejects.toThrow('has not come yet')
  const folder = await openEmbedded('memory:', MIGRATIONS.slice(0, 1))
  await expect(announceBackup(folder, '2025-11-08T22:00:00Z')).rejects.toThrow(
    'Only the backups of a PostgreSQL server',
  )
  await folder.close()
  expect(await noted()).toHaveLength(1)
})
