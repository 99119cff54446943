import { v7 as uuid } from 'uuid'
import { database } from '../database'
import { Refusal } from '../refusal'
import { log } from '../log'
import { secretOf } from '../secrets'
import { inTurn, limitTries } from '../access/tries'
import { mustBeTimeZone, saveSettings } from '../settings'
import { personSearchText } from './search-text'
import { hashCode, newCode, sameCode } from './one-time-code'
import { userKey } from './sign-in'

const SECRET = 'firstAdministrator'

/** The one-time code of a new installation: one for all its processes, gone when it was used. */
const setupCode = async (): Promise<string> => secretOf(await database(), SECRET, newCode)

export async function needsFirstAdministrator(): Promise<boolean> {
  const sql = await database()
  return (await sql.query('SELECT 1 FROM person LIMIT 1')).length === 0
}

/**
 * At the first start of an installation prints a one-time code: who can read the server's log may make the
 * administrator.
 */
export async function announceFirstAdministrator(): Promise<void> {
  if (!(await needsFirstAdministrator())) return
  log(
    `This installation has no administrator yet. Open /setup and enter the one-time code ${await setupCode()}`,
  )
}

export interface FirstAdministrator {
  code: string
  installation: string
  timeZone: string
  userName: string
  displayName: string
  password: string
}

/**
 * Makes the first administrator and names the installation.
 * @throws Refusal 409 `setup-done`, 403 `wrong-code`, 429 `too-many-tries`, 422 `time-zone`.
 */
export async function makeFirstAdministrator(asked: FirstAdministrator, address: string): Promise<void> {
  if (!(await needsFirstAdministrator())) throw setupDone()
  await limitTries({ what: 'setup', address, known: true }, () => makeByCode(asked))
}

const setupDone = () => new Refusal(409, 'setup-done', 'This installation has its administrator already.')

async function makeByCode(asked: FirstAdministrator): Promise<void> {
  if (!sameCode(asked.code, hashCode(await setupCode()))) {
    throw new Refusal(403, 'wrong-code', 'That is not the code that the server printed when it started.', [
      { code: 'wrong-code', message: '', at: 'body/code' },
    ])
  }
  mustBeTimeZone(asked.timeZone, 'body/timeZone')
  const hash = await inTurn(() => hashPassword(asked.password))
  const sql = await database()
  await sql.transaction(async tx => {
    // Two that come at once with the right code: the second waits here, and finds a person.
    await tx.query('LOCK TABLE person IN SHARE ROW EXCLUSIVE MODE')
    if ((await tx.query('SELECT 1 FROM person LIMIT 1')).length) throw setupDone()
    await tx.query(
      `INSERT INTO person (id, user_name, user_key, display_name, role, branch, password_hash, search_text) VALUES ($1, $2, $3, $4, 'administrator', NULL, $5, $6)`,
      [
        uuid(),
        asked.userName.trim(),
        userKey(asked.userName),
        asked.displayName.trim(),
        hash,
        personSearchText(asked),
      ],
    )
    await saveSettings(tx, { installation: asked.installation.trim(), timeZone: asked.timeZone })
    await tx.query('DELETE FROM secret WHERE key = $1', [SECRET])
  })
}
